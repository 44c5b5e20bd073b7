import { App, Button } from "antd";
import { useMemo } from "react";
import { OfflineError, ProblemError } from "../api/client";
import { problemWords } from "./documents/fieldWords";

/** What a person is told after doing something; the same from one rendering to the next. */
export function useFeedback() {
  const { message } = App.useApp();
  return useMemo(
    () => ({
      done: (text: string) => void message.success(text),
      /** Says what was undone, and offers to take it back for a while. */
      undoable: (text: string, undo: () => void) => {
        const key = crypto.randomUUID();
        void message.open({
          key,
          type: "success",
          duration: 12,
          content: (
            <>
              {text}{" "}
              <Button
                size="small"
                type="link"
                onClick={() => {
                  message.destroy(key);
                  undo();
                }}
              >
                Undo
              </Button>
            </>
          ),
        });
      },
      failed: (error: unknown) => void message.error(explain(error), 8),
    }),
    [message],
  );
}

/** An error in words, with what to do. */
export function explain(error: unknown): string {
  if (error instanceof ProblemError) {
    const first = error.problem.problems[0];
    if (error.problem.status === 503) return `${error.problem.detail} Nothing you typed is lost.`;
    return first ? `${error.problem.detail} ${problemWords(first)}` : error.problem.detail;
  }
  if (error instanceof OfflineError) return error.message;
  return error instanceof Error ? error.message : String(error);
}
