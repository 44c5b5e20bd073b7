import { expect, test } from "vitest";
import { readCells, readPacks } from "./cellTable";
import { readVolts } from "./readVolts";

test("a table pasted from a spreadsheet is read by its names, in any order", () => {
  const { cells, wrong } = readCells("Cell\tmΩ\tCapacity mAh\tV\tPack\tGroup\nA1\t38\t2910\t3,71\tlamp\t2\nA2\t41\t2840\t3,70\t\t");
  expect(wrong).toEqual([]);
  expect(cells).toEqual([
    { id: "A1", capacity_ah: 2.91, resistance_mohm: 38, voltage_v: 3.71, sits: { pack: "lamp", group: 2 } },
    { id: "A2", capacity_ah: 2.84, resistance_mohm: 41, voltage_v: 3.7 },
  ]);
});

test("without names the usual order holds, and milliamp-hours are told from amp-hours", () => {
  expect(readCells("c1 2850 40 3.7\nc2 2.79").cells).toEqual([
    { id: "c1", capacity_ah: 2.85, resistance_mohm: 40, voltage_v: 3.7 },
    { id: "c2", capacity_ah: 2.79 },
  ]);
});

test("what is no number is said with the cell it belongs to", () => {
  expect(readCells("c1; 2.8; forty\nc2; ; 40").wrong).toEqual(["c1: “forty” is no number.", "c2: its capacity is missing."]);
});

test("packs are typed as people write them", () => {
  expect(readPacks("Lamp 4S6P\n3s").packs).toEqual([
    { name: "Lamp", series: 4, parallel: 6 },
    { name: "Pack", series: 3, parallel: 1 },
  ]);
  expect(readPacks("just a lamp").wrong).toHaveLength(1);
});

test.each([
  ["22.9", 6, { voltage_v: 22.9 }],
  ["22,9 V", 6, { voltage_v: 22.9 }],
  ["3.81 3.82 3.80", 3, { cell_voltages_v: [3.81, 3.82, 3.8] }],
  ["3,81; 3,82; 3,80", 3, { cell_voltages_v: [3.81, 3.82, 3.8] }],
  ["3.81, 3.82, 3.80", 3, { cell_voltages_v: [3.81, 3.82, 3.8] }],
  ["3.81,3.82,3.80", 3, { cell_voltages_v: [3.81, 3.82, 3.8] }],
])("%s is a rest reading", (text, series, read) => {
  expect(readVolts(text, series)).toEqual(read);
});

test("cells that are not as many as the pack's are asked again", () => {
  expect(readVolts("3.81 3.82", 3)).toEqual({ wrong: "The pack has 3 cells in series, and 2 are written." });
  expect(readVolts("full", 3)).toHaveProperty("wrong");
});
