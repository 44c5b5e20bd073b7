import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { refetch } from "../../api/changes";
import { ProblemError, type Schemas } from "../../api/client";
import { newId } from "../../api/id";
import { type Stored, useRows, useSave } from "../../api/shelves";
import { StoppedError, upload } from "../../api/upload";
import { useFeedback } from "../../ui/feedback";
import type { LogFile } from "./logFile";

/** What is to be brought in, and as what. */
export interface Bringing {
  log: LogFile;
  looked: Schemas["LogLookedDoc"];
  /** Whether its reading was changed by hand. */
  changed: boolean;
  began_at: string | undefined;
  pack: string | undefined;
  plan: string | undefined;
  name: string;
  malformed: "skip" | "refuse";
}

/** Sends a log: its reading is kept first, then the file becomes a run of the pack. */
export function useBringIn() {
  const mappings = useRows("log-mappings").data ?? [];
  const save = useSave("log-mappings");
  const client = useQueryClient();
  const navigate = useNavigate();
  const feedback = useFeedback();
  const [sending, setSending] = useState<{ share: number; cancel: () => void }>();
  // The same file sent twice, because the first answer was lost, becomes one run.
  const [id] = useState(newId);
  const [kept, setKept] = useState<Stored<"log-mappings">>();
  const [refused, setRefused] = useState<Schemas["Problem"]>();

  const keepMapping = async ({ looked, changed, name }: Bringing) => {
    const known = kept ?? mappings.find((row) => row.id === looked.remembered);
    const document = { name: known?.document.name ?? name, ...looked.look.mapping };
    const same = JSON.stringify(known?.document.columns) === JSON.stringify(document.columns) && !changed;
    if (known && same) return known;
    return save.mutateAsync(known ? { id: known.id, version: known.version, document } : { document });
  };

  const send = (mapping: Stored<"log-mappings">, { log, looked, began_at, pack, plan, name, malformed }: Bringing) => {
    const query = new URLSearchParams({ id, mapping: mapping.id, malformed, name, file: log.file.name });
    if (pack) query.set("pack", pack);
    if (plan) query.set("plan", plan);
    if (!looked.look.dated && began_at !== undefined) query.set("began_at", began_at);
    const sent = upload<Schemas["BroughtInDoc"]>(`/api/logs?${query.toString()}`, "text/csv", log.file, (share) => {
      setSending({ share, cancel: sent.cancel });
    });
    setSending({ share: 0, cancel: sent.cancel });
    return sent.answer;
  };

  const bring = async (what: Bringing) => {
    setRefused(undefined);
    try {
      const mapping = await keepMapping(what);
      setKept(mapping);
      const { run, lines, skipped } = await send(mapping, what);
      refetch(client, "runs");
      feedback.done(skipped === 0 ? `${lines} readings are in the logbook.` : `${lines} readings are in the logbook; ${skipped} lines were passed over.`);
      void navigate(`/run/${run.id}`);
    } catch (error) {
      if (error instanceof StoppedError) feedback.done(error.message);
      else if (error instanceof ProblemError && error.problem.problems.length > 0) setRefused(error.problem);
      else feedback.failed(error);
    } finally {
      setSending(undefined);
    }
  };
  return { bring, sending, refused, saving: save.isPending };
}
