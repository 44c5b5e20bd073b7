import { render, screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { fieldWords, placeOf, problemWords } from "../../ui/documents/fieldWords";
import { result } from "../../testing/result";
import { NoCard } from "./NoCard";
import { shapeOf } from "./useAnswer";

const nothing = { result: undefined, stale: true, last: result(), problems: [], failure: undefined, unfinished: undefined };

test("what a plan still lacks stands in place of its card, in words, and leads there", () => {
  const show = vi.fn();
  const needs = { pointer: "/charger/output_max_v", message: "this is needed and not said", allowed: "0.1 to 1000 V" };
  render(<NoCard answer={{ ...nothing, problems: [needs] }} onShow={show} />);
  screen.getByRole("button", { name: "The charger, highest voltage: This is needed and not said. Allowed: 0.1 to 1000 V." }).click();
  expect(show).toHaveBeenCalledWith("charger");
  expect(screen.queryByText(/25\.2/)).toBeNull();
  expect(screen.queryByRole("button", { name: /Print|Start/ })).toBeNull();
});

test("an open question withholds the card", () => {
  render(<NoCard answer={{ ...nothing, result: result() }} held onShow={() => undefined} />);
  expect(screen.getByText(/Answer the question first/)).toBeDefined();
  expect(screen.queryByRole("button", { name: /Print|Start/ })).toBeNull();
});

test("a server that is away leaves no card either", () => {
  render(<NoCard answer={{ ...nothing, result: result(), failure: "Rumek cannot be reached." }} onShow={() => undefined} />);
  expect(screen.getByText(/has not been computed\. Rumek cannot be reached/)).toBeDefined();
});

test.each([
  ["/source/min_voltage_v", "the supply, lowest voltage", "source"],
  ["/leads/input/length_m", "the lead to the charger, length, one way", "input_lead"],
  ["/pack/start/cell_voltages_v/2", "the pack, cell voltages", "pack"],
  ["/settings", "your own settings", "settings"],
  ["/practice", "practice", undefined],
  ["", "the plan", undefined],
])("%s is %s", (pointer, words, place) => {
  expect(fieldWords(pointer)).toBe(words);
  expect(placeOf(pointer)).toBe(place);
});

test.each([
  ["/source/kind", "bench_supply, wall_adapter, mains", "The supply, kind: This is needed. Allowed: bench supply, wall adapter, mains."],
  ["/pack/series", "1 to 200, or label_v", "The pack, cells in series: This is needed. Allowed: 1 to 200, or voltage on the label."],
  ["/pack/chemistry", "li_ion, lead_agm", "The pack, chemistry: This is needed. Allowed: Li-ion, Lead, AGM."],
])("what is wrong at %s is said without a code", (pointer, allowed, words) => {
  expect(problemWords({ pointer, message: "this is needed", allowed })).toBe(words);
});

test("figures stay only beside the fields of the same pack on the same chain", () => {
  const plan = { pack: { chemistry: "lipo" as const, series: 6 }, source: { kind: "bench_supply" as const } };
  const shape = shapeOf(plan, 1);
  expect(shapeOf({ ...plan, pack: { ...plan.pack, capacity_ah: 4 } }, 1)).toBe(shape);
  expect(shapeOf(plan, 2)).not.toBe(shape);
  expect(shapeOf({ ...plan, source: { kind: "adjustable_supply" } }, 1)).not.toBe(shape);
  expect(shapeOf({ ...plan, pack: { ...plan.pack, chemistry: "lfp" } }, 1)).not.toBe(shape);
  expect(shapeOf({ ...plan, charger: { kind: "lamp" } }, 1)).not.toBe(shape);
  expect(shapeOf({ ...plan, leads: { output: { awg: 18 } } }, 1)).not.toBe(shape);
});
