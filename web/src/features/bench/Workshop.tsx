import { Button } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { refetch } from "../../api/changes";
import type { Schemas } from "../../api/client";
import { useRows } from "../../api/shelves";
import { upload } from "../../api/upload";
import { chooseFile } from "../../ui/chooseFile";
import { useFeedback } from "../../ui/feedback";
import { Sending } from "../../ui/Sending";

/** Everything at once: out as one file, and into an empty workshop. */
export function Workshop() {
  const client = useQueryClient();
  const feedback = useFeedback();
  const [sending, setSending] = useState<{ share: number; cancel: () => void }>();
  const packs = useRows("packs");
  const gear = useRows("supplies");
  const plans = useRows("plans");
  const empty = [packs, gear, plans].every(({ data }) => data?.length === 0);
  const put = (file: File) => {
    const sent = upload<Schemas["PutInDoc"]>("/api/archive", "application/json", file, (share) => {
      setSending({ share, cancel: sent.cancel });
    });
    setSending({ share: 0, cancel: sent.cancel });
    sent.answer
      .then(({ rows, readings }) => {
        refetch(client, "everything");
        feedback.done(`${rows} items and ${readings} readings are here now.`);
      }, feedback.failed)
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
                chooseFile(".json,application/json", put);
              }}
            >
              Put an archive in
            </Button>
          )}
        </p>
      )}
    </section>
  );
}
