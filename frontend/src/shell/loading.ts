import { type ComponentType, lazy } from "react";

type Module<P> = { default: ComponentType<P> };

const AGAIN_MS = 1500;
const every: (() => Promise<unknown>)[] = [];

/** A part of the program that is loaded apart from the first page: at once after it, so that all of it is here when the
 * server goes away, and again for as long as it does not come. */
export function apart<P>(load: () => Promise<Module<P>>) {
  let coming: Promise<Module<P>> | undefined;
  const again = (): Promise<Module<P>> =>
    load().catch(() => new Promise((wake) => setTimeout(wake, AGAIN_MS)).then(again));
  const once = () => {
    coming ??= again();
    return coming;
  };
  every.push(once);
  return lazy(once);
}

/** Loads all that is loaded apart. */
export const loadTheRest = () => every.forEach((one) => void one());
