import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeAll, expect, test, vi } from "vitest";
import type { PlanDoc } from "../../api/client";
import { AddToChain } from "./AddToChain";

beforeAll(() => {
  vi.stubGlobal("ResizeObserver", class { observe() { return; } unobserve() { return; } disconnect() { return; } });
});
afterEach(cleanup);

const whole: PlanDoc = {
  source: { kind: "bench_supply" },
  charger: { kind: "lamp" },
  leads: { input: { awg: 14 }, output: { awg: 14 } },
  cut_off: { low_v: 12 },
  load: { current_a: 1 },
};

test("only what is not there yet is offered, and starts as what it is and no more", async () => {
  const set = vi.fn();
  const open = vi.fn();
  render(<AddToChain plan={{ ...whole, charger: undefined }} editor={{ document: {}, problems: [], set }} onOpen={open} />);
  fireEvent.click(screen.getByRole("button", { name: "Add to the chain" }));
  const items = await screen.findAllByRole("menuitem");
  expect(items.map((item) => item.textContent)).toEqual(["Charger"]);
  fireEvent.click(items[0] as HTMLElement);
  expect(set).toHaveBeenCalledWith("/charger", { kind: "hobby_charger" });
  expect(open).toHaveBeenCalledWith("charger");
});

test("a whole chain offers nothing", () => {
  const { container } = render(<AddToChain plan={whole} editor={{ document: whole, problems: [], set: vi.fn() }} onOpen={vi.fn()} />);
  expect(container.textContent).toBe("");
});
