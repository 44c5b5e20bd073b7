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

async function packed(bytes: Uint8Array<ArrayBuffer>): Promise<string> {
  const stream = new Response(bytes).body?.pipeThrough(new CompressionStream("deflate-raw"));
  const out = new Uint8Array(await new Response(stream).arrayBuffer());
  let text = "";
  for (const byte of out) text += String.fromCharCode(byte);
  return `#plan=${btoa(text).replaceAll("+", "-").replaceAll("/", "_")}`;
}

test.each([
  { ...PLAN, pack: { ...PLAN.pack, series: "6" } },
  { ...PLAN, pack: [] },
  { ...PLAN, source: "bench" },
  { ...PLAN, format: "rumek.plan/2" },
  { ...PLAN, name: 7 },
  { ...PLAN, nonsense: true },
  [],
  null,
])("a link that carries something of another shape carries no plan: %j", async (document) => {
  expect(await planOfFragment(await packed(new TextEncoder().encode(JSON.stringify(document))))).toBeUndefined();
});

test("a link is unpacked as far as a plan can be long and no further", async () => {
  const plan = new TextEncoder().encode(JSON.stringify(PLAN));
  const spaces = (length: number) => {
    const bytes = new Uint8Array(length).fill(32);
    bytes.set(plan);
    return bytes;
  };
  expect(await planOfFragment(await packed(spaces(4_000_000)))).toEqual(PLAN);
  expect(await planOfFragment(await packed(spaces(4_000_001)))).toBeUndefined();
  expect(await planOfFragment(await packed(new Uint8Array(100_000_000)))).toBeUndefined();
});
