import { beforeEach, expect, test } from "vitest";
import { clock, clockWords } from "../../ui/clock";
import { answerWords } from "./Events";
import { keepStarting, starting, startWith, withAnswer } from "./starting";
import { atPack, readingWords, stateWords } from "./words";

beforeEach(() => {
  localStorage.clear();
});

test("what is about to begin survives a reload, and an answer given anew replaces the old one", () => {
  expect(starting()).toBeUndefined();
  startWith({ name: "Evening tow" }, {});
  const answers = withAnswer(withAnswer([], { code: "temperature", value: 50 }), { code: "temperature", value: 21 });
  keepStarting({ plan: { name: "Evening tow" }, links: {}, answers });
  expect(starting()).toEqual({ plan: { name: "Evening tow" }, links: {}, answers: [{ code: "temperature", value: 21 }] });
  keepStarting(undefined);
  expect(starting()).toBeUndefined();
});

test("a reading says what was read and where", () => {
  expect(readingWords({ terminal_v: 22.7, source_a: 2.6, cell_voltages_v: [3.78, 3.79], temperature_c: 24, note: "hums" })).toBe(
    "22.7 V terminals · 2.6 A supply · cells 3.78 3.79 V · 24 °C · hums",
  );
});

test("what is nearest to the pack is drawn", () => {
  expect(atPack({ terminal_v: 22.7, charger_v: 22.9, charger_a: 2.5, bms_a: 2.4 })).toEqual({ volts: 22.7, amps: 2.4 });
  expect(atPack({ cell_voltages_v: [3.75, 3.5] })).toEqual({ volts: 7.25, amps: undefined });
  expect(atPack({ source_v: 25.2 })).toEqual({ volts: 25.2, amps: undefined });
});

test("a run's state and the clock in words", () => {
  expect(stateWords({ started_at: "2026-11-25T09:00:00Z" })).toBe("going on");
  expect(stateWords({ started_at: "2026-11-25T09:00:00Z", ended_at: "2026-11-25T10:00:00Z", end: "fault" })).toContain("something was wrong");
  expect(clockWords(65)).toBe("1:05");
  expect(clock("2026-11-25T09:00:00Z", 1200, Date.parse("2026-11-25T10:00:00Z"))).toMatch(/^\d\d:20$/);
});

test("what was measured before is told in words", () => {
  expect(answerWords({ code: "no_load_voltage", value: 25.16 })).toBe("nothing connected 25.16 V");
  expect(answerWords({ code: "cells", cells_v: [3.74, 3.75] })).toBe("cells at rest 3.74 3.75 V");
  expect(answerWords({ code: "temperature", value: 21 })).toBe("warmth 21 °C");
  expect(answerWords({ code: "polarity", seen: true })).toBe("plus and minus measured");
});
