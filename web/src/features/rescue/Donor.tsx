import { told } from "../../ui/preferences";
import type { Schemas } from "../../api/client";
import { useRows } from "../../api/shelves";
import { ChoiceInput } from "../../ui/ChoiceInput";
import { trimmed } from "../../ui/quantity/parse";
import { sourceWords } from "../../ui/words";
import { answer, type Case, rescueOf } from "./case";

interface Props {
  one: Case;
  donor: Schemas["DonorDoc"] | null | undefined;
  fixed: boolean;
}

/** What connecting a charged battery to it would do, in amps against everything in their way. */
export function Donor({ one, donor, fixed }: Props) {
  const batteries = (useRows("supplies").data ?? []).filter((row) => row.document.kind === "battery");
  const chosen = rescueOf(one).donor;
  if (batteries.length === 0 && !chosen) return null;
  const bears = donor && ([
    ["the pack", donor.rated_a],
    ["the wire", donor.wire_a],
    ["the fuse", donor.fuse_a],
  ] as const).flatMap(([what, amps]) => (amps == null ? [] : [`${what} ${trimmed(amps, 1)} A`]));
  return (
    <details className="donor" open={chosen != null}>
      <summary>What if another battery were connected to it?</summary>
      {!fixed && (
        <ChoiceInput
          label="Donor"
          value={batteries.find((row) => row.document.name === chosen?.name)?.id}
          clearable
          options={batteries.map((row) => ({ value: row.id, label: `${row.document.name ?? "unnamed"} · ${sourceWords(row.document)}` }))}
          onChange={(id) => {
            answer("/donor", batteries.find((row) => row.id === id)?.document);
          }}
        />
      )}
      {donor && (
        <>
          <p className={donor.accepted ? "" : "donor-warning"}>
            <span aria-hidden="true">{donor.accepted ? "●" : "▲"}</span> {told(donor.message)}
          </p>
          {bears && bears.length > 0 && <p className="muted">What each bears: {bears.join(", ")}.</p>}
          <ol className="stage-steps">
            {donor.steps.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ol>
        </>
      )}
    </details>
  );
}
