import { degrees } from "../../ui/preferences";
import type { RescueDoc } from "../../api/client";
import { trimmed } from "../../ui/quantity/parse";
import { chargerWords, packWords, sourceWords } from "../../ui/words";
import { answer, type Case, rescueOf } from "./case";
import { BMS_OPTIONS, LOW_FOR_OPTIONS, SIGN_OPTIONS } from "./words";

interface Row {
  pointer: string;
  label: string;
  value: string;
}

const word = <T extends string>(options: readonly { value: T; label: string }[], value: T | "unknown" | "none") =>
  options.find((option) => option.value === value)?.label.toLowerCase() ?? (value === "none" ? "nothing out of the ordinary" : "can’t tell");

/** What was said so far, in the order it was asked. */
export function knownRows(rescue: RescueDoc): Row[] {
  const found = rescue.found ?? {};
  const told = found.cant_tell ?? [];
  const rows: Row[] = [];
  const add = (pointer: string, label: string, value: string | null | undefined) => {
    if (value) rows.push({ pointer, label, value });
    else if (told.includes(pointer)) rows.push({ pointer, label, value: "can’t tell" });
  };
  add("/pack", "Pack", rescue.pack && packWords(rescue.pack));
  add("/found/bms", "Board", found.bms && word(BMS_OPTIONS, found.bms));
  add("/found/signs", "Looks", found.signs?.map((sign) => word(SIGN_OPTIONS, sign)).join(", "));
  add("/found/temperature_c", "Warmth", found.temperature_c == null ? undefined : degrees(found.temperature_c));
  add("/found/terminal_v", found.woken ? "Terminals, woken" : "Terminals", found.terminal_v == null ? undefined : `${trimmed(found.terminal_v, 3)} V`);
  add("/found/cells_reachable", "Cells", found.cells_reachable === false ? "cannot be reached" : undefined);
  add("/found/cell_voltages_v", "Each cell", found.cell_voltages_v && `${found.cell_voltages_v.map((v) => trimmed(v, 3)).join("  ")} V`);
  add("/found/block_voltages_v", "Each block", found.block_voltages_v && `${found.block_voltages_v.map((v) => trimmed(v, 3)).join("  ")} V`);
  add("/found/low_for", "Low for", found.low_for && word(LOW_FOR_OPTIONS, found.low_for));
  add("/source", "To feed it", rescue.source && [rescue.source.name ?? sourceWords(rescue.source), rescue.charger && `through ${rescue.charger.name ?? chargerWords(rescue.charger)}`].filter(Boolean).join(" "));
  add("/handover", "Its charger", rescue.handover && [rescue.handover.name ?? chargerWords(rescue.handover), rescue.handover.min_start_v != null && `from ${trimmed(rescue.handover.min_start_v, 2)} V`].filter(Boolean).join(" "));
  return rows;
}

/** What is known, each line with the way to say it anew; fixed while a stage is under way. */
export function Known({ one, fixed }: { one: Case; fixed: boolean }) {
  const rows = knownRows(rescueOf(one));
  if (rows.length === 0) return null;
  return (
    <section className="known" aria-label="What is known">
      <h2>What is known</h2>
      <dl>
        {rows.map(({ pointer, label, value }) => (
          <div key={pointer}>
            <dt>{label}</dt>
            <dd>
              <span className={/\d/.test(value) ? "figures" : ""}>{value}</span>
              {!fixed && (
                <button
                  type="button"
                  className="plain-button known-again"
                  aria-label={`Say anew: ${label}`}
                  onClick={() => {
                    if (pointer === "/source") answer("/charger", undefined);
                    if (pointer === "/found/terminal_v") answer("/found/woken", undefined);
                    answer(pointer, undefined);
                  }}
                >
                  anew
                </button>
              )}
            </dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
