import { stopwatch } from "../../ui/clock";
import { showSeconds } from "../../ui/quantity/parse";

export interface Countdown {
  text: string;
  due: boolean;
  /** By how much it is late, where that is a minute or more. */
  late?: string;
}

/** How long until a look, as it is seen from across the room. */
export function countdown(ms: number): Countdown {
  if (ms <= 0) {
    const late_s = Math.floor(-ms / 60_000) * 60;
    return { text: "Look now", due: true, ...(late_s > 0 ? { late: showSeconds(late_s) } : {}) };
  }
  const left_s = Math.ceil(ms / 1000);
  if (left_s >= 3600) return { text: showSeconds(Math.ceil(left_s / 60) * 60), due: false };
  return { text: stopwatch(left_s), due: false };
}
