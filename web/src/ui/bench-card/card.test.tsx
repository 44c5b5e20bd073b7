import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, expect, test } from "vitest";
import { result } from "../../testing/result";
import { BenchCard } from "./BenchCard";
import { Turns } from "./Turns";
import { Wiring } from "./Wiring";

afterEach(cleanup);

const nudge = (k: number) => ({ at_s: k * 1800, set_voltage_v: 12.5 + k / 10, duty: null, current_a: 4.8 });

test("a few turns are shown, all on request", () => {
  render(<Turns nudges={Array.from({ length: 8 }, (_, k) => nudge(k))} />);
  expect(screen.getAllByRole("row")).toHaveLength(6);
  expect(screen.getByText("12.5 V")).toBeTruthy();
  fireEvent.click(screen.getByRole("button", { name: "All 8 turns" }));
  expect(screen.getAllByRole("row")).toHaveLength(9);
});

test("a duty is turned as a share", () => {
  render(<Turns nudges={[{ at_s: 0, set_voltage_v: null, duty: 0.74, current_a: 2 }]} />);
  expect(screen.getByText("74 %")).toBeTruthy();
});

test("the wiring is drawn for this very case", () => {
  const { rerender } = render(<Wiring resolved={{ source: { units: 2, wiring: "series" } }} />);
  expect(screen.getByRole("img", { name: /2 supplies in series/ })).toBeTruthy();
  rerender(<Wiring resolved={{ source: { units: 6, wiring: "parallel" } }} />);
  expect(screen.getByText(/plus from one end, minus from the other, 6 in all/)).toBeTruthy();
  rerender(<Wiring resolved={{ pack: { packs_in_parallel: 2 }, other_packs: [{}] }} />);
  expect(screen.getByRole("img", { name: /3 in parallel, pack 1 to 3: a fuse in each plus/ })).toBeTruthy();
  rerender(<Wiring resolved={{ source: { units: 1 } }} />);
  expect(screen.queryByRole("img")).toBeNull();
});

test("the card says what to dial where, and what is true then", () => {
  const base = result();
  const settings = base.settings && { ...base.settings, dial_voltage_v: 25.4, voltage_at: "charger" as const, input_limit_a: 4.2 };
  const answer = result({ settings: settings ?? null, resolved: { ...base.resolved, charger: { kind: "dc_dc" } } });
  render(<BenchCard result={answer} onChange={() => undefined} />);
  expect(screen.getByText("25.40")).toBeTruthy();
  expect(screen.getByText(/dial on the charger · true 25.2 V/)).toBeTruthy();
  expect(screen.getByText("4.2 A")).toBeTruthy();
});

test("a card from before a change cannot be printed, started or gone by", () => {
  render(<BenchCard result={result()} before />);
  expect(screen.getByRole("region", { name: "Before your change" }).textContent).toContain("not to go by");
  expect(screen.queryByRole("button", { name: /Print|Start|Set your own/ })).toBeNull();
});
