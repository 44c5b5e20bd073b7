import { Button, Select } from "antd";
import { type ReactNode, useEffect, useRef } from "react";
import type { Place, PlanDoc, Schemas } from "../../api/client";
import { type Documents, type Kept, type Stored, useRows } from "../../api/shelves";
import { ChargerFields } from "../../ui/documents/ChargerFields";
import { below, type Editor } from "../../ui/documents/editor";
import { ChoiceField, QuantityField } from "../../ui/documents/fields";
import { LeadFields } from "../../ui/documents/LeadFields";
import { PackLabelFields, PackNowFields } from "../../ui/documents/PackFields";
import { SourceFields } from "../../ui/documents/SourceFields";
import { chargerWords, leadWords, packWords, PLACE_WORDS, sourceWords } from "../../ui/words";
import type { Pointer } from "../../ui/documents/pointer";
import { OtherPacks } from "./OtherPacks";
import { type Part, PARTS } from "./usePicking";

const RELAY_STARTS = [
  { value: "at_once", label: "as soon as it is fed" },
  { value: "below_low", label: "only below its lower voltage" },
] as const satisfies readonly { value: Schemas["CutOffStarts"]; label: string }[];

interface Props {
  place: Place;
  editor: Editor<PlanDoc>;
  onClose: () => void;
  onPick: (part: Part, row: Stored<Kept>) => void;
  onKeep: (part: Part) => void;
}

/** A stage changed in place, beside its answer. */
export function StagePanel({ place, editor, onClose, onPick, onKeep }: Props) {
  const ref = useRef<HTMLElement>(null);
  useEffect(() => {
    const before = document.activeElement;
    ref.current?.querySelector<HTMLElement>("input, button")?.focus();
    return () => {
      if (before instanceof HTMLElement) before.focus();
    };
  }, [place]);
  return (
    <section
      ref={ref}
      className="panel"
      role="dialog"
      aria-label={PLACE_WORDS[place]}
      onKeyDown={(event) => {
        if (event.key === "Escape" && !event.defaultPrevented) onClose();
      }}
    >
      <div className="panel-head">
        <h2>{PLACE_WORDS[place]}</h2>
        {place in PARTS && <Picker part={PARTS[place as keyof typeof PARTS]} onPick={onPick} onKeep={onKeep} />}
        <Button size="small" type="text" onClick={onClose}>
          Close
        </Button>
      </div>
      <Body place={place} editor={editor} onClose={onClose} />
    </section>
  );
}

