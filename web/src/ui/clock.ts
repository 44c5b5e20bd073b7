import { showSeconds } from "./quantity/parse";

/** A moment as a clock shows it. */
export const clock = (iso: string, after_s = 0) =>
  new Date(Date.parse(iso) + after_s * 1000).toLocaleTimeString(undefined, { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });

/** Minutes and seconds at first, hours later. */
export function clockWords(seconds: number): string {
  const whole = Math.floor(seconds);
  if (whole >= 3600) return showSeconds(whole);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}
