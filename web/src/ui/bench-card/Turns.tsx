import { useState } from "react";
import type { Schemas } from "../../api/client";
import { showSeconds, trimmed } from "../quantity/parse";

const FEW = 5;

/** When to turn a knob to what, for a stage that holds no current. */
export function Turns({ nudges }: { nudges: readonly Schemas["NudgeDoc"][] }) {
  const [all, setAll] = useState(false);
  if (nudges.length === 0) return null;
  const duty = nudges[0]?.duty != null;
  return (
    <div className="turns">
      <table>
        <caption>Turn it up, and note the amps</caption>
        <thead>
          <tr>
            <th scope="col">After</th>
            <th scope="col">{duty ? "Duty" : "To, at most"}</th>
            <th scope="col">Until</th>
          </tr>
        </thead>
        <tbody>
          {nudges.map((nudge, k) => (
            // On paper all of them stand.
            <tr key={nudge.at_s} className="turn-row" hidden={!all && k >= FEW}>
              <td>{nudge.at_s === 0 ? "start" : showSeconds(nudge.at_s)}</td>
              <td>{duty ? `${trimmed((nudge.duty ?? 0) * 100, 0)} %` : `${trimmed(nudge.set_voltage_v ?? 0, 2)} V`}</td>
              <td>{trimmed(nudge.current_a, 2)} A</td>
            </tr>
          ))}
        </tbody>
      </table>
      {nudges.length > FEW && (
        <button
          type="button"
          className="plain-button link turns-more"
          aria-expanded={all}
          onClick={() => {
            setAll(!all);
          }}
        >
          {all ? "Fewer" : `All ${nudges.length} turns`}
        </button>
      )}
    </div>
  );
}
