import { useQuery } from "@tanstack/react-query";
import { answered, api } from "./client";

/** Everything a pack's own page shows. */
export function usePackPage(id: string | undefined) {
  return useQuery({
    queryKey: ["shelf", "page", id],
    enabled: id !== undefined,
    queryFn: ({ signal }) => answered(api.GET("/api/packs/{id}/page", { params: { path: { id: id ?? "" } }, signal })),
  });
}
