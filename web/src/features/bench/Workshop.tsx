import { Button } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { refetch } from "../../api/changes";
import { ProblemError, type Schemas } from "../../api/client";
import { useRows } from "../../api/shelves";
import { upload } from "../../api/upload";
import { chooseFile } from "../../ui/chooseFile";
import { useFeedback } from "../../ui/feedback";
import { Sending } from "../../ui/Sending";

/** So many bad rows are listed. */
const SHOWN = 8;

/** A place in an archive in words: the third of its runs, its field. */
function rowWords(pointer: string): string {
  const [, list = "", n = "", ...field] = pointer.split("/");
  const named = field.filter((part) => part !== "document" && part !== "reading").join(" ").replaceAll("_", " ");
  return `${list.replaceAll("_", " ")}, no. ${Number(n) + 1}${named === "" ? "" : `, ${named}`}`;
}

/** Everything at once: out as one file, and into an empty workshop. */
export function Workshop() {
  const client = useQueryClient();
  const feedback = useFeedback();
  const [sending, setSending] = useState<{ share: number; cancel: () => void }>();
  const [refused, setRefused] = useState<{ file: File; problem: Schemas["Problem"] }>();
  const packs = useRows("packs");
  const gear = useRows("supplies");
  const plans = useRows("plans");
  const empty = [packs, gear, plans].every(({ data }) => data?.length === 0);
  const put = (file: File, malformed: "refuse" | "skip") => {
    setRefused(undefined);
    const sent = upload<Schemas["PutInDoc"]>(`/api/archive?malformed=${malformed}`, "application/json", file, (share) => {
      setSending({ share, cancel: sent.cancel });
    });
    setSending({ share: 0, cancel: sent.cancel });
    sent.answer
      .then(
        ({ rows, readings, left_out }) => {
          refetch(client, "everything");
          feedback.done(`${rows} items and ${readings} readings are here now.${left_out === 0 ? "" : ` ${left_out} were left out.`}`);
        },
        (error: unknown) => {
          if (error instanceof ProblemError && error.problem.problems.some(({ pointer }) => pointer !== "")) setRefused({ file, problem: error.problem });
          else feedback.failed(error);
        },
      )
      .finally(() => {
        setSending(undefined);
      });
  };
  return (
    <section aria-label="The whole workshop" className="bench-workshop">
      <h2>The whole workshop</h2>
      <p className="muted">Packs, gear, plans, rescues and the logbook in one file, to keep elsewhere or to move to another machine.</p>
      {sending ? (
        <Sending share={sending.share} what="The archive is read" onCancel={sending.cancel} />
      ) : (
        <p className="bench-actions">
          <a href="/api/archive" download>
            Take it out
          </a>
          {empty && (
            <Button
              size="small"
              onClick={() => {
                chooseFile(".json,application/json", (file) => {
                  put(file, "refuse");
                });
              }}
            >
              Put an archive in
            </Button>
          )}
        </p>
      )}
      {refused && (
        <div role="alert">
          <p className="field-problem">Nothing was put in: these rows of {refused.file.name} cannot be kept.</p>
          <ul>
            {refused.problem.problems.slice(0, SHOWN).map(({ pointer, message }) => (
              <li key={`${pointer} ${message}`}>
                {rowWords(pointer)}: {message}
              </li>
            ))}
          </ul>
          {refused.problem.problems.length > SHOWN && <p className="muted">And {refused.problem.problems.length - SHOWN} more.</p>}
          <Button
            size="small"
            onClick={() => {
              put(refused.file, "skip");
            }}
          >
            Put the rest in without them
          </Button>
        </div>
      )}
    </section>
  );
}
