import { expect, test } from "vitest";
import { beginning, decoded, sizeWords, unitsOf, withMeaning } from "./logFile";

test("a beginning is whole lines in the encoding they are written in", async () => {
  const long = "Time,Volts\n" + "0,12.0\n".repeat(20_000);
  const { text } = await beginning(new File([long], "shed.csv"));
  expect(text.endsWith("\n")).toBe(true);
  expect(text.length).toBeLessThan(48_001);
  expect(decoded(new Uint8Array([0xb0, 0x43, 0x0a, 0x31]))).toBe("°C\n1");
  expect(decoded(new Uint8Array([0xff, 0xfe, 0x56, 0, 0x0a, 0]))).toContain("V\n");
  expect(decoded(new TextEncoder().encode("Spannung Ω\n"))).toBe("Spannung Ω\n");
});

test("a quantity stands in one column, cells in as many as there are", () => {
  const columns = [{ is: "time" }, { is: "terminal_v", unit: "V" }, { is: "ignored" }] as const;
  expect(withMeaning(columns, 2, "terminal_v")).toEqual([{ is: "time" }, { is: "ignored" }, { is: "terminal_v", unit: "V" }]);
  const cells = withMeaning(withMeaning(columns, 1, "cell_v"), 2, "cell_v");
  expect(cells.map(({ cell }) => cell)).toEqual([undefined, 1, 2]);
  expect(unitsOf("charger_ah")).toEqual(["Ah", "mAh"]);
  expect(unitsOf("note")).toEqual([]);
  expect([sizeWords(900), sizeWords(18_200), sizeWords(14_200_000)]).toEqual(["1 kB", "18 kB", "14.2 MB"]);
});
