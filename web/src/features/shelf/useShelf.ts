import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, api, type RecordDoc } from "../../api/client";
import { useSave } from "../../api/shelves";
import { useFeedback } from "../../ui/feedback";

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

/** Everything a pack's own page shows. */
export function usePackPage(id: string | undefined) {
  return useQuery({
    queryKey: ["shelf", "page", id],
    enabled: id !== undefined,
    queryFn: ({ signal }) => answered(api.GET("/api/packs/{id}/page", { params: { path: { id: id ?? "" } }, signal })),
  });
}

/** Keeps something known of a pack, now unless it says when. */
export function useRecord(pack: { id: string; version: number }) {
  const save = useSave("records");
  const feedback = useFeedback();
  const keep = async (record: Partial<RecordDoc> & Pick<RecordDoc, "kind">, said: string) => {
    try {
      await save.mutateAsync({
        document: { format: "rumek.record/1", at: new Date().toISOString(), ...record },
        links: { pack: { id: pack.id, version: pack.version } },
      });
      feedback.done(said);
      return true;
    } catch (error) {
      feedback.failed(error);
      return false;
    }
  };
  return { keep, saving: save.isPending };
}
