import type { Schemas } from "../../api/client";
import { day } from "../../ui/clock";
import { trimmed } from "../../ui/quantity/parse";

type Standing = Schemas["StandingDoc"];

export const NEED_WORDS: Record<Schemas["NeedCode"], string> = {
  nothing: "Nothing to do",
  storage: "To storage",
  top_up: "Top up",
  test: "Test it",
  look_at: "Look at it",
  rescue: "To Rescue",
  retire: "Retire it",
};

export const percent = (share: number) => `${trimmed(share * 100, 0)} %`;
export const date = (iso: string) => day(new Date(iso));

/** A share with its bounds; bounds that say the same are left out. */
export function spanWords(value: number, low: number, high: number, words: (value: number) => string): string {
  const [from, to] = [words(low), words(high)];
  return from === to ? words(value) : `${words(value)} (${from} to ${to})`;
}

/** How full it is, in words. */
export function chargeWords(charge: Standing["charge"]): string {
  if (!charge) return "How full it is, nobody knows: enter what it reads at rest.";
  return `${spanWords(charge.soc, charge.low, charge.high, percent)} full`;
}

/** What it holds of its label, in words. */
export function healthWords({ health, capacity_ah }: Standing): string {
  if (!health || !capacity_ah) return "What it holds, nobody knows.";
  return `Holds ${spanWords(health.value, health.low, health.high, percent)} of its label`;
}

/** When a share is reached, in words. */
export function reachesWords(share: string, { from, to, why_not }: Schemas["ReachesDoc"]): string {
  if (why_not) return `${share}: ${why_not}`;
  if (from && to && from === to) return `${share} is passed.`;
  return `${share} between ${from ? date(from) : "now"} and ${to ? date(to) : "a time that cannot be said"}`;
}
