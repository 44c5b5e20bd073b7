import type { CurvePoint } from "../../api/client";

export interface Moment {
  t_s: number;
  pack_v: number;
  current_a: number;
  power_w: number;
  soc: number;
  limit: CurvePoint["limit"];
  stage_a: number[];
  overloaded?: CurvePoint["overloaded"];
}

/** What the curve says at a time: straight between its points, the limit of the span it lies in. */
export function momentAt(curve: readonly CurvePoint[], t_s: number): Moment | undefined {
  const after = curve.findIndex((point) => point.t_s > t_s);
  if (after <= 0) return after === 0 ? curve[0] : curve.at(-1);
  const [a, b] = [curve[after - 1], curve[after]];
  if (!a || !b) return undefined;
  const share = (t_s - a.t_s) / (b.t_s - a.t_s);
  const mix = (from: number, to: number) => from + share * (to - from);
  return {
    t_s,
    pack_v: mix(a.pack_v, b.pack_v),
    current_a: mix(a.current_a, b.current_a),
    power_w: mix(a.power_w, b.power_w),
    soc: mix(a.soc, b.soc),
    limit: a.limit,
    overloaded: a.overloaded,
    stage_a: a.stage_a.map((amps, k) => mix(amps, b.stage_a[k] ?? amps)),
  };
}
