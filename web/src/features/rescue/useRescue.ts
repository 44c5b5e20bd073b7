import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answered, api, type JudgementDoc, ProblemError, type RescueResultDoc, type Schemas } from "../../api/client";
import { keptFor } from "../../api/kept";
import { type Stored, useRows, useSave } from "../../api/shelves";
import { useSettled } from "../../ui/useSettled";
import { adopt, type Case, currentCase, isOver, isUnsaved, readingsOf, rescueOf } from "./case";

const TYPING_MS = 80;
const KEEP_MS = 400;
const AGAIN_MS = 3000;

/** What the core says of a rescue; everything in the gear stands by as an alternative. */
export function useResult(one: Case | undefined) {
  const gear = useRows("supplies").data;
  const chargers = useRows("chargers").data;
  const asked = useSettled(one && rescueOf(one), TYPING_MS);
  const at_hand = { sources: gear?.map((row) => row.document) ?? [], chargers: chargers?.map((row) => row.document) ?? [] };
  return useQuery<RescueResultDoc>({
    queryKey: ["rescue", one?.id, asked, at_hand],
    enabled: asked !== undefined,
    queryFn: ({ signal }) => answered(api.POST("/api/rescue", { body: { ...asked, at_hand }, signal })),
    placeholderData: keptFor(one?.id),
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    refetchInterval: ({ state }) => (state.error instanceof ProblemError || !state.error ? false : AGAIN_MS),
  });
}

/** What the readings of the stage under way mean, asked again as time goes by. */
export function useJudgement(one: Case, now_s: number) {
  const { stage } = one.document;
  const readings = readingsOf(one.document).map(({ reading }) => reading ?? {});
  const moment = Math.max(0, Math.floor(now_s / 15) * 15, ...readings.map((reading) => reading.t_s ?? 0));
  const body: Schemas["JudgeAskDoc"] = { rescue: rescueOf(one), stage, now_s: moment, readings, rounds: one.document.history?.filter((over) => over.stage === stage).length ?? 0 };
  return useQuery<JudgementDoc>({
    queryKey: ["judge", `${one.id} ${stage ?? ""}`, body],
    enabled: stage != null,
    queryFn: ({ signal }) => answered(api.POST("/api/rescue/judge", { body, signal })),
    placeholderData: keptFor(`${one.id} ${stage ?? ""}`),
    retry: false,
    refetchInterval: ({ state }) => (state.error instanceof ProblemError || !state.error ? false : AGAIN_MS),
  });
}

export type Keeping = "kept" | "keeping" | "waiting" | "conflict";

/** Keeps the rescue on the server a moment after every change; goes on trying while that cannot be reached. */
export function useKeeping(one: Case | undefined): Keeping {
  const { mutate, isPending } = useSave("rescues");
  const [trouble, setTrouble] = useState<"waiting" | "conflict">();
  const [attempt, setAttempt] = useState(0);
  const unsaved = one !== undefined && !isOver(one) && isUnsaved(one) && one.document.rescue?.pack !== undefined;
  useEffect(() => {
    if (!unsaved || isPending || trouble === "conflict") return undefined;
    const timer = setTimeout(
      () => {
        const sent = currentCase();
        if (!sent) return;
        mutate(
          { id: sent.id, ...(sent.version === undefined ? {} : { version: sent.version }), document: sent.document, links: sent.links },
          {
            onSuccess: (row) => {
              setTrouble(undefined);
              adopt(sent, row);
            },
            onError: (error) => {
              setTrouble(error instanceof ProblemError && error.problem.status === 409 ? "conflict" : "waiting");
              setAttempt((n) => n + 1);
            },
          },
        );
      },
      trouble === "waiting" ? AGAIN_MS : KEEP_MS,
    );
    return () => {
      clearTimeout(timer);
    };
  }, [one, unsaved, isPending, trouble, attempt, mutate]);
  if (!unsaved) return "kept";
  return trouble ?? "keeping";
}

/** Ends a rescue; its pack carries the mark from then on. */
export function useClose() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ one, outcome }: { one: Case; outcome: Schemas["RescueOutcome"] }) =>
      answered(
        api.POST("/api/rescues/{id}/close", { params: { path: { id: one.id } }, body: { version: one.version ?? 1, outcome } }),
      ) as Promise<Stored<"rescues">>,
    onSuccess: () =>
      Promise.all([client.invalidateQueries({ queryKey: ["rescues"] }), client.invalidateQueries({ queryKey: ["packs"] })]),
  });
}
