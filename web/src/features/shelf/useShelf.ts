import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, api } from "../../api/client";

export interface ShelfAsk {
  sort: "need" | "name" | "health" | "used";
  search: string;
  tag: string | undefined;
  limit: number;
}

/** The shelf, sorted and searched by the server; the answer before stays while the next one comes. */
export function useShelf(ask: ShelfAsk) {
  return useQuery({
    queryKey: ["shelf", "list", ask],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => {
      const { sort, search, tag, limit } = ask;
      return answered(api.GET("/api/shelf", { params: { query: { sort, limit, ...(search ? { search } : {}), ...(tag ? { tag } : {}) } }, signal }));
    },
  });
}
