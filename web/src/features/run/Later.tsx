import { Button } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { type Stored, useSave } from "../../api/shelves";
import { useEditor } from "../../ui/documents/editor";
import { ChoiceField, QuantityField, TextField } from "../../ui/documents/fields";
import { useFeedback } from "../../ui/feedback";
import { END_OPTIONS } from "./words";

/** What is known only afterwards: how it rests an hour later, how it ended where a log did not say, a note. */
export function Later({ run }: { run: Stored<"runs"> }) {
  const { rest_voltage_v, note } = run.document;
  const before = { ...(rest_voltage_v == null ? {} : { rest_voltage_v }), ...(note == null ? {} : { note }) };
  const editor = useEditor<Partial<Schemas["RunDoc"]>>(before);
  const save = useSave("runs");
  const client = useQueryClient();
  const feedback = useFeedback();
  const changed = JSON.stringify(editor.document) !== JSON.stringify(before);
  return (
    <form
      className="finish"
      aria-label="Known afterwards"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(
          { id: run.id, version: run.version, document: { ...run.document, rest_voltage_v: undefined, note: undefined, ...editor.document }, links: run.links },
          {
            onSuccess: (row) => {
              client.setQueryData(["runs", run.id], row);
              feedback.done("Kept.");
            },
            onError: feedback.failed,
          },
        );
      }}
    >
      {run.document.end == null && <ChoiceField editor={editor} at="/end" label="It ended" options={END_OPTIONS} />}
      <QuantityField editor={editor} at="/rest_voltage_v" label="Rests at, an hour later" kind="voltage" />
      <TextField editor={editor} at="/note" label="Note" />
      <Button htmlType="submit" disabled={!changed} loading={save.isPending}>
        Keep it
      </Button>
    </form>
  );
}
