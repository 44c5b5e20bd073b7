import type { ResultDoc } from "../../api/client";
import { showSeconds, trimmed } from "../../ui/quantity/parse";
import { LIMIT_WORDS } from "../../ui/words";

const GOALS = { full: "full", soc: "there", storage: "at storage", float: "at float" } as const;

/** The answer in one line. */
export function summary(result: ResultDoc): string[] {
  const { end, time } = result;
  const after = showSeconds(end.after_s);
  switch (end.reason) {
    case "refused":
      return ["no settings: a stop stands"];
    case "stalled":
      return [
        `stalls at ${trimmed(end.soc * 100, 0)} %`,
        end.fill_voltage_v == null ? `after ${after}` : `${trimmed(end.fill_voltage_v, 2)} V would fill it`,
      ];
    case "discharging":
      return [result.settings ? `runs down in ${after}` : `runs for ${after}`];
    case "goal_below_start":
      return ["it already holds more than the goal"];
    case "cut_off":
      return [`the relay opens in ${after} at ${trimmed(end.soc * 100, 0)} %`, ...limiting(result)];
    case "source_empty":
      return [`the battery that feeds it is empty in ${after}`, `the pack at ${trimmed(end.soc * 100, 0)} %`];
    default: {
      const goal = GOALS[result.resolved.pack?.goal?.kind ?? "full"];
      const done = `${["time_limit", "enough_charge"].includes(end.reason) && end.soc < 0.9 ? "ends" : goal} in ${showSeconds(time.total_s ?? end.after_s)}`;
      const to80 = time.to_80_s != null && time.to_80_s > 0 && end.soc > 0.85 ? [`80 % in ${showSeconds(time.to_80_s)}`] : [];
      return [done, ...to80, ...limiting(result)];
    }
  }
}

/** The limit that binds longest before the voltage is reached. */
function limiting(result: ResultDoc): string[] {
  const longest = result.pinch
    .filter((span) => span.limit !== "set_voltage")
    .sort((a, b) => b.to_s - b.from_s - (a.to_s - a.from_s))[0];
  return longest ? [`limited by the ${LIMIT_WORDS[longest.limit]}`] : [];
}

export function Summary({ result, dimmed }: { result: ResultDoc; dimmed: boolean }) {
  const parts = summary(result);
  return (
    <p className={dimmed ? "summary dimmed" : "summary"}>
      {parts.map((part, k) => (
        <span key={part}>
          {k > 0 && <span className="muted"> · </span>}
          {k === 0 ? <strong>{part}</strong> : part}
        </span>
      ))}
    </p>
  );
}
