/** The drawn shape of the chain: every width is amps at the pack, to one scale. */
export interface PipeInput {
  /** What each stage could deliver at the pack, A, in the direction of the current. */
  stageA: readonly number[];
  /** How much of the length each stage takes, in the same order; any unit. */
  weights: readonly number[];
  /** The widest and the narrowest stage of the whole charge, A: the scale stays while the cursor moves. */
  widestA: number;
  narrowestA: number;
  /** What flows into the last stage, and what is teed off before it, A. */
  flowA: number;
  teeA: number;
  width: number;
  height: number;
}

export interface PipeShape {
  wall: string;
  flow: string;
  tee: string | undefined;
  /** Where each stage lies. */
  stages: { from: number; to: number; half: number; clipped: boolean }[];
  /** Half the thickness of the flow at the last stage. */
  flowHalf: number;
  middle: number;
  /** A round number of amps and its length. */
  ruler: { amps: number; length: number };
}

/** Wider than this many times the narrowest, a stage is drawn cut off: else the narrowest would be a hair. */
const CLIP = 6;
const BEND = 26;
const ROOM = 8;

export function layout({ stageA, weights, widestA, narrowestA, flowA, teeA, width, height }: PipeInput): PipeShape {
  const middle = height / 2;
  const most = middle - ROOM;
  const shownA = Math.max(Math.min(widestA, CLIP * Math.max(narrowestA, 1e-9)), flowA + teeA, 1e-6);
  const perA = most / shownA;
  const n = stageA.length;
  const ends = edges(weights, width);
  const stages = stageA.map((amps, k) => ({
    from: ends[k] ?? 0,
    to: ends[k + 1] ?? width,
    half: Math.min(amps * perA, most),
    clipped: amps > shownA * 1.001,
  }));
  const flowHalf = Math.max(flowA, 0) * perA;
  const before = Math.max(flowA + teeA, 0) * perA;
  const flowHalves = stages.map((_, k) => (k === n - 1 ? flowHalf : before));
  const junction = stages.at(-1)?.from ?? 0;
  const teeHalf = teeA * perA;
  return {
    wall: band(stages, stages.map((stage) => stage.half), middle),
    flow: band(stages, flowHalves, middle),
    tee: teeA > 0 ? `M${junction - BEND - teeHalf},${middle} V${height} H${junction - BEND + teeHalf} V${middle} Z` : undefined,
    stages,
    flowHalf,
    middle,
    ruler: ruler(shownA, perA),
  };
}

/** Where each stage begins, and where the last one ends. */
function edges(weights: readonly number[], width: number): number[] {
  const sum = weights.reduce((a, b) => a + b, 0);
  let end = 0;
  return [0, ...weights.map((weight) => (end += (weight / sum) * width))];
}

/** A closed band around the middle, its edges bending where stages meet. */
function band(stages: readonly { from: number; to: number }[], halves: readonly number[], middle: number): string {
  const edge = (sign: number) => halves.map((half) => middle + sign * half);
  const top = edge(-1);
  const bottom = edge(1);
  const last = stages.at(-1);
  if (!last) return "";
  let path = `M0,${round(top[0])}`;
  for (let k = 1; k < stages.length; k++) path += bend(stages[k]?.from ?? 0, top[k - 1], top[k], 1);
  path += ` H${last.to} V${round(bottom.at(-1))}`;
  for (let k = stages.length - 1; k > 0; k--) path += bend(stages[k]?.from ?? 0, bottom[k], bottom[k - 1], -1);
  return `${path} H0 Z`;
}

function bend(x: number, from = 0, to = 0, direction: 1 | -1): string {
  const start = x - direction * BEND;
  const end = x + direction * BEND;
  return ` H${start} C${x},${round(from)} ${x},${round(to)} ${end},${round(to)}`;
}

const round = (value = 0) => Math.round(value * 100) / 100;

/** A round number of amps about a third of the height long. */
function ruler(shownA: number, perA: number) {
  const wanted = shownA * 0.7;
  const power = 10 ** Math.floor(Math.log10(wanted));
  const step = [5, 2, 1].find((factor) => factor * power <= wanted) ?? 1;
  const amps = step * power;
  return { amps, length: 2 * amps * perA };
}
