import { useSyncExternalStore } from "react";
import type { QuickLine } from "../../api/client";
import type { Stored } from "../../api/shelves";
import { withValue } from "../../ui/documents/pointer";
import { keep, readKept } from "../../state/kept";
import { Steps, type Way } from "../../ui/steps";
import { putAside, takeFromAside } from "./aside";
import { type Draft, isDraft } from "./kept";

export type { Draft };

/** The name it is kept under in this browser. */
export const KEY = "rumek.draft";
const FORMAT = "rumek.plan/1";

export const emptyDraft = (): Draft => ({ document: { format: FORMAT }, links: {} });
const LINKS = ["pack", "source", "charger", "input", "output"] as const;
const print = (draft: Draft) => JSON.stringify([draft.document, ...LINKS.map((link) => draft.links[link] ?? null)]);
export const isChanged = (draft: Draft) => draft.saved !== print(draft);
export const isEmpty = (draft: Draft) => !draft.document.pack && !draft.document.source;

export function draftOf(row: Stored<"plans">): Draft {
  const draft = { document: row.document, links: row.links, id: row.id, version: row.version };
  return { ...draft, saved: print(draft) };
}

let things = 0;

/** For what is to replace the plan on the bench. */
export const anotherThing = () => ++things;

let current: Draft | undefined = stored();
const listeners = new Set<() => void>();

/** Once a draft is saved: the saved plan, or what was typed on meanwhile as a change of it. */
export function adopt(sent: Draft, row: Stored<"plans">) {
  const saved = draftOf(row);
  if (current && print(current) !== print(sent)) put({ ...current, id: saved.id, version: saved.version, saved: saved.saved });
  else put({ ...saved, of: current?.of });
}

/** The same values as a new plan. */
export function copyOf(draft: Draft): Draft {
  const name = draft.document.name ? `${draft.document.name}, again` : undefined;
  return { document: withValue(draft.document, "/name", name), links: draft.links, asked: draft.asked };
}

function stored(): Draft | undefined {
  // This window's own plan first; a new window starts with the last one anywhere.
  const draft = readKept(KEY, isDraft, sessionStorage, localStorage);
  return draft && { ...draft, of: anotherThing() };
}

/** Every change of the plan on the bench. */
export const steps = new Steps<Draft>("rumek.steps", isDraft);

/** Plans that were on the bench in this window, for going back and forth between them. */
const open = new Map<number, Draft>();

/** The plan that was on the bench under this number, as it was left. */
export const leftAt = (of: number) => open.get(of);

function put(next: Draft) {
  current = { ...next, of: next.of ?? anotherThing() };
  keep(KEY, { ...next, of: undefined }, sessionStorage, localStorage);
  if (current.of !== undefined) open.set(current.of, current);
  takeFromAside(current);
  for (const listener of listeners) listener();
}

/**
 * Puts a plan on the bench. What was there can be gone back to; if it was not saved and this is another thing, it
 * is put aside. `what`: what is changed, so that typing one value is one step.
 */
export function setDraft(next: Draft, what?: string) {
  const before = current;
  const of = next.of ?? anotherThing();
  if (before && print(before) !== print(next)) steps.note(before, what);
  put({ ...next, of });
  if (before && before.of !== of && isChanged(before) && !isEmpty(before) && print(before) !== print(next)) putAside(before);
}

/** Puts back what was there before a line that is not wanted after all. */
export function goBackTo(draft: Draft) {
  if (current && print(current) !== print(draft)) steps.note(current);
  put(draft);
}

export function changeDraft(pointer: string, value: unknown) {
  const draft = current ?? emptyDraft();
  const document = withValue(draft.document, pointer, value);
  setDraft({ ...draft, document: { ...document, format: FORMAT } }, pointer);
}

/** Goes a step back or forth; whether there was one. A plan saved since stays that saved plan, changed. */
export function step(way: Way): boolean {
  const now = current;
  const found = now && steps.take(way, now);
  if (!now || !found) return false;
  const { id, version, saved } = now;
  put(found.of === now.of ? { ...found, id, version, saved } : found);
  return true;
}

function subscribe(listener: () => void) {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export const currentDraft = () => current;

/** `undefined` until there is one: nothing was typed here before. */
export const useDraft = () => useSyncExternalStore(subscribe, currentDraft);

/** What a quick line says, as a plan; the rest is left for the core to assume. */
export function draftOfLine(text: string, line: QuickLine, of?: number): Draft {
  const asked = { text, plan: { ...line.plan, format: FORMAT }, ask: line.ask, assumed: line.assumed, lost: line.not_understood.map((piece) => piece.text), left: [] };
  return { document: { ...line.plan, format: FORMAT }, links: {}, of, asked };
}
