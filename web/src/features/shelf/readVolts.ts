/** A rest reading as it is typed: the pack's volts, or each cell's. */
export type Volts = { voltage_v: number } | { cell_voltages_v: number[] };

/**
 * Reads volts from a line: one number is the pack's or, of a pack of one cell, that cell's; as many as it has cells are
 * theirs. A decimal comma is one where blanks or semicolons part the numbers.
 */
export function readVolts(text: string, series: number | null | undefined): Volts | { wrong: string } {
  const bare = text.replaceAll(/v(olts?)?\b/gi, " ").trim();
  const parted = /[;\s]/.test(bare);
  const words = bare
    .split(parted ? /[;\s]+/ : /[;,\s]+/)
    .filter((word) => word !== "");
  const single = words.length === 2 && !parted ? [words.join(".")] : words;
  const numbers = single.map((word) => Number(word.replace(/,$/, "").replace(",", ".")));
  if (numbers.length === 0 || numbers.some((number) => !Number.isFinite(number) || number < 0)) return { wrong: "Write the pack's volts, such as 22.9, or each cell's: 3.81 3.82 3.81" };
  const [first] = numbers;
  if (numbers.length === 1 && first !== undefined) return { voltage_v: first };
  if (series != null && numbers.length !== series) return { wrong: `The pack has ${series} cells in series, and ${numbers.length} are written.` };
  return { cell_voltages_v: numbers };
}
