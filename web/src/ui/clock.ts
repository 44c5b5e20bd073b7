import { showSeconds } from "./quantity/parse";

/** A moment as a clock shows it. */
export const clock = (iso: string, after_s = 0) =>
  new Date(Date.parse(iso) + after_s * 1000).toLocaleTimeString(undefined, { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });

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
