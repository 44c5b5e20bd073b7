import type { CurvePoint, ResultDoc } from "../api/client";

/** One moment of a curve. */
export const point = (t_s: number, current_a: number, limit: CurvePoint["limit"], stage_a: number[]): CurvePoint => ({
  t_s,
  pack_v: 23,
  current_a,
  power_w: 23 * current_a,
  soc: 0.3 + t_s / 10_000,
  limit,
  stage_a,
});

/** An answer as the core gives it, for a tow-plane on a bench supply. */
export function result(changes: Partial<ResultDoc> = {}): ResultDoc {
  return {
    format: "rumek.result/1",
    resolved: { format: "rumek.plan/1", pack: { series: 6, goal: { kind: "full" } }, source: { kind: "bench_supply" } },
    assumed: [],
    emergency: ["Mains off at the switch. Do not touch or carry it.", "Everybody out, door shut, call the fire service."],
    settings: {
      voltage_v: 25.2,
      true_voltage_v: 25.2,
      dial_voltage_v: 25.2,
      voltage_at: "source",
      voltage_means: "dialled",
      current_a: 4,
      dial_current_a: 4,
      current_at: "source",
      current_means: "dialled",
      expect_a: 4,
      current_limited_by: "pack_rating",
    },
    verdict: "The supply does not limit this charge: the pack's own safe rate does. Nothing bigger would help.",
    start: { soc: 0.3, soc_low: 0.28, soc_high: 0.32, pack_voltage_v: 22.5, current_a: 4, c_rate: 1 },
    time: { to_cv_s: 2700, to_80_s: 1800, total_s: 3600, total_low_s: 3300, total_high_s: 4000 },
    delivered: { charge_ah: 2.8, energy_wh: 66, source_wh: 66, mains_wh: 76, heat_wh: 11, pack_heat_wh: 1, cost: null },
    end: { soc: 0.98, after_s: 3600, reason: "taper", fill_voltage_v: null },
    stages: [
      { at: "source", label: "Small bench supply", rating: "0–30 V · 5 A", heat_wh: 9 },
      { at: "pack", label: "Tow-plane", rating: "6S · 4 Ah LiPo", heat_wh: 1 },
    ],
    limits: [
      { limit: "pack_rating", at: "pack", current_a: 4 },
      { limit: "source_current", at: "source", current_a: 5 },
    ],
    pinch: [
      { from_s: 0, to_s: 2700, limit: "pack_rating", at: "pack" },
      { from_s: 2700, to_s: 3600, limit: "set_voltage", at: "pack" },
    ],
    what_if: [],
    nudges: [],
    checks: [],
    steps: [],
    cells: [],
    curve: [point(0, 4, "pack_rating", [5, 4]), point(2700, 4, "set_voltage", [5, 4]), point(3600, 0.4, "set_voltage", [5, 0.4])],
    ...changes,
  };
}
