import { useCallback, useLayoutEffect, useRef } from "react";

/** The same function for as long as the component stands, doing what the last one given does: what takes it as a
 * property is not drawn anew for it. For handlers only, never while rendering. */
export function useStable<A extends unknown[], R>(handler: (...given: A) => R): (...given: A) => R {
  const latest = useRef(handler);
  useLayoutEffect(() => {
    latest.current = handler;
  });
  return useCallback((...given: A) => latest.current(...given), []);
}
