import type { ChargerDoc, Place, PlanDoc } from "../../api/client";
import { ChargerKindField } from "../../ui/documents/ChargerFields";
import { below, type Editor } from "../../ui/documents/editor";
import { LoadField, QuantityField } from "../../ui/documents/fields";
import { ChemistryField, HoldsField, SeriesField, StartField } from "../../ui/documents/PackFields";
import { KindField, VoltsField } from "../../ui/documents/SourceFields";
import type { PipeStage } from "../../ui/pipe/chain";
import { AddToChain } from "./AddToChain";

/** The values of a stage that are changed most, right under its name. */
export function headFields(stage: Pick<PipeStage, "at">, editor: Editor<PlanDoc>, onOpen: (place: Place) => void) {
  if (stage.at === "source") {
    const source = below(editor, "/source");
    const kind = editor.document?.source?.kind;
    const battery = kind === "battery";
    const rated = !battery && kind !== "mains" && kind !== "transformer_rectifier";
    return (
      <>
        <KindField editor={source} bare />
        <VoltsField editor={source} bare />
        {battery && <QuantityField editor={source} at="/capacity_ah" label="Battery's capacity" kind="charge" bare />}
        {battery && <QuantityField editor={source} at="/soc" label="Battery's state of charge" kind="fraction" bare />}
        {rated && <QuantityField editor={source} at="/max_current_a" label="Rated current" kind="current" bare />}
        {rated && <QuantityField editor={source} at="/max_power_w" label="Rated power" kind="power" bare />}
      </>
    );
  }
  if (stage.at === "load") return <LoadField editor={editor} />;
  if (stage.at === "charger") {
    const charger = below(editor, "/charger");
    return <ChargerHead editor={charger} />;
  }
  if (stage.at !== "pack") return undefined;
  const pack = below(editor, "/pack");
  const plan = editor.document ?? {};
  const measured = plan.pack?.start?.cell_voltages_v ?? plan.pack?.start?.block_voltages_v;
  return (
    <>
      <ChemistryField editor={pack} bare />
      <SeriesField editor={pack} />
      <HoldsField editor={pack} bare />
      {!measured && <StartField editor={pack} bare />}
      <QuantityField editor={pack} at="/temperature_c" label="Pack temperature" kind="temperature" bare />
      <AddToChain plan={plan} editor={editor} onOpen={onOpen} />
    </>
  );
}

function ChargerHead({ editor }: { editor: Editor<ChargerDoc> }) {
  const { kind } = editor.document ?? {};
  const rated = kind !== "lamp" && kind !== "resistor" && kind !== "pwm";
  const watts = rated && kind !== "linear_module";
  return (
    <>
      <ChargerKindField editor={editor} bare />
      {rated && <QuantityField editor={editor} at="/output_max_a" label="Charger's most amps" kind="current" bare />}
      {watts && <QuantityField editor={editor} at="/output_max_w" label="Charger's most watts" kind="power" bare />}
    </>
  );
}

/** Before the first answer: the two ends of the chain, to be filled in. */
export function Unanswered({ editor, onOpen }: { editor: Editor<PlanDoc>; onOpen: (place: Place) => void }) {
  return (
    <div className="unanswered">
      {(["source", "pack"] as const).map((place) => (
        <div key={place}>
          <button type="button" className="plain-button chain-name" onClick={() => { onOpen(place); }}>
            <strong>{place === "source" ? "Supply" : "Pack"}</strong>
          </button>
          <div className="chain-fields">{headFields({ at: place }, editor, onOpen)}</div>
        </div>
      ))}
    </div>
  );
}
