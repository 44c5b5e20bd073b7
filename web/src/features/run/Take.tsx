import { Button } from "antd";
import type { Schemas } from "../../api/client";
import { type Stored, useRow, useSave } from "../../api/shelves";
import { useFeedback } from "../../ui/feedback";
import { trimmed } from "../../ui/quantity/parse";

/** Less than this learned is not worth offering. */
const WORTH = 0.15;
/** Fewer readings may owe all they say to one of them. */
const FEWEST = 5;

/** What the readings have made of the pack, offered to be kept with it. */
export function Take({ run, state }: { run: Stored<"runs">; state: Schemas["RunStateDoc"] }) {
  const pack = useRow("packs", run.links.pack?.id).data as Stored<"packs"> | undefined;
  const save = useSave("packs");
  const feedback = useFeedback();
  const { fit } = state;
  const label_ah = pack?.document.capacity_ah;
  if (!pack || label_ah == null || fit.learned < WORTH || fit.readings < FEWEST) return null;
  const joined = run.document.plan?.pack?.packs_in_parallel ?? 1;
  const mohm = Math.round(fit.resistance_mohm * joined * 10) / 10;
  const health = Math.round((fit.capacity_ah / joined / label_ah) * 100) / 100;
  const same = pack.document.resistance_mohm === mohm && pack.document.health === health;
  if (same) return <p className="muted">The pack on the shelf carries these figures.</p>;
  return (
    <p className="take">
      Its readings make it {trimmed(mohm, 1)} mΩ and {trimmed(health * 100, 0)} % of its label.{" "}
      <Button
        size="small"
        loading={save.isPending}
        onClick={() => {
          const { document, id, version } = pack;
          save.mutate(
            { id, version, document: { ...document, resistance_mohm: mohm, health: Math.min(1.2, Math.max(0.05, health)) } },
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
