import { Button } from "antd";
import type { Schemas } from "../../api/client";
import { type Stored, useRow, useSave } from "../../api/shelves";
import { useFeedback } from "../../ui/feedback";
import { trimmed } from "../../ui/quantity/parse";

/** What the readings have made of the pack, offered to be kept with it; or why it is not. */
export function Take({ run, state }: { run: Stored<"runs">; state: Schemas["RunStateDoc"] }) {
  const pack = useRow("packs", run.links.pack?.id).data;
  const save = useSave("packs");
  const feedback = useFeedback();
  const { resistance_mohm, health, why_not } = state.keep;
  if (why_not != null) return <p className="muted">Nothing of this is kept with the pack: {why_not}</p>;
  if (!pack || resistance_mohm == null || health == null) return null;
  const same = pack.document.resistance_mohm === resistance_mohm && pack.document.health === health;
  if (same) return <p className="muted">The pack on the shelf carries these figures.</p>;
  return (
    <p className="take">
      Its readings make it {trimmed(resistance_mohm, 1)} mΩ and {trimmed(health * 100, 0)} % of its label.{" "}
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
