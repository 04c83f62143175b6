import { lazy } from "react";

const load = {
  command: () => import("./CommandBar"),
  keys: () => import("./KeysDialog"),
  history: () => import("./HistoryDialog"),
};

/** What opens over a plan. Loaded when the first page stands, so that it is there before a hand can ask for it. */
export const DIALOGS = {
  command: lazy(load.command),
  keys: lazy(load.keys),
  history: lazy(load.history),
};

export type DialogName = keyof typeof DIALOGS;

/** Loads them all, once there is nothing else to do. */
export function loadDialogs() {
  setTimeout(() => Object.values(load).map((one) => one()), 50);
}
