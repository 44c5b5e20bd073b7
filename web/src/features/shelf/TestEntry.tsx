import { Button } from "antd";
import { useState } from "react";
import type { PackDoc } from "../../api/client";
import { QuantityInput } from "../../ui/quantity/QuantityInput";
import { useRecord } from "../../ui/useRecord";

/** What a capacity test gave, entered by hand. */
export function TestEntry({ pack }: { pack: { id: string; version: number; document: PackDoc } }) {
  const [ah, setAh] = useState<number>();
  const [amps, setAmps] = useState<number>();
  const [warm, setWarm] = useState<number>();
  const [mohm, setMohm] = useState<number>();
  const { keep, saving } = useRecord(pack);
  const enter = async () => {
    if (ah === undefined) return;
    const kept = await keep(
      {
        kind: "test",
        whole: true,
        capacity_ah: ah,
        ...(amps === undefined ? {} : { current_a: amps }),
        ...(warm === undefined ? {} : { temperature_c: warm }),
        ...(mohm === undefined ? {} : { resistance_mohm: mohm }),
      },
      "The test is kept.",
    );
    if (kept) for (const clear of [setAh, setAmps, setWarm, setMohm]) clear(undefined);
  };
  return (
    <form
      className="reading test-entry"
      aria-label="A capacity test"
      onSubmit={(event) => {
        event.preventDefault();
        void enter();
      }}
    >
      <QuantityInput label="A test gave" kind="charge" value={ah} onChange={setAh} />
      <QuantityInput label="at" kind="current" value={amps} onChange={setAmps} />
      <QuantityInput label="its warmth" kind="temperature" value={warm} onChange={setWarm} />
      <QuantityInput label="resistance" kind="resistance" value={mohm} onChange={setMohm} />
      <Button htmlType="submit" size="small" disabled={ah === undefined} loading={saving}>
        Keep the test
      </Button>
    </form>
  );
}
