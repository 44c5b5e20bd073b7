import { useSyncExternalStore } from "react";
import { keep as keepInBrowser, readKept } from "../../state/kept";
import { ofFields, ofList, shaped } from "../../state/shape";
import { DRAFT, type Draft } from "./kept";

/** A plan that something else took the place of before it was saved. */
export interface Aside {
  draft: Draft;
  /** When, RFC 3339. */
  at: string;
}

const KEY = "rumek.aside";
const MOST = 20;
const areAside = shaped<Aside[]>(ofList(ofFields({ draft: DRAFT, at: { type: "string" } }, ["draft", "at"])));

let list: readonly Aside[] = readKept(KEY, areAside, localStorage) ?? [];
const listeners = new Set<() => void>();

function keep(next: readonly Aside[]) {
  list = next.slice(0, MOST);
  keepInBrowser(KEY, list, localStorage);
  for (const listener of listeners) listener();
}

const same = (a: Draft, b: Draft) => a.id === b.id && JSON.stringify(a.document) === JSON.stringify(b.document);

/** Puts an unsaved plan where it is one press away. */
export function putAside(draft: Draft) {
  keep([{ draft, at: new Date().toISOString() }, ...list.filter((one) => !same(one.draft, draft))]);
}

/** It is on the bench again, saved, or not wanted any more. */
export function takeFromAside(draft: Draft) {
  if (list.some((one) => same(one.draft, draft))) keep(list.filter((one) => !same(one.draft, draft)));
}

/** Every plan put aside, the last one first. */
export const useAside = () =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => list,
  );
