import { Button } from "antd";
import type { RescueStageDoc, Schemas } from "../../api/client";
import { useEditor } from "../../ui/documents/editor";
import { QuantityField, VoltagesField } from "../../ui/documents/fields";
import { chemistryOf } from "../../ui/documents/kinds";
import { type Case, enter, rescueOf } from "./case";

type Reading = Schemas["RescueReadingDoc"];

/** One look at the pack: volts first, the rest where there is time; and the button for the worst. */
export function ReadingForm({ one, stage }: { one: Case; stage: RescueStageDoc }) {
  const editor = useEditor<Reading>({});
  const reading = editor.document;
  const pack = rescueOf(one).pack;
  const several = (pack?.series ?? 1) > 1 && chemistryOf(pack ?? {})?.cells_read !== false;
  const proving = stage.kind === "prove";
  const feeds = ["wake", "precharge", "charge"].includes(stage.kind);
  const empty = Object.values(reading).every((value) => value == null);
  return (
    <form
      className="reading"
      aria-label="A reading"
      onSubmit={(event) => {
        event.preventDefault();
        if (!empty) enter(reading, new Date());
      }}
    >
      {!proving && <QuantityField editor={editor} at="/terminal_v" label="Terminals" kind="voltage" />}
      {feeds && <QuantityField editor={editor} at="/current_a" label="Current" kind="current" />}
      {feeds && <QuantityField editor={editor} at="/temperature_c" label="Warmth" kind="temperature" />}
      {proving && <QuantityField editor={editor} at="/capacity_ah" label="It gave" kind="charge" />}
      {proving && <QuantityField editor={editor} at="/current_a" label="At" kind="current" />}
      {several && !proving && stage.kind !== "wake" && (
        <div className="reading-cells">
          <VoltagesField editor={editor} at="/cell_voltages_v" label="Each cell, V" hint="From the negative end, parted by spaces." />
        </div>
      )}
      <div className="reading-actions">
        <Button type="primary" htmlType="submit" disabled={empty}>
          Enter
        </Button>
        {!proving && (
          <Button
            danger
            onClick={() => {
              enter({ ...reading, alarm: true }, new Date());
            }}
          >
            It swells, smells, hisses or smokes
          </Button>
        )}
      </div>
    </form>
  );
}
