import { useSyncExternalStore } from "react";

/** A text that could not be used is put under its own name with this after it, and stays until it is copied or deleted. */
const UNREADABLE = ".unreadable";
const PREFIX = "rumek.";

const listeners = new Set<() => void>();
let full = false;

function tell() {
  for (const listener of listeners) listener();
}

function put(storage: Storage, key: string, text: string) {
  try {
    storage.setItem(key, text);
    if (full) {
      full = false;
      tell();
    }
  } catch {
    // The storage is full, or closed to this page: what is on the screen stays there.
    full = true;
    tell();
  }
}

/** What this browser keeps under a name: the first of the storages whose text is one. Any other text is put by. */
export function readKept<T>(key: string, isOne: (value: unknown) => value is T, ...storages: readonly Storage[]): T | undefined {
  for (const storage of storages) {
    const text = storage.getItem(key);
    if (text === null) continue;
    try {
      const value: unknown = JSON.parse(text);
      if (isOne(value)) return value;
    } catch {
      // Put by below, as any other text.
    }
    storage.removeItem(key);
    put(localStorage, key + UNREADABLE, text);
  }
  return undefined;
}

/** Keeps a value under a name, or nothing there. */
export function keep(key: string, value: unknown, ...storages: readonly Storage[]) {
  for (const storage of storages) {
    if (value === undefined) storage.removeItem(key);
    else put(storage, key, JSON.stringify(value));
  }
}

/** Everything that this browser keeps for Rumek, by name; for whoever wants to copy it. */
export function allKept(): Record<string, string> {
  const all: Record<string, string> = {};
  for (const storage of [localStorage, sessionStorage]) {
    for (let n = 0; n < storage.length; n += 1) {
      const key = storage.key(n);
      if (key?.startsWith(PREFIX)) all[key] = storage.getItem(key) ?? "";
    }
  }
  return all;
}

/** Puts by what these names stand for: the screens open without it. */
export function putBy(keys: readonly string[]) {
  for (const key of keys) {
    for (const storage of [sessionStorage, localStorage]) {
      const text = storage.getItem(key);
      if (text === null) continue;
      storage.removeItem(key);
      put(localStorage, key + UNREADABLE, text);
    }
  }
}

/** Whether the browser refused to keep what was typed last. */
export const useStorageFull = () =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => full,
  );
