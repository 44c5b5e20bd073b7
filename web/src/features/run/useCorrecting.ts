import type { Schemas } from "../../api/client";
import { clockOffset } from "../../api/time";
import { useFeedback } from "../../ui/feedback";
import { drop, put, type Sent } from "./outbox";
import { useStrike } from "./useRun";
import { readingWords } from "./words";

type Reading = Schemas["RunReadingDoc"];

/** A reading that was mistyped is taken back, or corrected under its own time; the mistaken one stays, struck through. */
export function useCorrecting(run: string, sent: Sent) {
  const strike = useStrike(run);
  const feedback = useFeedback();
  const takeBack = async (id: string, waiting: boolean, reading: Reading) => {
    try {
      if (waiting) await drop(id);
      else await strike(id, true);
      feedback.undoable(`${readingWords(reading)}: taken back. It counts no more.`, () => {
        if (waiting) void put(run, reading, new Date(), sent);
        else strike(id, false).catch(feedback.failed);
      });
    } catch (error) {
      feedback.failed(error);
    }
  };
  const correct = async (id: string, at: string, waiting: boolean, reading: Reading) => {
    try {
      if (waiting) await drop(id);
      else await strike(id, true);
      const { t_s: _, ...read } = reading;
      await put(run, read, new Date(Date.parse(at) + clockOffset()), sent);
    } catch (error) {
      feedback.failed(error);
    }
  };
  const countAgain = (id: string) => {
    strike(id, false).catch(feedback.failed);
  };
  return { takeBack, correct, countAgain };
}
