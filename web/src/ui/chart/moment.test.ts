import { expect, test } from "vitest";
import type { CurvePoint } from "../../api/client";
import { momentAt } from "./moment";

const point = (t_s: number, current_a: number, limit: CurvePoint["limit"]): CurvePoint => ({
  t_s,
  current_a,
  limit,
  pack_v: 20,
  power_w: 20 * current_a,
  soc: t_s / 100,
  stage_a: [current_a, 9],
});
const curve = [point(0, 4, "pack_rating"), point(60, 4, "set_voltage"), point(100, 2, "set_voltage")];

test("between points the values are mixed and the limit is the span's", () => {
  expect(momentAt(curve, 80)).toMatchObject({ current_a: 3, limit: "set_voltage", stage_a: [3, 9] });
  expect(momentAt(curve, 59)?.limit).toBe("pack_rating");
});

test("outside the curve its ends stand", () => {
  expect(momentAt(curve, -5)?.t_s).toBe(0);
  expect(momentAt(curve, 1e6)?.t_s).toBe(100);
  expect(momentAt([], 0)).toBeUndefined();
});
