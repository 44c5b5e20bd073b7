import { expect, test } from "vitest";
import { chargerWords, gaugeWords, leadWords, sourceWords } from "./words";

test.each([
  [{ kind: "bench_supply", max_voltage_v: 30, max_current_a: 5 }, "0–30 V · 5 A"],
  [{ kind: "fixed_supply", voltage_v: 19, max_power_w: 90 }, "19 V · 90 W"],
  [{ kind: "battery", chemistry: "lfp", series: 4, capacity_ah: 50 }, "4S LiFePO₄ · 50 Ah"],
  [{ kind: "transformer_rectifier", secondary_vac: 15, rated_va: 120 }, "15 V AC · 120 VA"],
  [{ kind: "mains" }, "wall outlet"],
] as const)("a supply in words: %o", (source, words) => {
  expect(sourceWords(source)).toBe(words);
});

test.each([
  [{ kind: "hobby_charger", output_max_a: 8, output_max_w: 120 }, "Charger, set by menu · 8 A · 120 W"],
  [{ kind: "dc_dc", topology: "buck_boost", output_max_a: 5 }, "buck-boost · 5 A"],
  [{ kind: "lamp", lamp_rated_v: 24, lamp_rated_w: 21 }, "Lamp · 24 V · 21 W"],
  [{ kind: "pwm", duty: 0.7 }, "PWM stage · duty 70 %"],
] as const)("a charger in words: %o", (charger, words) => {
  expect(chargerWords(charger)).toBe(words);
});

test("a lead in words", () => {
  expect(leadWords({ awg: 16, length_m: 0.5, fuse_a: 7.5 })).toBe("16 AWG · 0.5 m · 7.5 A fuse");
  expect(leadWords({ area_mm2: 2.5, length_m: 1 })).toBe("2.5 mm² · 1 m · no fuse");
  expect(gaugeWords({ awg: -1 })).toBe("2/0 AWG");
});
