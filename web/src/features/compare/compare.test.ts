import { expect, test } from "vitest";
import type { Stored } from "../../api/shelves";
import { withChainOf } from "./chain";

test("the chain of another plan is put before this pack, and nothing else of it", () => {
  const draft = {
    document: { format: "rumek.plan/1", pack: { chemistry: "lipo" as const, series: 6 }, load: { power_w: 5 }, source: { kind: "bench_supply" as const } },
    links: { pack: { id: "p", version: 2 }, source: { id: "s", version: 1 } },
  };
  const row = {
    id: "other",
    links: { pack: { id: "q", version: 1 }, charger: { id: "c", version: 3 } },
    document: {
      name: "Off the brick",
      pack: { chemistry: "lfp" },
      source: { kind: "fixed_supply", voltage_v: 19 },
      charger: { kind: "hobby_charger", output_max_a: 8 },
      settings: { current_a: 99 },
    },
  } as unknown as Stored<"plans">;
  const chain = withChainOf(draft, row);
  expect(chain.plan).toMatchObject({ pack: { series: 6 }, load: { power_w: 5 }, source: { voltage_v: 19 }, charger: { output_max_a: 8 } });
  expect(chain.plan.settings).toBeUndefined();
  expect(chain.links).toMatchObject({ pack: { id: "p" }, charger: { id: "c" } });
});
