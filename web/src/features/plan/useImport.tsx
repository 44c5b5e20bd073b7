import { App } from "antd";
import { ProblemError } from "../../api/client";
import { chooseFile } from "../../ui/chooseFile";
import { useFeedback } from "../../ui/feedback";
import { overlays } from "../../ui/overlays";
import { useDrop } from "../../ui/useDrop";
import { setDraft } from "./draft";
import { throughDoor } from "./planDoor";

/** A plan file taken in: dropped anywhere on the page, or chosen. */
export function useImport() {
  const { modal } = App.useApp();
  const feedback = useFeedback();

  const take = async (file: File) => {
    const text = await file.text();
    try {
      setDraft({ document: await throughDoor(text), links: {} });
      feedback.done(`“${file.name}” is open; it is not saved yet.`);
    } catch (error) {
      if (!(error instanceof ProblemError) || error.problem.problems.length === 0) {
        feedback.failed(error);
        return;
      }
      modal.error({
        title: `“${file.name}” cannot be used as it is`,
        getContainer: overlays,
        content: (
          <ul className="trouble">
            {error.problem.problems.map((problem) => (
              <li key={problem.pointer + problem.message}>
                <code>{problem.pointer || "the file"}</code>: {problem.message}. Allowed: {problem.allowed}.
              </li>
            ))}
          </ul>
        ),
      });
    }
  };

  useDrop((file) => void take(file));

  /** Lets the person choose a file, for who does not drag. */
  const choose = () => {
    chooseFile(".json,application/json", (file) => void take(file));
  };
  return { choose };
}
