import { Button } from "antd";
import { useState } from "react";
import { useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { atServer } from "../../api/time";
import { type Stored, useSave } from "../../api/shelves";
import { useEditor } from "../../ui/documents/editor";
import { ChoiceField, QuantityField, TextField } from "../../ui/documents/fields";
import { useFeedback } from "../../ui/feedback";
import { END_OPTIONS, runsDown } from "./words";

/** Ending a run: why, what went in, how it rests. */
export function Finish({ run, state }: { run: Stored<"runs">; state: Schemas["RunStateDoc"] | undefined }) {
  const done = state?.said.some(({ code }) => code === "done") ?? false;
  const wrong = state?.said.some(({ severity }) => severity === "stop") ?? false;
  const down = runsDown(run.document);
  const [open, setOpen] = useState(false);
  const save = useSave("runs");
  const client = useQueryClient();
  const feedback = useFeedback();
  const assumed = {
    end: done ? "done" : wrong ? "fault" : "by_hand",
    charge_ah: state ? Math.round(Math.abs(state.account.charge_ah) * 1000) / 1000 : undefined,
  };
  const editor = useEditor<Partial<Schemas["RunDoc"]>>({}, assumed);
  if (!open)
    return (
      <Button
        type={done || wrong ? "primary" : "default"}
        danger={wrong}
        onClick={() => {
          setOpen(true);
        }}
      >
        It has ended
      </Button>
    );
  return (
    <form
      className="finish"
      aria-label="How it ended"
      onSubmit={(event) => {
        event.preventDefault();
        const document = { ...run.document, ...assumed, ...editor.document, ended_at: atServer(new Date()).toISOString() } as Schemas["RunDoc"];
        // What came out is kept as less than nothing.
        if (down && document.charge_ah != null) document.charge_ah = -document.charge_ah;
        save.mutate(
          { id: run.id, version: run.version, document, links: run.links },
          {
            onSuccess: (row) => {
              client.setQueryData(["runs", run.id], row);
            },
            onError: feedback.failed,
          },
        );
      }}
    >
      <ChoiceField editor={editor} at="/end" label="It ended" options={END_OPTIONS} />
      <QuantityField editor={editor} at="/charge_ah" label={down ? "Came out" : "Went in"} kind="charge" />
      <QuantityField editor={editor} at="/rest_voltage_v" label={down ? "Rests at, half an hour later" : "Rests at, an hour later"} kind="voltage" />
      <TextField editor={editor} at="/note" label="Note" />
      <Button type="primary" htmlType="submit" loading={save.isPending}>
        Keep it in the logbook
      </Button>
    </form>
  );
}
