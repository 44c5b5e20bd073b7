import { expect, test } from "vitest";
import { beginning, sizeWords, unitsOf, withMeaning } from "./logFile";

test("a beginning is sent as the bytes it is", async () => {
  const long = "Time,Volts\n" + "0,12.0\n".repeat(20_000);
  const { base64, whole } = await beginning(new File([long], "shed.csv"));
  expect(atob(base64)).toBe(long.slice(0, 48_000));
  expect(whole).toBe(false);
  const short = await beginning(new File([new Uint8Array([0xb0, 0x43, 0x0a, 0x31])], "old.csv"));
  expect([short.base64, short.whole]).toEqual(["sEMKMQ==", true]);
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
