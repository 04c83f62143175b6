import { useCallback, useEffect, useRef, useState } from "react";
import { Refused } from "./client";
import { type Change, forget, newId, type Pending, unsent, whenForgotten, writeDown } from "./outbox";
import { AT_REST, type Happened, type Sync, step, type Task } from "./sync";

const RETRY_MS = 1500;

interface Carried {
  /** Sends a change; throws where it is not made. */
  send: (change: Pending) => Promise<void>;
  /** The version that is on the screen. */
  version: () => number;
  /** Looks at the plan anew. */
  look: () => Promise<unknown>;
}

/** The changes of one plan on their way: what `sync.ts` decides, carried out. */
export function useQueue(id: string, { send, version, look }: Carried) {
  const queue = useRef(AT_REST);
  const settles = useRef(new Map<string, (kept: boolean) => void>());
  const [sync, setSync] = useState<Sync>(AT_REST.sync);
  const happens = useRef<(happened: Happened) => void>(() => {});

  const carryOut = useCallback(
    async (task: Task) => {
      switch (task.task) {
        case "send":
          try {
            await send(task.change);
            happens.current({ kind: "made", id: task.change.id, at: new Date() });
          } catch (error) {
            const problem = error instanceof Refused ? error.problem : null;
            happens.current(
              problem ? { kind: "answered", id: task.change.id, problem } : { kind: "not reached" },
            );
          }
          return;
        case "rest":
          setTimeout(() => happens.current({ kind: "rested" }), RETRY_MS);
          return;
        case "write down":
          writeDown(id, task.change);
          return;
        case "forget":
          for (const gone of task.ids) {
            forget(id, gone);
            settles.current.get(gone)?.(task.kept);
            settles.current.delete(gone);
          }
      }
    },
    [id, send],
  );
  happens.current = (happened) => {
    const [after, tasks] = step(queue.current, happened);
    queue.current = after;
    setSync(after.sync);
    for (const task of tasks) void carryOut(task);
  };

  const enqueue = useCallback(
    (change: Change) =>
      new Promise<boolean>((settled) => {
        const base = queue.current.pending.length ? null : version();
        const typed = performance.timeOrigin + performance.now();
        const pending = { id: newId(), change, base, typed };
        settles.current.set(pending.id, settled);
        happens.current({ kind: "typed", changes: [{ ...pending, written: writeDown(id, pending) }] });
      }),
    [id, version],
  );
  const settleConflict = useCallback(
    async (mine: boolean) => {
      await look();
      happens.current({ kind: "conflict settled", mine });
    },
    [look],
  );
  const dismiss = useCallback(() => happens.current({ kind: "dismissed" }), []);
  /** Takes up what a page before wrote down; gives back what it could not. */
  const takeUp = useCallback(() => {
    if (queue.current.pending.length) return null;
    const found = unsent(id);
    if (found.pending.length) happens.current({ kind: "typed", changes: found.pending });
    return found.lost;
  }, [id]);
  const pending = useCallback(() => queue.current.pending, []);

  useEffect(
    () =>
      whenForgotten(id, (gone) => {
        const before = queue.current.pending.length;
        happens.current({ kind: "finished elsewhere", id: gone });
        if (queue.current.pending.length < before) void look();
      }),
    [id, look],
  );
  return { sync, enqueue, settleConflict, dismiss, takeUp, pending };
}
