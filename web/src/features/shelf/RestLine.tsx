import { Input } from "antd";
import { useId, useState } from "react";
import type { PackDoc } from "../../api/client";
import { readVolts } from "./readVolts";
import { useRecord } from "../../ui/useRecord";

/** What a pack reads at rest, entered in one line. */
export function RestLine({ pack, name }: { pack: { id: string; version: number; document: PackDoc }; name: string }) {
  const id = useId();
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState<string>();
  const { keep, saving } = useRecord(pack);
  const enter = async () => {
    if (text.trim() === "") return;
    const read = readVolts(text, pack.document.series);
    if ("wrong" in read) {
      setWrong(read.wrong);
      return;
    }
    if (await keep({ kind: "rest", ...read }, `Kept: ${text.trim()} at rest.`)) setText("");
  };
  return (
    <form
      className="rest-line"
      onSubmit={(event) => {
        event.preventDefault();
        void enter();
      }}
    >
      <Input
        id={id}
        size="small"
        variant="underlined"
        className="figures"
        aria-label={`${name} reads at rest, V`}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={wrong ? `${id}-wrong` : undefined}
        placeholder="at rest now: V, or each cell"
        autoComplete="off"
        value={text}
        disabled={saving}
        onChange={(event) => {
          setText(event.target.value);
          setWrong(undefined);
        }}
      />
      {wrong && (
        <p className="field-problem" id={`${id}-wrong`} role="alert">
          {wrong}
        </p>
      )}
    </form>
  );
}
