import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { ProblemError } from "../../api/client";
import { chooseFile } from "../../ui/chooseFile";
import { explain, useFeedback } from "../../ui/feedback";
import { useRecord } from "../../ui/useRecord";

async function send(pack: string, file: File) {
  const response = await fetch(`/api/packs/${pack}/photo`, { method: "POST", headers: { "content-type": file.type || "image/jpeg" }, body: file });
  if (!response.ok) throw new ProblemError((await response.json()) as ConstructorParameters<typeof ProblemError>[0]);
}

/** A note, and how the pack looks: what no figure tells. */
export function Remember({ pack }: { pack: { id: string; version: number } }) {
  const [note, setNote] = useState("");
  const { keep, saving } = useRecord(pack);
  const client = useQueryClient();
  const feedback = useFeedback();
  const photo = useMutation({
    mutationFn: (file: File) => send(pack.id, file),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["shelf"] });
      feedback.done("The photo is kept.");
    },
  });
  const enter = async () => {
    const text = note.trim();
    if (text !== "" && (await keep({ kind: "note", note: text }, "The note is kept."))) setNote("");
  };
  return (
    <form
      className="pack-remember"
      onSubmit={(event) => {
        event.preventDefault();
        void enter();
      }}
    >
      <Input
        size="small"
        variant="underlined"
        aria-label="A note on this pack"
        placeholder="a note: landed hard, new plug, lent to the winch"
        autoComplete="off"
        value={note}
        disabled={saving}
        onChange={({ target }) => {
          setNote(target.value);
        }}
      />
      <Button
        size="small"
        loading={photo.isPending}
        onClick={() => {
          chooseFile("image/jpeg,image/png,image/webp", (file) => {
            photo.mutate(file);
          });
        }}
      >
        Add a photo
      </Button>
      {photo.isError && (
        <p className="field-problem" role="alert">
          {explain(photo.error)}
        </p>
      )}
    </form>
  );
}
