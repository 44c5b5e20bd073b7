/** Steps of time a person counts in, s. */
const STEPS = [60, 120, 300, 600, 900, 1800, 3600, 7200, 10_800, 21_600, 43_200, 86_400, 172_800];

/** Round times from the start to the end, about six. */
export function timeTicks(end_s: number): number[] {
  const step = STEPS.find((seconds) => end_s / seconds <= 6.5) ?? Math.ceil(end_s / 6 / 86_400) * 86_400;
  const ticks = [];
  for (let t = 0; t <= end_s; t += step) ticks.push(t);
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
