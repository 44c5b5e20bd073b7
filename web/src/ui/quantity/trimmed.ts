/** A number with at most `places` decimals, no trailing zeros and a true minus sign. */
export function trimmed(value: number, places: number): string {
  const text = value.toFixed(places);
  const short = text.includes(".") ? text.replace(/\.?0+$/, "") : text;
  return (short === "-0" ? "0" : short).replace("-", "−");
}
