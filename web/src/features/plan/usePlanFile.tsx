import { App } from "antd";
import { ProblemError } from "../../api/client";
import { newId } from "../../api/id";
import { type Stored, usePutAway, useSave } from "../../api/shelves";
import { useFeedback } from "../../ui/feedback";
import { overlays } from "../../ui/overlays";
import { adopt, copyOf, type Draft, draftOf, emptyDraft, setDraft } from "./draft";

/** Saving, reopening, duplicating and deleting plans. */
export function usePlanFile() {
  const save = useSave("plans");
  const putAway = usePutAway("plans");
  const feedback = useFeedback();
  const { modal } = App.useApp();

  const write = async (draft: Draft, asNew = false): Promise<void> => {
    const based = asNew ? { id: newId() } : { id: draft.id, version: draft.version };
    try {
      const row = await save.mutateAsync({ ...based, document: draft.document, links: draft.links });
      adopt(draft, row);
      feedback.done("Saved.");
    } catch (error) {
      const problem = error instanceof ProblemError ? error.problem : undefined;
      if (problem?.status === 404 && !asNew) return write(draft, true);
      if (problem?.status !== 409 || !problem.current) {
        feedback.failed(error);
        return;
      }
      resolveConflict(draft, problem.current as unknown as Stored<"plans">);
    }
  };

  /** Somebody saved in between: nothing is lost either way. */
  const resolveConflict = (mine: Draft, theirs: Stored<"plans">) => {
    modal.confirm({
      title: "This plan was saved elsewhere in between",
      content: "Keep yours as a plan of its own, or take what stands now? Yours stays on screen until you choose.",
      getContainer: overlays,
      okText: "Keep mine as a new plan",
      cancelText: "Take what stands now",
      onOk: () => {
        const copy = { ...copyOf(mine), of: mine.of };
        setDraft(copy);
        return write(copy, true);
      },
      onCancel: () => {
        setDraft(draftOf(theirs));
      },
    });
  };

  const remove = async (row: { id: string; version: number; document: { name?: string | null } }) => {
    try {
      const gone = await putAway.mutateAsync({ id: row.id, version: row.version, away: true });
      feedback.undoable(`“${row.document.name ?? "Unnamed plan"}” is deleted.`, () => {
        putAway.mutate({ id: gone.id, version: gone.version, away: false }, { onError: feedback.failed });
      });
      return true;
    } catch (error) {
      feedback.failed(error);
      return false;
    }
  };

  return {
    saving: save.isPending,
    save: (draft: Draft) => write(draft, draft.id === undefined),
    open: (row: Stored<"plans">) => {
      setDraft(draftOf(row));
    },
    duplicate: (draft: Draft) => {
      setDraft(copyOf(draft));
      feedback.done("This is a copy now; the saved plan stays as it is.");
    },
    startNew: () => {
      setDraft(emptyDraft());
    },
    remove,
  };
}
