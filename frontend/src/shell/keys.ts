import { useSyncExternalStore } from "react";

/** The single keys of the page. They can be switched off, or changed (WCAG 2.1.4); Ctrl K opens the command bar all the same. */
export const ACTIONS = [
  ["command", "/", "Open the command bar (also Ctrl K)"],
  ["findings", "d", "Go to the findings"],
  ["fold", "f", "Fold the pane away, or back"],
  ["undo", "u", "Undo (also Ctrl Z)"],
  ["redo", "r", "Redo (also Ctrl Shift Z)"],
  ["history", "h", "History of this plan"],
  ["light", "l", "Day or night light"],
  ["keys", "?", "These keys"],
] as const;
export type Action = (typeof ACTIONS)[number][0];

interface Kept {
  off: boolean;
  own: Partial<Record<Action, string>>;
}

const PLACE = "humble-relay:keys";
const PLAIN: Kept = { off: false, own: {} };
const watchers = new Set<() => void>();
let kept = read();

function read(): Kept {
  try {
    return { ...PLAIN, ...(JSON.parse(localStorage.getItem(PLACE) ?? "{}") as Partial<Kept>) };
  } catch {
    return PLAIN;
  }
}

function keep(next: Kept): void {
  kept = next;
  localStorage.setItem(PLACE, JSON.stringify(next));
  for (const tell of watchers) tell();
}

const subscribe = (tell: () => void) => {
  watchers.add(tell);
  return () => watchers.delete(tell);
};

/** What each key does now, as it is set on this machine. */
export function useKeys() {
  const now = useSyncExternalStore(subscribe, () => kept);
  return { off: now.off, keyOf: (action: Action) => now.own[action] ?? plainKey(action) };
}

const plainKey = (action: Action) => ACTIONS.find(([id]) => id === action)?.[1] ?? "";

/** The action of a pressed key; none where they are switched off. */
export function actionOf(key: string): Action | undefined {
  return kept.off ? undefined : ACTIONS.find(([id]) => (kept.own[id] ?? plainKey(id)) === key)?.[0];
}

/** The number of the stage that a digit opens; none where single keys are switched off. */
export const stageOf = (key: string): number => (kept.off ? 0 : Number(key) || 0);

export const switchKeys = (off: boolean) => keep({ ...kept, off });

/** Gives an action another key: one character, not a digit, that no other action has. A sentence where it cannot be. */
export function changeKey(action: Action, key: string): string | null {
  if ([...key].length !== 1 || /[\d\s]/.test(key)) return "One letter or sign, not a digit.";
  const other = ACTIONS.find(([id]) => id !== action && (kept.own[id] ?? plainKey(id)) === key);
  if (other) return `“${key}” is taken: ${other[2].toLowerCase()}.`;
  keep({ ...kept, own: { ...kept.own, [action]: key } });
  return null;
}
