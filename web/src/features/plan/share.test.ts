import { expect, test } from "vitest";
import { carriesPlan, linkOf, planOfFragment } from "./share";

const PLAN = {
  format: "rumek.plan/1",
  name: "Winch, gel · 14,4 V",
  pack: { chemistry: "lead_agm" as const, series: 6, capacity_ah: 18, label_voltage_v: { cycle: [14.4, 15], standby: [13.5, 13.8] } },
  source: { kind: "bench_supply" as const, max_voltage_v: 30, max_current_a: 5 },
  settings: { current_a: 2.7 },
};

test("a link carries the whole plan in less than 2 kB", async () => {
  const link = await linkOf(PLAN, "http://127.0.0.1:7380");
  expect(link.length).toBeLessThan(2000);
  expect(await planOfFragment(new URL(link).hash)).toEqual(PLAN);
});

test("a link cut on its way says so, and another fragment is none", async () => {
  const { hash } = new URL(await linkOf(PLAN, "http://127.0.0.1:7380"));
  expect([carriesPlan(hash), carriesPlan("#card"), carriesPlan("")]).toEqual([true, false, false]);
  expect(await planOfFragment(hash.slice(0, -9))).toBeUndefined();
});
