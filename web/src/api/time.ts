import { answered, api } from "./client";

const KEY = "rumek.clock";

/** This clock minus the server's, ms, as last measured; a reload while the server is away keeps it. */
let offset = Number(localStorage.getItem(KEY) ?? 0) || 0;

export const clockOffset = () => Math.round(offset);

/** A moment by this clock, as the server's clock had it. */
export const atServer = (moment: Date) => new Date(moment.getTime() - offset);

/** Measures the offset: the server's time against the middle of the way there and back. */
export async function measureClock(): Promise<void> {
  try {
    const before = Date.now();
    const { now } = await answered(api.GET("/api/version"));
    offset = (before + Date.now()) / 2 - Date.parse(now);
    localStorage.setItem(KEY, String(offset));
  } catch {
    // Away: what was measured last stands.
  }
}
