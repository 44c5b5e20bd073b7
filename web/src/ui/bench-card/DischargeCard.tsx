import { told } from "../preferences";
import { Button } from "antd";
import type { Schemas } from "../../api/client";
import { showSeconds, trimmed } from "../quantity/parse";
import { Emergency } from "./Emergency";
import "./bench-card.css";

interface Props {
  discharge: Schemas["DischargeDoc"];
  emergency: string[];
  before: boolean;
  onStart?: () => void;
}

const INTO: Record<Schemas["DischargeBy"], string> = {
  charger: "by the charger’s own discharger",
  resistor: "through the resistor",
  lamp: "through the lamps",
  electronic_load: "by the load",
  source: "back into what feeds it",
};

/** The page to take along where the pack stands above its goal: how it comes down, how long and how hot. */
export function DischargeCard({ discharge, emergency, before, onStart }: Props) {
  const { phase, checks, steps, by } = discharge;
  return (
    <section className={before ? "card dimmed before" : "card"} aria-label={before ? "Before your change" : "Bench card"}>
      <div className="card-head">
        <h2>{before ? "Before your change" : "It comes down"}</h2>
        {before && <span className="muted">not to go by</span>}
        {!before && phase && onStart && (
          <Button type="primary" size="small" onClick={onStart}>
            Start
          </Button>
        )}
      </div>
      {phase ? (
        <div className="card-discharge">
          <p>
            <strong className="figures">{trimmed(phase.charge_ah, 2)} Ah</strong> out {INTO[by]}, {trimmed(phase.energy_wh, 1)} Wh.
          </p>
          <p>
            It takes {showSeconds(phase.to_s - phase.from_s)} ({showSeconds(phase.takes_low_s)} to {showSeconds(phase.takes_high_s)}), at most {trimmed(phase.current_a, 2)} A; {trimmed(phase.heat_w, 0)} W of heat at the hottest.
          </p>
        </div>
      ) : (
        <p>Nothing is to be connected until what stops it is resolved.</p>
      )}
      <ul className="card-discharge-checks">
        {checks.map(({ code, severity, message }) => (
          <li key={code + message}>
            <strong>{severity}</strong> {told(message)}
          </li>
        ))}
      </ul>
      <ol className="card-discharge-steps">
        {steps.map(({ message }, n) => (
          <li key={n}>{told(message)}</li>
        ))}
      </ol>
      <Emergency said={emergency} />
    </section>
  );
}
