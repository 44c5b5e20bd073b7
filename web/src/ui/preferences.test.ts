import { afterEach, expect, test } from "vitest";
import { clock, day } from "./clock";
import { money, prefer, told, USUAL } from "./preferences";
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

test.each([
  ["It starts at 44 °C and has to stop at 45 °C.", "It starts at 111.2 °F and has to stop at 113 °F."],
  ["-3 °C is below 0 °C for charging it.", "26.6 °F is below 32 °F for charging it."],
  ["Test it between 15 and 30 °C if you can.", "Test it between 59 and 86 °F if you can."],
  ["at 50 °C; 5 to 10 °C warmer is usual", "at 122 °F; 9 to 18 °F warmer is usual"],
  ["It warms by 1.2 °C a minute: it is full.", "It warms by 2.2 °F a minute: it is full."],
  ["6 to 8 A, 25.2 V", "6 to 8 A, 25.2 V"],
])("%s is told in the degrees that were set", (celsius, fahrenheit) => {
  expect(told(celsius)).toBe(celsius);
  prefer({ degrees: "°F" });
  expect(told(celsius)).toBe(fahrenheit);
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
