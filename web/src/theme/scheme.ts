import { useSyncExternalStore } from "react";

export type Scheme = "light" | "dark";
export type SchemeChoice = Scheme | "auto";

const KEY = "rumek.scheme";
const listeners = new Set<() => void>();
const dark = window.matchMedia("(prefers-color-scheme: dark)");

function stored(): SchemeChoice {
  const said = localStorage.getItem(KEY);
  return said === "light" || said === "dark" ? said : "auto";
}

function resolved(): Scheme {
  const choice = stored();
  if (choice !== "auto") return choice;
  return dark.matches ? "dark" : "light";
}

/** Writes the scheme onto the document, where the tokens look for it. */
function apply() {
  document.documentElement.dataset.scheme = resolved();
  for (const listener of listeners) listener();
}

dark.addEventListener("change", apply);
apply();

export function chooseScheme(choice: SchemeChoice) {
  localStorage.setItem(KEY, choice);
  apply();
}

function subscribe(listener: () => void) {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export function useScheme(): Scheme {
  return useSyncExternalStore(subscribe, resolved);
}
