import { readFileSync } from "node:fs";
import { expect, test } from "vitest";
import { type Kind, parse, show } from "./parse";

/** One line of CSV; a field in quotes may hold commas. */
const fields = (line: string) =>
  Array.from(line.matchAll(/(?:^|,)(?:"([^"]*)"|([^,]*))/g), (match) => match[1] ?? match[2] ?? "");

const rows = readFileSync("../docs/formats/quantities.csv", "utf8").trim().split("\n").slice(1).map(fields);

test.each(rows)("%s %j is %s, shown as %j", (kind, text, value, shown) => {
  const parsed = parse(kind as Kind, text);
  if (value === "") {
    expect(parsed).toHaveProperty("wrong");
    return;
  }
  expect("value" in parsed && parsed.value).toBeCloseTo(Number(value), 9);
  expect(show(kind as Kind, Number(value))).toBe(shown);
});
