import type { Schemas } from "../../api/client";
import { trimmed } from "../../ui/quantity/parse";

const UNIT: Record<Schemas["MeterQuantity"], string> = { voltage: "V", current: "A" };

/** What a display was found to show, against a meter. */
export function displayWords(meters: readonly Schemas["MeterDoc"][] | null | undefined): string | undefined {
  const words = (meters ?? []).flatMap(({ quantity, points }) => {
    const point = points?.at(-1);
    if (!quantity || point?.shown == null || point.true == null) return [];
    return [`shows ${trimmed(point.shown, 3)} ${UNIT[quantity]} at ${trimmed(point.true, 3)} ${UNIT[quantity]}`];
  });
  return words.length > 0 ? words.join(", ") : undefined;
}

/** A sentence out of what is known, if anything is. */
export function sentence(parts: readonly (string | undefined)[]): string | undefined {
  const known = parts.filter((part) => part !== undefined);
  return known.length > 0 ? `Truly: ${known.join("; ")}.` : undefined;
}
