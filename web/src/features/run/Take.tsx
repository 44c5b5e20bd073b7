import { Button } from "antd";
import type { RecordDoc, Schemas } from "../../api/client";
import { useRecord } from "../../ui/useRecord";
import { usePackPage } from "../../api/packPage";
import { type Stored, useRow, useSave } from "../../api/shelves";
import { useFeedback } from "../../ui/feedback";
import { trimmed } from "../../ui/quantity/parse";

/** What the readings have made of the pack, offered to be kept with it; or why it is not. */
export function Take({ run, state }: { run: Stored<"runs">; state: Schemas["RunStateDoc"] }) {
  const pack = useRow("packs", run.links.pack?.id).data;
  const save = useSave("packs");
  const feedback = useFeedback();
  const { resistance_mohm, health, record, why_not } = state.keep;
  if (why_not != null) return <p className="muted">Nothing of this is kept with the pack: {why_not}</p>;
  if (pack && record) return <TakeTest pack={pack} record={{ ...record, at: run.document.ended_at ?? null }} />;
  if (!pack || resistance_mohm == null || health == null) return null;
  const { fitted } = run.document;
  const counted = fitted?.capacity_ah != null && `What it held then, ${trimmed(fitted.capacity_ah, 2)} ± ${trimmed(fitted.capacity_sd_ah ?? 0, 2)} Ah, counts in its health over time. `;
  const same = pack.document.resistance_mohm === resistance_mohm && pack.document.health === health;
  if (same) return <p className="muted">{counted}The pack on the shelf carries these figures.</p>;
  return (
    <p className="take">
      {counted}Its readings make it {trimmed(resistance_mohm, 1)} mΩ and {trimmed(health * 100, 0)} % of its label.{" "}
      <Button
        size="small"
        loading={save.isPending}
        onClick={() => {
          const { document, id, version } = pack;
          save.mutate(
            { id, version, document: { ...document, resistance_mohm, health } },
            {
              onSuccess: () => {
                feedback.done("Kept with the pack; plans from now on use it.");
              },
              onError: feedback.failed,
            },
          );
        }}
      >
        Keep it with the pack
      </Button>
    </p>
  );
}

/** What a whole discharge gave, offered to be kept as a test of its pack. */
function TakeTest({ pack, record }: { pack: Stored<"packs">; record: RecordDoc }) {
  const known = usePackPage(pack.id);
  const { keep, saving } = useRecord(pack);
  const kept = known.data?.records.some(({ document }) => document.kind === "test" && document.at === record.at) ?? false;
  const gave = `${trimmed(record.capacity_ah ?? 0, 2)} Ah, ${trimmed(record.energy_wh ?? 0, 1)} Wh at ${trimmed(record.current_a ?? 0, 2)} A`;
  if (kept) return <p className="muted">Kept as a test of the pack: {gave}.</p>;
  return (
    <p className="take">
      It gave {gave}.{" "}
      <Button size="small" loading={saving} onClick={() => void keep({ ...record, kind: "test" }, "The test is kept.")}>
        Keep the test with the pack
      </Button>
    </p>
  );
}
