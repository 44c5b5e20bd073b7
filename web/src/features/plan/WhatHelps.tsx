import { Button } from "antd";
import type { ResultDoc, Schemas } from "../../api/client";
import { showSeconds, trimmed } from "../../ui/quantity/parse";
import { WITHOUT_WORDS } from "../../ui/words";

interface Props {
  result: ResultDoc;
  /** Goes to the reverse questions. */
  onAsk: () => void;
  /** Goes to other chains before the same pack. */
  onCompare: () => void;
}

/** A bar per limit: the minutes, or the charge, it alone costs; and the verdict. */
export function WhatHelps({ result, onAsk, onCompare }: Props) {
  const gain = (entry: Schemas["WhatIfDoc"]) => entry.gains_soc ?? entry.saves_s / 3600;
  const most = Math.max(...result.what_if.map(gain), result.what_if.some((entry) => entry.gains_soc != null) ? 0.05 : 1 / 60);
  return (
    <section className="helps" aria-label="What would help">
      <div className="helps-head">
        <h2>What would help</h2>
        <Button size="small" type="link" className="helps-ask" onClick={onAsk}>
          How big, how many?
        </Button>
      </div>
      <p>
        {result.verdict ?? "Nothing to compare in this plan."}{" "}
        <button type="button" className="plain-button link" onClick={onCompare}>
          Compare with other chains
        </button>
      </p>
      <ul>
        {result.what_if.map((entry) => (
          <li key={entry.message} title={`${entry.message}.`}>
            <span>{sizeOf(entry) || WITHOUT_WORDS[entry.without]}</span>
            <svg className="helps-bar" viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
              <rect className={entry.advised ? "advised" : ""} width={Math.max((100 * gain(entry)) / most, 1.5)} height="10" />
            </svg>
            <span className="figures">{gainWords(entry)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function gainWords(entry: Schemas["WhatIfDoc"]): string {
  if (entry.gains_soc != null) return `+${trimmed(entry.gains_soc * 100, 0)} %`;
  return entry.saves_s < 30 ? "0 min" : `−${showSeconds(entry.saves_s)}`;
}

/** The next size that can be bought, in words; nothing where the limit was taken away altogether. */
function sizeOf({ at, size }: Schemas["WhatIfDoc"]): string {
  const figure = size?.current_a != null ? `${trimmed(size.current_a, 1)} A` : size?.power_w != null ? `${trimmed(size.power_w, 0)} W` : "";
  if (figure === "") return "";
  return `${at === "source" ? "Supply" : "Charger"} of ${figure}`;
}
