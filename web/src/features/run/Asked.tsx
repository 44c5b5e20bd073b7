import { Question } from "../../ui/question/Question";
import type { Schemas } from "../../api/client";
import type { Sent } from "./outbox";
import { useCorrecting } from "./useCorrecting";
import type { Taken } from "./useRun";

interface Props {
  run: string;
  said: readonly Schemas["SayingDoc"][];
  last: Taken | undefined;
  sent: Sent;
}

/** What is asked of the last reading where it does not fit: corrected, said to be true, or taken back. */
export function Asked({ run, said, last, sent }: Props) {
  const { takeBack, correct } = useCorrecting(run, sent);
  const ask = said.find((one) => one.ask != null)?.ask;
  const { id, at, waiting, reading } = last ?? {};
  if (!ask || id === undefined || at === undefined || waiting === undefined || !reading) return null;
  return (
    <Question
      ask={ask}
      more={0}
      onChoose={({ pointer, value }) => {
        const field = pointer.split("/")[2];
        if (field === undefined) void takeBack(id, waiting, reading);
        else void correct(id, at, waiting, { ...reading, [field]: value });
      }}
    />
  );
}
