import { told } from "../../ui/preferences";
import { Button, Segmented } from "antd";
import type { RescueResultDoc, Schemas } from "../../api/client";
import { useRows } from "../../api/shelves";
import { Emergency } from "../../ui/bench-card/Emergency";
import { Donor } from "./Donor";
import { answer, type Case, rescueOf } from "./case";
import { VERDICT_MARKS, VERDICT_WORDS } from "./words";

const MARKS = { stop: "■", caution: "▲", note: "·" } as const;
const PRACTICES = [
  { value: "cautious", label: "cautious" },
  { value: "experienced", label: "experienced" },
] as const;

interface Props {
  one: Case;
  result: RescueResultDoc;
  dimmed: boolean;
}

/** The verdict, why, what would change it, and what the other practice says. */
export function VerdictPanel({ one, result, dimmed }: Props) {
  const fixed = one.document.stage != null || one.document.outcome != null;
  return (
    <section className={`verdict ${result.verdict}${dimmed ? " dimmed" : ""}`} aria-label="Verdict">
      <div className="verdict-head">
        <h2>{result.ask.length > 0 ? "As it looks so far" : "Verdict"}</h2>
        <Segmented
          size="small"
          aria-label="Practice"
          disabled={fixed}
          options={[...PRACTICES]}
          value={rescueOf(one).practice ?? "cautious"}
          onChange={(practice) => {
            answer("/practice", practice);
          }}
        />
      </div>
      <p className="verdict-word">
        <span aria-hidden="true">{VERDICT_MARKS[result.verdict]}</span> {VERDICT_WORDS[result.verdict]}
      </p>
      <p>{told(result.message)}</p>
      <Emergency said={result.emergency} />
      {result.ask.length > 0 && <p className="muted">What is not said yet counts as the dangerous case.</p>}
      <ul className="reasons">
        {result.reasons.map((reason) => (
          <li key={reason.code + reason.message} className={`check ${reason.severity}`}>
            <span className="check-mark" aria-hidden="true">
              {MARKS[reason.severity]}
            </span>
            <div>
              <p>{told(reason.message)}</p>
              {reason.would_change && <p className="muted">{reason.would_change}</p>}
            </div>
          </li>
        ))}
      </ul>
      {result.other_practice_message && (
        <p className="verdict-other">
          <b>The {rescueOf(one).practice === "experienced" ? "cautious" : "experienced"} practice says: {VERDICT_WORDS[result.other_practice].toLowerCase()}.</b>{" "}
          {result.other_practice_message}
        </p>
      )}
      {result.disposal && (
        <p className="verdict-disposal">
          <b>Where it goes.</b> {result.disposal}
        </p>
      )}
      {result.gear && <Fit fit={result.gear} />}
      {result.alternatives.length > 0 && <Alternatives fits={result.alternatives} fixed={fixed} />}
      {(result.donor || (result.ask.length === 0 && result.verdict !== "retire")) && <Donor one={one} donor={result.donor} fixed={fixed} />}
    </section>
  );
}

function Fit({ fit }: { fit: Schemas["FitDoc"] }) {
  return (
    <p className="fit">
      <b>{fit.fits ? `${fit.name} does.` : `${fit.name} does not do.`}</b> {told(fit.message)}
    </p>
  );
}

/** What else in the gear is gentle enough. */
function Alternatives({ fits, fixed }: { fits: Schemas["FitDoc"][]; fixed: boolean }) {
  const sources = useRows("supplies").data ?? [];
  const chargers = useRows("chargers").data ?? [];
  return (
    <div className="fits">
      <h3>In your gear, gentle enough</h3>
      <ul>
        {fits.map((fit) => (
          <li key={fit.name}>
            <p>
              <b>{fit.name}.</b> {told(fit.message)}
            </p>
            {!fixed && (
              <Button
                size="small"
                onClick={() => {
                  answer("/charger", fit.charger == null ? undefined : chargers[fit.charger]?.document);
                  answer("/source", sources[fit.source ?? -1]?.document);
                }}
              >
                Take this
              </Button>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
