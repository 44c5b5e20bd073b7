import type { Place, ResultDoc } from "../../api/client";
import type { Moment } from "../../ui/chart/moment";
import type { PipeStage } from "../../ui/pipe/chain";
import { trimmed } from "../../ui/quantity/parse";
import { LIMIT_WORDS } from "../../ui/words";

export interface DrawnChain {
  stages: PipeStage[];
  tee: PipeStage | undefined;
  widestA: number;
  narrowestA: number;
  flowA: number;
  flowWords: string;
}

/** The stage a limit belongs to, as the core says with every limit it names. */
const placeOf = (result: ResultDoc, limit: Moment["limit"]): Place | undefined =>
  [...result.pinch, ...result.limits].find((one) => one.limit === limit)?.at;

/** What a stage could do with its amps; it could give them where nothing else is said. */
const COULD: Partial<Record<Place, string>> = {
  pack: "could take",
  input_lead: "could carry",
  output_lead: "could carry",
  cut_off: "could carry",
};

/** The chain of an answer at one moment, ready to be drawn. */
export function drawnChain(result: ResultDoc, moment: Moment | undefined): DrawnChain {
  const charging = result.stages[0]?.at === "source";
  const amps = moment?.stage_a ?? stillAmps(result);
  const pinchAt = moment && placeOf(result, moment.limit);
  const teeAt = charging ? result.stages.findIndex((stage) => stage.at === "load") : -1;
  const teeA = teeAt >= 0 ? (amps[teeAt] ?? 0) : 0;
  const intoPack = moment?.current_a ?? 0;
  const totalA = charging ? intoPack + teeA : -intoPack;
  const all = result.stages.map((stage, k): PipeStage => {
    const couldA = amps[k] ?? 0;
    const pinch = charging && stage.at === pinchAt;
    const limits = !charging || stage.at === "load" || result.limits.some((limit) => limit.at === stage.at);
    return {
      at: stage.at,
      name: stage.label,
      rating: stage.rating,
      couldA,
      pinch,
      foot: !pinch && !limits ? "limits nothing here" : moment ? foot(stage.at, couldA, totalA, moment, pinch, charging) : stillFoot(stage.at, couldA, stage.rating),
    };
  });
  const main = all.filter((_, k) => k !== teeAt);
  const mainAmps = (from: readonly number[]) => from.filter((_, k) => k !== teeAt);
  const everA = result.curve.length > 0 ? result.curve.flatMap((point) => mainAmps(point.stage_a)) : mainAmps(amps);
  const largest = Math.max(...result.curve.map((point) => Math.abs(point.current_a)), 0);
  return {
    stages: main,
    tee: all[teeAt],
    widestA: Math.max(...everA, 0),
    narrowestA: Math.min(...mainAmps(result.curve[0]?.stage_a ?? amps), largest || Number.POSITIVE_INFINITY),
    flowA: charging ? Math.max(intoPack, 0) : Math.max(totalA, 0),
    flowWords: flowWords(moment, charging),
  };
}

function flowWords(moment: Moment | undefined, charging: boolean): string {
  if (!moment) return "nothing flows";
  const amps = `${trimmed(Math.abs(moment.current_a), 2)} A ${charging && moment.current_a >= 0 ? "into the pack" : "out of the pack"}`;
  return `${amps} · ${trimmed(moment.pack_v, 2)} V · ${trimmed(Math.abs(moment.power_w), 0)} W`;
}

/** Without a charge the limits at the first moment stand for the stages; a stage without one is as wide as the least. */
function stillAmps(result: ResultDoc): number[] {
  const least = Math.min(...result.limits.map((limit) => limit.current_a));
  return result.stages.map(({ at }) => {
    const own = result.limits.filter((limit) => limit.at === at).map((limit) => limit.current_a);
    if (own.length > 0) return Math.min(...own);
    return at !== "load" && Number.isFinite(least) ? least : 0;
  });
}

function foot(at: Place, couldA: number, totalA: number, moment: Moment, pinch: boolean, charging: boolean): string {
  const amps = `${trimmed(couldA, 2)} A`;
  if (at === "load") return `draws ${amps}`;
  if (!charging) return `gives ${amps}`;
  if (pinch) return `the pinch: ${LIMIT_WORDS[moment.limit]}, ${amps}`;
  if (moment.overloaded?.includes(at)) return `overloaded: may carry ${amps}`;
  return `${COULD[at] ?? "could give"} ${amps}, ${trimmed(couldA - totalA, 2)} A to spare`;
}

/** While nothing flows everything a stage has is to spare. */
function stillFoot(at: Place, couldA: number, rating: string): string {
  if (at === "load") return `would draw ${rating}`;
  const amps = `${trimmed(couldA, 2)} A`;
  return `${COULD[at] ?? "could give"} ${amps}, ${amps} to spare`;
}
