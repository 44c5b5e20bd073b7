/** Hands the person a file. */
export function download(name: string, content: Blob) {
  const url = URL.createObjectURL(content);
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => {
    URL.revokeObjectURL(url);
  }, 10_000);
}

/** A name as a file system likes it. */
export function fileName(name: string | null | undefined, ending: string): string {
  const plain = (name ?? "")
    .toLowerCase()
    .normalize("NFKD")
    .replaceAll(/[^a-z0-9]+/g, "-")
    .replaceAll(/^-+|-+$/g, "");
  return `${plain || "charge-plan"}.${ending}`;
}
