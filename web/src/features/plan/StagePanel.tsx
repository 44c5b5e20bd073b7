import { Button, Select } from "antd";
import { type ReactNode, useEffect, useRef } from "react";
import type { Place } from "../../api/client";
import { type Shelf, type Stored, useRows } from "../../api/shelves";
import { below, type Editor } from "../../ui/documents/editor";
import { QuantityField } from "../../ui/documents/fields";
import { PackLabelFields, PackNowFields } from "../../ui/documents/PackFields";
import { SourceFields } from "../../ui/documents/SourceFields";
import { packWords, sourceWords } from "../../ui/words";

interface Props {
  place: Place;
  editor: Editor;
  onClose: () => void;
  onPick: <S extends "packs" | "gear">(shelf: S, row: Stored<S>) => void;
  onKeep: (shelf: "packs" | "gear") => void;
}

const TITLES: Record<Place, string> = { source: "Supply", pack: "Pack", load: "Load", settings: "Your own settings" };

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
      aria-label={TITLES[place]}
      onKeyDown={(event) => {
        if (event.key === "Escape" && !event.defaultPrevented) onClose();
      }}
    >
      <div className="panel-head">
        <h2>{TITLES[place]}</h2>
        {place === "pack" && <Picker shelf="packs" words={(row) => packWords(row.document)} onPick={onPick} onKeep={onKeep} />}
        {place === "source" && <Picker shelf="gear" words={(row) => sourceWords(row.document)} onPick={onPick} onKeep={onKeep} />}
        <Button size="small" type="text" onClick={onClose}>
          Close
        </Button>
      </div>
      <Body place={place} editor={editor} />
    </section>
  );
}

function Body({ place, editor }: { place: Place; editor: Editor }): ReactNode {
  switch (place) {
    case "pack": {
      const pack = below(editor, "/pack");
      return (
        <>
          <PackNowFields editor={pack} />
          <h3>On its label</h3>
          <PackLabelFields editor={pack} />
        </>
      );
    }
    case "source":
      return (
        <>
          <SourceFields editor={below(editor, "/source")} />
          <p className="panel-foot">
            <Button
              size="small"
              type="link"
              onClick={() => {
                editor.set("/source", undefined);
              }}
            >
              Take the supply away: how long does the pack run its load?
            </Button>
          </p>
        </>
      );
    case "load":
      return (
        <div className="fields">
          <QuantityField editor={editor} at="/load/current_a" label="It draws" kind="current" />
          <QuantityField editor={editor} at="/load/power_w" label="or" kind="power" />
        </div>
      );
    case "settings":
      return (
        <div className="fields">
          <QuantityField editor={editor} at="/settings/voltage_v" label="Charge voltage" kind="voltage" hint="Empty: as recommended." />
          <QuantityField editor={editor} at="/settings/current_a" label="Charge current" kind="current" />
          <QuantityField editor={editor} at="/settings/stop_current_a" label="Stop at, falling" kind="current" />
          <QuantityField editor={editor} at="/settings/stop_voltage_v" label="Stop at, rising" kind="voltage" />
          <QuantityField editor={editor} at="/settings/time_limit_h" label="Stop after" kind="hours" />
          <QuantityField editor={editor} at="/price_per_kwh" label="Price of a kWh" kind="number" />
        </div>
      );
  }
}

interface PickerProps<S extends "packs" | "gear"> {
  shelf: S;
  words: (row: Stored<S>) => string;
  onPick: <T extends "packs" | "gear">(shelf: T, row: Stored<T>) => void;
  onKeep: (shelf: "packs" | "gear") => void;
}

const WHERE: Record<Exclude<Shelf, "plans">, { from: string; keep: string }> = {
  packs: { from: "Pick from the shelf", keep: "Keep on the shelf" },
  gear: { from: "Pick from the gear", keep: "Keep in the gear" },
};

function Picker<S extends "packs" | "gear">({ shelf, words, onPick, onKeep }: PickerProps<S>) {
  const rows = useRows(shelf);
  return (
    <>
      <Select
        size="small"
        className="panel-pick"
        showSearch={{ optionFilterProp: "label" }}
        popupMatchSelectWidth={false}
        aria-label={WHERE[shelf].from}
        placeholder={WHERE[shelf].from}
        loading={rows.isLoading}
        notFoundContent={rows.isError ? "The database cannot be reached." : "Nothing kept yet."}
        value={null}
        options={(rows.data ?? []).map((row) => ({
          value: row.id,
          label: [row.document.name, words(row)].filter(Boolean).join(" · "),
        }))}
        onChange={(id: string | null) => {
          const row = rows.data?.find((one) => one.id === id);
          if (row) onPick(shelf, row);
        }}
      />
      <Button
        size="small"
        onClick={() => {
          onKeep(shelf);
        }}
      >
        {WHERE[shelf].keep}
      </Button>
    </>
  );
}
