import { expectTypeOf, test } from "vitest";
import type { PlanDoc } from "../../api/client";
import type { At, Pointer } from "./pointer";

test("a pointer is one of the schema's own", () => {
  expectTypeOf<"/pack/start/soc">().toExtend<Pointer<PlanDoc>>();
  expectTypeOf<"/pack/start/sock">().not.toExtend<Pointer<PlanDoc>>();
  expectTypeOf<"/pack/start/cell_voltages_v/0">().not.toExtend<Pointer<PlanDoc>>();
  expectTypeOf<At<PlanDoc, "/source/max_voltage_v">>().toEqualTypeOf<number>();
});
