import { useSyncExternalStore } from "react";

/** Since when the server has not been reached; undefined while it answers. */
let away: Date | undefined;
const listeners = new Set<() => void>();

export function setReached(reached: boolean) {
  if (reached === (away === undefined)) return;
  away = reached ? undefined : new Date();
  for (const listener of listeners) listener();
}

export function useAway(): Date | undefined {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => away,
  );
}
