import { Button } from "antd";
import { useEffect, useRef } from "react";
import type { PlanDoc, Schemas } from "../../api/client";
import { useEditor } from "../../ui/documents/editor";
import { QuantityField, TextField, VoltagesField } from "../../ui/documents/fields";

type Reading = Schemas["RunReadingDoc"];

interface Props {
  plan: PlanDoc;
  /** Whether it is run down. */
  down?: boolean;
  /** Whether a knob is turned by hand meanwhile. */
  knob?: boolean;
  onEnter: (reading: Reading) => void;
  /** A reading that is corrected. */
  before?: Reading;
  onLeave?: () => void;
  /** Whether the first field takes the focus at once. */
  focus?: boolean;
}

/** One look: volts and amps under the thumb, the rest a press away. Every field says where it is read. */
export function RunReading({ plan, down, knob, onEnter, before, onLeave, focus }: Props) {
  const editor = useEditor<Reading>(before ?? {});
  const form = useRef<HTMLFormElement>(null);
  useEffect(() => {
    if (focus) form.current?.querySelector("input")?.focus();
  }, [focus]);
  const reading = editor.document;
  // A resistor or a lamp has no display: its current is read by a meter.
  const charger = plan.charger != null && !(down && (plan.charger.kind === "resistor" || plan.charger.kind === "lamp"));
  const several = (plan.pack?.series ?? 1) > 1;
  const empty = Object.values(reading).every((value) => value == null);
  const knobField = <QuantityField editor={editor} at="/set_v" label={knob ? "Knob stands at" : "Set to"} kind="voltage" />;
  // In the first line a hint would push the field out of it.
  const cells = down ? (
    <VoltagesField editor={editor} at="/cell_voltages_v" label="Each cell, V, from minus" />
  ) : (
    <VoltagesField editor={editor} at="/cell_voltages_v" label="Each cell, V" hint="From the negative end, parted by spaces." />
  );
  return (
    <form
      ref={form}
      className="reading"
      aria-label={before ? "The reading, corrected" : "A reading"}
      onSubmit={(event) => {
        event.preventDefault();
        if (!empty) onEnter(reading);
      }}
    >
      <QuantityField editor={editor} at="/terminal_v" label="Terminals, by meter" kind="voltage" />
      {charger ? (
        <QuantityField editor={editor} at="/charger_a" label="Charger’s amps" kind="current" />
      ) : down ? (
        <QuantityField editor={editor} at="/terminal_a" label="Out of the pack" kind="current" />
      ) : (
        <QuantityField editor={editor} at="/source_a" label="Supply’s amps" kind="current" />
      )}
      {knob && knobField}
      <QuantityField editor={editor} at="/temperature_c" label="Warmth" kind="temperature" />
      {down && several && cells}
      <Button type="primary" htmlType="submit" disabled={empty}>
        {before ? "Correct it" : "Enter"}
      </Button>
      {onLeave && <Button onClick={onLeave}>Leave it</Button>}
      <details className="reading-more">
        <summary>More to read</summary>
        <div className="reading-fields">
          {charger ? (
            <>
              <QuantityField editor={editor} at="/charger_v" label="Charger’s volts" kind="voltage" />
              <QuantityField editor={editor} at="/charger_ah" label="Charger’s count" kind="charge" />
            </>
          ) : down ? (
            <QuantityField editor={editor} at="/charger_ah" label="Counted in all" kind="charge" />
          ) : (
            <QuantityField editor={editor} at="/source_v" label="Supply’s volts" kind="voltage" />
          )}
          {!(down && !charger) && (
            <QuantityField editor={editor} at="/terminal_a" label={down ? "Out of the pack, by meter" : "Into the pack, by meter"} kind="current" />
          )}
          {plan.pack?.bms != null && <QuantityField editor={editor} at="/bms_v" label="BMS, volts" kind="voltage" />}
          {plan.pack?.bms != null && <QuantityField editor={editor} at="/bms_a" label="BMS, amps" kind="current" />}
          {!down && !knob && knobField}
          <TextField editor={editor} at="/note" label="Note" />
        </div>
        {!down && several && cells}
      </details>
    </form>
  );
}
