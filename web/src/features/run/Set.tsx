import type { ResultDoc, Schemas } from "../../api/client";
import { showHours, trimmed } from "../../ui/quantity/parse";

/** What is set, and where it stops: for whoever stands before it. */
export function Set({ result, settings }: { result: ResultDoc; settings: Schemas["ResultSettingsDoc"] }) {
  const load = result.resolved.load != null;
  const stops = [
    settings.stop_current_a != null && `the current falls to ${trimmed(settings.stop_current_a, 3)} A${load ? " into the pack" : ""}`,
    settings.stop_voltage_v != null && `the terminals come to ${trimmed(settings.stop_voltage_v, 2)} V`,
    settings.stop_charge_ah != null && `${trimmed(settings.stop_charge_ah, 2)} Ah have gone in`,
    settings.time_limit_h != null && `it has run for ${showHours(settings.time_limit_h)}`,
  ].filter(Boolean);
  const turned = result.nudges.length > 0;
  return (
    <p className="run-set">
      <span>
        {turned ? "Turned up to at most" : "Set to"}{" "}
        <b className="figures">
          {trimmed(settings.dial_voltage_v, 2)} V · {trimmed(settings.dial_current_a, 2)} A
        </b>
      </span>
      {stops.length > 0 && (
        <span>
          Stop when <b>{stops.join(", or ")}</b>
        </span>
      )}
    </p>
  );
}
