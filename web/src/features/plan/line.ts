import { useSyncExternalStore } from "react";
import { anotherThing, currentDraft } from "./draft";

/** What stands in the quick line, and which thing on the bench it is read as. */
interface Said {
  text: string;
  of: number | undefined;
}

let said: Said = { text: "", of: undefined };
const listeners = new Set<() => void>();

function put(next: Said) {
  said = next;
  for (const listener of listeners) listener();
}

/** What is typed; from an empty line on it is another thing. */
export function typeLine(text: string) {
  put({ text, of: said.text === "" ? anotherThing() : said.of });
}

/** An answer, written into the line of the plan on the bench: that stays the same thing. */
export function sayLine(text: string) {
  put({ text, of: currentDraft()?.of });
}

export const clearLine = () => {
  put({ text: "", of: undefined });
};

function subscribe(listener: () => void) {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export const useLine = () => useSyncExternalStore(subscribe, () => said);
