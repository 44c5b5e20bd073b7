import { useEffect, useRef } from "react";

const KEY = "rumek.keys";

/** Single keys can be turned off: some speak to their computer, and then every word is keys. */
export const keysOn = () => localStorage.getItem(KEY) !== "off";
export const switchKeys = (on: boolean) => {
  localStorage.setItem(KEY, on ? "on" : "off");
};

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) && target.getAttribute("type") !== "range";

/**
 * Runs what a key stands for: a single sign except while typing, `Ctrl` with a letter anywhere. No bare letter or digit is
 * one: whoever types beside a field would be led away.
 */
export function useKeys(actions: Record<string, () => void>) {
  const latest = useRef(actions);
  useEffect(() => {
    latest.current = actions;
  });
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.altKey || event.defaultPrevented) return;
      const held = event.ctrlKey || event.metaKey;
      if (!held && typing(event.target)) return;
      const action = latest.current[held ? `Ctrl ${event.key.toLowerCase()}` : event.key];
      if (!action || (event.key === "/" && !keysOn())) return;
      event.preventDefault();
      action();
    };
    window.addEventListener("keydown", press);
    return () => {
      window.removeEventListener("keydown", press);
    };
  }, []);
}
