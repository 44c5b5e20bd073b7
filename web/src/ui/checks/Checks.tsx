import { told } from "../preferences";
import type { CheckDoc } from "../../api/client";
import { PLACE_WORDS } from "../words";
import "./checks.css";

interface Props {
  checks: CheckDoc[];
  onShow: (at: CheckDoc["at"]) => void;
  onAccept: (check: CheckDoc, accepted: boolean) => void;
  /** Takes the pack to Rescue. */
  onRescue: () => void;
}

const placeWords = (at: CheckDoc["at"]) => PLACE_WORDS[at].toLowerCase();

const MARKS = { stop: "■", caution: "▲", note: "·" } as const;

/** What to mind, gravest first, each with its number and reason and the way to the stage it concerns. */
export function Checks({ checks, onShow, onAccept, onRescue }: Props) {
  if (checks.length === 0) return null;
  return (
    <section className="checks" aria-label="Checks">
      <h2>Checks</h2>
      <ul>
        {checks.map((check) => (
          <li key={check.code + check.message} className={`check ${check.severity}`}>
            <span className="check-mark" aria-hidden="true">
              {MARKS[check.severity]}
            </span>
            <div>
              <p>
                <span className={check.severity === "note" ? "unseen" : "check-grade"}>
                  {check.accepted ? "stop, accepted" : check.severity}:
                </span>{" "}
                {told(check.message)}{" "}
                {check.severity !== "note" && (
                  <button
                    type="button"
                    className="plain-button check-show"
                    aria-label={`Show the ${placeWords(check.at)}`}
                    onClick={() => {
                      onShow(check.at);
                    }}
                  >
                    {placeWords(check.at)} →
                  </button>
                )}
              </p>
              {check.severity === "stop" && !check.accepted && (check.lifts ?? []).length > 0 && (
                <ul className="check-lifts" aria-label="What lifts this stop">
                  {(check.lifts ?? []).map(({ does }) => (
                    <li key={does}>{told(does)}</li>
                  ))}
                </ul>
              )}
              {check.rescue && (
                <button type="button" className="plain-button check-show" onClick={onRescue}>
                  Take it to Rescue →
                </button>
              )}
              {check.acceptable && (
                <label className="check-accept">
                  <input
                    type="checkbox"
                    checked={check.accepted}
                    onChange={(event) => {
                      onAccept(check, event.target.checked);
                    }}
                  />{" "}
                  I have checked this and accept it for these values
                </label>
              )}
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
