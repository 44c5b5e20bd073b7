import { expect, test } from "vitest";
import { withChargerKind, withChemistry, withKind } from "./kinds";

test("a supply's volts move to the field its new kind has, what only the old one had goes", () => {
  const bench = { name: "B", kind: "bench_supply", min_voltage_v: 1, max_voltage_v: 30, max_current_a: 5, voltage_step_v: 0.1 } as const;
  expect(withKind(bench, "fixed_supply")).toMatchObject({ name: "B", voltage_v: 30, max_current_a: 5 });
  expect(withKind(bench, "fixed_supply").max_voltage_v).toBeUndefined();
  expect(withKind({ kind: "fixed_supply", voltage_v: 12 }, "adjustable_supply")).toMatchObject({ max_voltage_v: 12 });
  expect(withKind(bench, "mains")).toEqual({ name: "B", notes: undefined, kind: "mains" });
  expect(withKind(bench, "battery").max_current_a).toBeUndefined();
});

test("a charger that becomes a lamp keeps its name and nothing a lamp has not", () => {
  const charger = { name: "C", kind: "hobby_charger", output_max_a: 8, output_max_w: 120 } as const;
  expect(withChargerKind(charger, "lamp")).toEqual({ name: "C", notes: undefined, kind: "lamp" });
  expect(withChargerKind(charger, "linear_module")).toMatchObject({ output_max_a: 8 });
  expect(withChargerKind(charger, "linear_module")).not.toHaveProperty("output_max_w");
  expect(withChargerKind(charger, "dc_dc")).toMatchObject({ output_max_a: 8, output_max_w: 120 });
});

test("a pack that becomes a capacitor asks for its farads", () => {
  const pack = withChemistry({ chemistry: "lipo", series: 6, capacity_ah: 4 }, "supercap");
  expect(pack).toMatchObject({ chemistry: "supercap", series: 6 });
  expect(pack).not.toHaveProperty("capacity_ah");
});