function Body({ place, editor, onClose }: { place: Place; editor: Editor<PlanDoc>; onClose: () => void }): ReactNode {
  const away = (pointer: Pointer<PlanDoc>, words: string) => (
    <p className="panel-foot">
      <Button
        size="small"
        type="link"
        onClick={() => {
          editor.set(pointer, undefined);
          onClose();
        }}
      >
        {words}
      </Button>
    </p>
  );
  switch (place) {
    case "pack": {
      const pack = below(editor, "/pack");
      return (
        <>
          <PackNowFields editor={pack} />
          <h3>On its label</h3>
          <PackLabelFields editor={pack} />
          <h3>Others in parallel with it</h3>
          <OtherPacks editor={editor} />
        </>
      );
    }
    case "source":
      return (
        <>
          <SourceFields editor={below(editor, "/source")} />
          <div className="fields panel-foot">
            <QuantityField editor={editor} at="/visit_every_min" label="I can look every, min" kind="number" hint="Matters where a voltage is turned up by hand." />
            <QuantityField editor={editor} at="/attended_first_min" label="At first I stay, min" kind="number" hint="An hour where you look more seldom than that." />
            <QuantityField editor={editor} at="/mains/voltage_v" label="The outlet's volts" kind="voltage" />
            <QuantityField editor={editor} at="/mains/circuit_a" label="Its circuit's breaker" kind="current" />
          </div>
          {away("/source", "Take the supply away: how long does the pack run its load?")}
        </>
      );
    case "charger":
      return (
        <>
          <ChargerFields editor={below(editor, "/charger")} />
          {away("/charger", "Take the charger away: the supply straight on the pack")}
        </>
      );
    case "input_lead":
      return (
        <>
          <LeadFields editor={below(editor, "/leads/input")} />
          {away("/leads/input", "Take this lead away: too good to matter")}
        </>
      );
    case "output_lead":
      return (
        <>
          <LeadFields editor={below(editor, "/leads/output")} />
          {away("/leads/output", "Take this lead away: too good to matter")}
        </>
      );
    case "cut_off":
      return (
        <>
          <div className="fields">
            <QuantityField editor={editor} at="/cut_off/high_v" label="Opens at" kind="voltage" />
            <QuantityField editor={editor} at="/cut_off/low_v" label="Closes below" kind="voltage" />
            <QuantityField editor={editor} at="/cut_off/offset_v" label="Reads too much by" kind="voltage" hint="Its display less the true voltage; less than nothing where it reads too little." />
            <QuantityField editor={editor} at="/cut_off/error_v" label="May read wrong by" kind="voltage" />
            <ChoiceField editor={editor} at="/cut_off/starts" label="It first closes" options={RELAY_STARTS} clearable />
          </div>
          {away("/cut_off", "Take the relay away")}
        </>
      );
    case "load":
      return (
        <>
          <div className="fields">
            <QuantityField editor={editor} at="/load/current_a" label="It draws" kind="current" />
            <QuantityField editor={editor} at="/load/power_w" label="or" kind="power" />
          </div>
          {away("/load", "Take the load away")}
        </>
      );
    case "settings":
      return (
        <div className="fields">
          <QuantityField editor={editor} at="/settings/voltage_v" label="Charge voltage" kind="voltage" hint="Empty: as recommended." />
          <QuantityField editor={editor} at="/settings/current_a" label="Charge current" kind="current" />
          <QuantityField editor={editor} at="/settings/stop_current_a" label="Stop at, falling" kind="current" />
          <QuantityField editor={editor} at="/settings/stop_voltage_v" label="Stop at, rising" kind="voltage" />
          <QuantityField editor={editor} at="/settings/time_limit_h" label="Stop after" kind="hours" />
          <QuantityField editor={editor} at="/settings/input_limit_a" label="Charger's input limit" kind="current" />
          <QuantityField editor={editor} at="/price_per_kwh" label="Price of a kWh" kind="number" />
        </div>
      );
  }
}

const WHERE: Record<Kept, { from: string; keep: string; words: (document: Documents[Kept]) => string }> = {
  packs: { from: "Pick from the shelf", keep: "Keep on the shelf", words: (pack) => packWords(pack) },
  supplies: { from: "Pick from the gear", keep: "Keep in the gear", words: (source) => sourceWords(source as Documents["supplies"]) },
  chargers: { from: "Pick from the gear", keep: "Keep in the gear", words: (charger) => chargerWords(charger as Documents["chargers"]) },
  leads: { from: "Pick from the gear", keep: "Keep in the gear", words: (lead) => leadWords(lead) },
};

function Picker({ part, onPick, onKeep }: { part: Part; onPick: Props["onPick"]; onKeep: Props["onKeep"] }) {
  const rows = useRows(part.shelf);
  const { from, keep, words } = WHERE[part.shelf];
  return (
    <>
      <Select
        size="small"
        className="panel-pick"
        showSearch={{ optionFilterProp: "label" }}
        popupMatchSelectWidth={false}
        aria-label={from}
        placeholder={from}
        loading={rows.isLoading}
        notFoundContent={rows.isError ? "The database cannot be reached." : "Nothing kept yet."}
        value={null}
        options={(rows.data ?? []).map((row) => ({
          value: row.id,
          label: [row.document.name, words(row.document)].filter(Boolean).join(" · "),
        }))}
        onChange={(id: string | null) => {
          const row = rows.data?.find((one) => one.id === id);
          if (row) onPick(part, row);
        }}
      />
      <Button
        size="small"
        onClick={() => {
          onKeep(part);
        }}
      >
        {keep}
      </Button>
    </>
  );
}
