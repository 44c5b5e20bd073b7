/** What a question about a plan says of its pack, so that a mark on the shelf counts whatever the copy says. */
export const byMark = (pack: { id: string } | null | undefined) => (pack ? { pack: pack.id } : {});
