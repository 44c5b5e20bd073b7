import type { RecordDoc } from "../api/client";
import { useSave } from "../api/shelves";
import { useFeedback } from "./feedback";

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
