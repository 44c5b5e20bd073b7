import { answered, api } from "../../api/client";
import { useFeedback } from "../../ui/feedback";
import { type Draft, isChanged } from "./draft";
import { linkOf } from "./share";

/** Sends a plan: as a link that opens it elsewhere, or as the line of text that makes it. */
export function useShare() {
  const feedback = useFeedback();
  const copy = async (text: string, what: string) => {
    try {
      await navigator.clipboard.writeText(text);
      feedback.done(`${what} is on the clipboard: ${text.length > 80 ? `${text.slice(0, 77)}…` : text}`);
    } catch {
      feedback.failed(new Error(`This browser gives no way to the clipboard. Copy it by hand: ${text}`));
    }
  };
  return {
    /** A saved plan's own address; one that is not saved travels in the link itself. */
    link: async (draft: Draft) => {
      const { origin } = window.location;
      const saved = draft.id !== undefined && !isChanged(draft);
      await copy(saved ? `${origin}/plan/${draft.id ?? ""}` : await linkOf(draft.document, origin), saved ? "Its address" : "A link that carries the plan");
    },
    line: async (draft: Draft) => {
      try {
        const { text } = await answered(api.POST("/api/quick-line/of", { body: draft.document }));
        await copy(text, "Its quick line");
      } catch (error) {
        feedback.failed(error);
      }
    },
  };
}
