import { useSyncExternalStore } from "react";

const query = "(max-width: 640px)";

function subscribe(listener: () => void) {
  const media = matchMedia(query);
  media.addEventListener("change", listener);
  return () => {
    media.removeEventListener("change", listener);
  };
}

/** Whether the window is as narrow as a phone held upright. */
export const useNarrow = () => useSyncExternalStore(subscribe, () => matchMedia(query).matches);
