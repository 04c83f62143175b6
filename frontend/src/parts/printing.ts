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

/** A second click on Print, in ms after the dialog: it was meant for the first. */
const SAME_CLICK = 600;
let printed = Number.NEGATIVE_INFINITY;

/** Prints the page as `prepare` leaves it; once, where Print is clicked twice: the second click waits behind the dialog. */
export function printPage(prepare?: () => void): void {
  if (performance.now() - printed < SAME_CLICK) return;
  prepare?.();
  window.print();
  printed = performance.now();
}

/** Whether the page is being printed: then all of it is drawn, and not only what is in view. */
export const usePrinting = () =>
  useSyncExternalStore(watch, () => between || window.matchMedia("print").matches);
