import { Button } from "antd";
import type { Place, PlanDoc } from "../../api/client";
import { below, type Editor } from "../../ui/documents/editor";
import { LoadField, QuantityField } from "../../ui/documents/fields";
import { ChemistryField, HoldsField, SeriesField, StartField } from "../../ui/documents/PackFields";
import { KindField, VoltsField } from "../../ui/documents/SourceFields";
import type { PipeStage } from "../../ui/pipe/ChainPipe";

/** The values of a stage that are changed most, right under its name. */
export function headFields(stage: Pick<PipeStage, "at">, editor: Editor, onOpen: (place: Place) => void) {
  if (stage.at === "source") {
    const source = below(editor, "/source");
    return (
      <>
        <KindField editor={source} bare />
        <VoltsField editor={source} bare />
        <QuantityField editor={source} at="/max_current_a" label="Rated current" kind="current" bare />
        <QuantityField editor={source} at="/max_power_w" label="Rated power" kind="power" bare />
      </>
    );
  }
  if (stage.at === "load")
    return <LoadField editor={editor} />;
  const pack = below(editor, "/pack");
  const plan = editor.document as PlanDoc;
  const measured = plan.pack?.start?.cell_voltages_v ?? plan.pack?.start?.block_voltages_v;
  return (
    <>
      <ChemistryField editor={pack} bare />
      <SeriesField editor={pack} />
      <HoldsField editor={pack} bare />
      {!measured && <StartField editor={pack} bare />}
      <QuantityField editor={pack} at="/temperature_c" label="Pack temperature" kind="temperature" bare />
      {!plan.source && (
        <Button
          size="small"
          type="link"
          onClick={() => {
            editor.set("/source", { kind: "bench_supply" });
            onOpen("source");
          }}
        >
          Add a supply
        </Button>
      )}
      {!plan.load && (
        <Button
          size="small"
          type="link"
          onClick={() => {
            onOpen("load");
          }}
        >
          Add a load
        </Button>
      )}
    </>
  );
}

/** Before the first answer: the two ends of the chain, to be filled in. */
export function Unanswered({ editor, onOpen }: { editor: Editor; onOpen: (place: Place) => void }) {
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
