import { useSyncExternalStore } from "react";

const PHONE = "(width < 40rem)";

function watch(changed: () => void) {
  const media = window.matchMedia(PHONE);
  media.addEventListener("change", changed);
  return () => media.removeEventListener("change", changed);
}

/** Whether the window is as narrow as a phone's: what only a phone shows is asked for only there. */
export const useNarrow = () => useSyncExternalStore(watch, () => window.matchMedia(PHONE).matches);
