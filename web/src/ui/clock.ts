import { preferences } from "./preferences";
import { showSeconds } from "./quantity/parse";

/** The time of day alone. */
export const timeOfDay = (at: Date, seconds = false) =>
  at.toLocaleTimeString(undefined, {
    hour: "2-digit",
    minute: "2-digit",
    ...(seconds ? { second: "2-digit" } : {}),
    hourCycle: preferences().clock === "12 h" ? "h12" : "h23",
  });

/** A day, as it was set once how days are written. */
export function day(at: Date): string {
  const two = (n: number) => String(n).padStart(2, "0");
  switch (preferences().dates) {
    case "year first":
      return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`;
    case "day first":
      return at.toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
    case "system":
      return at.toLocaleDateString(undefined, { day: "numeric", month: "short", year: "numeric" });
  }
}

const DAY_MS = 24 * 3600 * 1000;

/** A moment as a clock shows it; one on another day, more than a day away, with that day. */
export function clock(iso: string, after_s = 0, now = Date.now()): string {
  const at = new Date(Date.parse(iso) + after_s * 1000);
  const time = timeOfDay(at);
  if (Math.abs(at.getTime() - now) < DAY_MS) return time;
  // Within the week to come the name of the day says it.
  const near = at.getTime() > now && at.getTime() - now < 6 * DAY_MS;
  return `${near ? at.toLocaleDateString(undefined, { weekday: "short" }) : day(at)}, ${time}`;
}

/** Hours, minutes and seconds as a stopwatch has them. */
export function stopwatch(seconds: number): string {
  const whole = Math.round(seconds);
  const two = (n: number) => String(n).padStart(2, "0");
  const [hours, minutes] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60];
  return hours > 0 ? `${hours}:${two(minutes)}:${two(whole % 60)}` : `${minutes}:${two(whole % 60)}`;
}

/** Minutes and seconds at first, hours later. */
export function clockWords(seconds: number): string {
  const whole = Math.floor(seconds);
  return whole >= 3600 ? showSeconds(whole) : stopwatch(whole);
}
