import { answered, api } from "./client";

import { keep, readKept } from "../state/kept";

const KEY = "rumek.clock";
/** A clock is taken for wrong by a century at the most, ms. */
const MOST = 100 * 365.25 * 86_400_000;
const isOffset = (value: unknown): value is number => typeof value === "number" && Math.abs(value) < MOST;

/** This clock minus the server's, ms, as last measured; a reload while the server is away keeps it. */
let offset = readKept(KEY, isOffset, localStorage) ?? 0;

export const clockOffset = () => Math.round(offset);

/** A moment by this clock, as the server's clock had it. */
export const atServer = (moment: Date) => new Date(moment.getTime() - offset);

/** Measures the offset: the server's time against the middle of the way there and back. */
export async function measureClock(): Promise<void> {
  try {
    const before = Date.now();
    const { now } = await answered(api.GET("/api/version"));
    offset = (before + Date.now()) / 2 - Date.parse(now);
    keep(KEY, offset, localStorage);
  } catch {
    // Away: what was measured last stands.
  }
}
