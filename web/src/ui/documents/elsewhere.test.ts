import { expect, test } from "vitest";
import { elsewhere } from "./elsewhere";

test("a rate typed into amps, and amps into a rate, go where they belong", () => {
  expect(elsewhere("/rated_charge_a", "5C")).toMatchObject({ at: "/rated_c_rate", value: 5 });
  expect(elsewhere("/rated_c_rate", "25 A")).toMatchObject({ at: "/rated_charge_a", value: 25 });
  expect(elsewhere("/max_current_a", "90 W")).toMatchObject({ at: "/max_power_w", value: 90 });
  expect(elsewhere("/awg", "2.5 mm²")).toMatchObject({ at: "/area_mm2", value: 2.5 });
});

test("what names no unit, or a unit no neighbour has, stays where it was typed", () => {
  expect(elsewhere("/rated_c_rate", "25")).toBeUndefined();
  expect(elsewhere("/rated_c_rate", "25 V")).toBeUndefined();
  expect(elsewhere("/temperature_c", "25 A")).toBeUndefined();
});
