import { useSyncExternalStore } from "react";

let between = false;

function watch(changed: () => void): () => void {
  const media = window.matchMedia("print");
  const before = () => {
    between = true;
    changed();
  };
  const after = () => {
    between = false;
    changed();
  };
  window.addEventListener("beforeprint", before);
  window.addEventListener("afterprint", after);
  media.addEventListener("change", changed);
  return () => {
    window.removeEventListener("beforeprint", before);
    window.removeEventListener("afterprint", after);
    media.removeEventListener("change", changed);
  };
}

/** Whether the page is being printed: then all of it is drawn, and not only what is in view. */
export const usePrinting = () =>
  useSyncExternalStore(watch, () => between || window.matchMedia("print").matches);
