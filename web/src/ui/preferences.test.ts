import { afterEach, expect, test } from "vitest";
import { clock, day } from "./clock";
import { money, prefer, USUAL } from "./preferences";
import { parse, show } from "./quantity/parse";

afterEach(() => {
  prefer(USUAL);
});

test("a bare temperature is in the unit that is shown", () => {
  expect(parse("temperature", "20")).toEqual({ value: 20 });
  prefer({ degrees: "°F" });
  expect(parse("temperature", "68")).toEqual({ value: 20 });
  expect(parse("temperature", "20 °C")).toEqual({ value: 20 });
  expect(show("temperature", 20)).toBe("68 °F");
  expect(parse("temperature", "warm")).toEqual({ wrong: "Write a temperature, such as 68 °F." });
});

test("a currency stands after a cost only once it is set", () => {
  expect(money(0.025)).toBe("0.025");
  prefer({ currency: "EUR" });
  expect(money(0.025)).toBe("0.025 EUR");
});

test("a time carries its day from a whole day away on", () => {
  const now = new Date(2026, 10, 25, 12, 0).getTime();
  const at = (hours: number) => clock(new Date(now).toISOString(), hours * 3600, now);
  expect(at(23.9)).toMatch(/^\d\d:\d\d$/);
  expect(at(24)).toMatch(/^Thu, 12:00$/);
  expect(at(24 * 6.1)).toContain("2026");
  expect(at(-24)).toContain("2026");
});

test("the clock and the order of a date are as they were set", () => {
  prefer({ clock: "12 h", dates: "year first" });
  expect(day(new Date(2026, 2, 4))).toBe("2026-03-04");
  const evening = new Date(2026, 10, 25, 18, 5);
  expect(clock(evening.toISOString(), 0, evening.getTime())).toMatch(/06:05 PM/i);
  prefer({ dates: "day first" });
  expect(day(new Date(2026, 2, 4))).toBe("4 Mar 2026");
});
