import { stopwatch } from "../clock";
import { showSeconds } from "../quantity/parse";

/** Steps of time a person counts in, s. */
const STEPS = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 10_800, 21_600, 43_200, 86_400, 172_800];

/** Room a time takes, CSS pixels. */
const ROOM = 95;

export interface Tick {
  t_s: number;
  words: string;
}

/** Round times from the start to the end, as many as there is room for, in words. */
export function timeTicks(end_s: number, width: number, from_s = 0): Tick[] {
  const most = Math.max(width / ROOM, 1.5);
  const span_s = end_s - from_s;
  const step = STEPS.find((seconds) => span_s / seconds <= most) ?? Math.ceil(span_s / most / 86_400) * 86_400;
  const words = (t_s: number) => (step < 60 ? stopwatch(t_s) : showSeconds(t_s).replace(/ h 00$/, " h"));
  const ticks = [];
  for (let n = Math.ceil(from_s / step); n * step <= end_s; n++) {
    const t_s = n * step;
    ticks.push({ t_s, words: t_s < 0 ? `−${words(-t_s)}` : words(t_s) });
  }
  return ticks;
}

const APART = 15;

/** Moves labels apart so that none lies on another, keeping their order. */
export function spreadLabels<L extends { y: number }>(labels: L[]): L[] {
  const sorted = [...labels].sort((a, b) => a.y - b.y);
  for (let n = 1; n < sorted.length; n++) {
    const [above, here] = [sorted[n - 1], sorted[n]];
    if (above && here && here.y - above.y < APART) sorted[n] = { ...here, y: above.y + APART };
  }
  return sorted;
}
