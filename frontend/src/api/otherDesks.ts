import { useEffect, useSyncExternalStore } from "react";
import { api } from "./client";

/** What the other desks have picked: told as it happens, kept nowhere, forgotten when nothing is heard of a desk any more. */
const DESK = Math.random().toString(36).slice(2, 12);
const SETTLES_MS = 150;
const AGAIN_MS = 30_000;
const FORGOTTEN_MS = 70_000;

const heard = new Map<string, { pick: string; at: number }>();
const watching = new Set<() => void>();
let now: readonly string[] = [];

function tell() {
  const fresh = [...heard.values()]
    .filter(({ at }) => Date.now() - at < FORGOTTEN_MS)
    .map(({ pick }) => pick);
  if (fresh.join("|") === now.join("|")) return;
  now = fresh;
  for (const each of watching) each();
}

/** Another desk has picked something, or let go. */
export function hearPick({ desk, pick }: { desk: string; pick: string }): void {
  if (desk === DESK) return;
  if (pick) heard.set(desk, { pick, at: Date.now() });
  else heard.delete(desk);
  tell();
}

/** The keys of what other desks have picked. */
export const useOtherPicks = () =>
  useSyncExternalStore(
    (changed) => {
      watching.add(changed);
      const again = setInterval(tell, AGAIN_MS);
      return () => {
        watching.delete(changed);
        clearInterval(again);
      };
    },
    () => now,
  );

/** Tells the other desks what is picked here: once the hand rests, and again while it stays. */
export function useTellPick(plan: string, key: string | null): void {
  useEffect(() => {
    const say = () => {
      const body = { desk: DESK, pick: key ?? "" };
      void api.POST("/api/plans/{id}/picks", { params: { path: { id: plan } }, body }).catch(() => {});
    };
    const soon = setTimeout(say, SETTLES_MS);
    const again = key ? setInterval(say, AGAIN_MS) : undefined;
    return () => {
      clearTimeout(soon);
      clearInterval(again);
    };
  }, [plan, key]);
}
