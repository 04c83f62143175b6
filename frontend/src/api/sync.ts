import type { Problem } from "./client";
import type { Pending } from "./outbox";

/** What happens to changes on their way to the server, one after the other: no framework, no clock, no network. */

export type Sync =
  | { state: "saved"; at: Date | null }
  | { state: "saving" }
  /** The server is not reached; `here` where all of it is written down and not only in memory. */
  | { state: "offline"; here: boolean }
  /** The server is reached and cannot take it just now. */
  | { state: "held"; problem: Problem }
  | { state: "conflict"; problem: Problem }
  | { state: "refused"; problem: Problem };

export interface Queue {
  pending: readonly Pending[];
  /** One is being sent, or waits to be sent again. */
  busy: boolean;
  /** A conflict waits for the technician: nothing is sent meanwhile. */
  waiting: boolean;
  sync: Sync;
}

export const AT_REST: Queue = {
  pending: [],
  busy: false,
  waiting: false,
  sync: { state: "saved", at: null },
};

export type Happened =
  | { kind: "typed"; changes: readonly Pending[] }
  /** The server has made it. */
  | { kind: "made"; id: string; at: Date }
  | { kind: "not reached" }
  | { kind: "answered"; id: string; problem: Problem }
  /** It is time to try again. */
  | { kind: "rested" }
  | { kind: "conflict settled"; mine: boolean }
  /** Another tab has sent it, or dropped it. */
  | { kind: "finished elsewhere"; id: string }
  | { kind: "dismissed" };

export type Task =
  | { task: "send"; change: Pending }
  | { task: "rest" }
  /** It is on no way any more; `kept` where the server has it. */
  | { task: "forget"; ids: string[]; kept: boolean }
  | { task: "write down"; change: Pending };

/** Answers after which the change may still go through as it is. */
const passing = (status: number) => status >= 500 || status === 401 || status === 408 || status === 429;
const SAVED: Sync = { state: "saved", at: null };
const troubled = (sync: Sync) => sync.state === "offline" || sync.state === "held";

/** The queue after something happened, and what is to be done for it, in this order. */
export function step(queue: Queue, happened: Happened): [Queue, Task[]] {
  switch (happened.kind) {
    case "typed":
      return next({ ...queue, pending: [...queue.pending, ...happened.changes] }, []);
    case "made": {
      const rest = without(queue, happened.id);
      const sync: Sync = rest.pending.length ? rest.sync : { state: "saved", at: happened.at };
      return next({ ...rest, busy: false, sync }, known(queue, happened.id, true));
    }
    case "not reached":
      return [
        { ...queue, sync: { state: "offline", here: queue.pending.every((one) => one.written) } },
        [{ task: "rest" }],
      ];
    case "answered":
      return answered(queue, happened.id, happened.problem);
    case "rested":
      return next({ ...queue, busy: false }, []);
    case "conflict settled":
      return settled(queue, happened.mine);
    case "finished elsewhere": {
      const known = queue.pending.findIndex((one) => one.id === happened.id);
      if (known < 0 || (known === 0 && queue.busy)) return [queue, []];
      const rest = without(queue, happened.id);
      return [
        rest.pending.length ? rest : { ...rest, waiting: false, sync: SAVED },
        [forget([happened.id], false)],
      ];
    }
    case "dismissed":
      return queue.sync.state === "held" ? dropped(queue) : [{ ...queue, sync: SAVED }, []];
  }
}

/** A change that may go through later is sent again, one made on another version waits, any other is refused. */
function answered(queue: Queue, id: string, problem: Problem): [Queue, Task[]] {
  if (passing(problem.status)) return [{ ...queue, sync: { state: "held", problem } }, [{ task: "rest" }]];
  if (problem.status === 409 && queue.pending[0]?.id === id) {
    return [{ ...queue, busy: false, waiting: true, sync: { state: "conflict", problem } }, []];
  }
  const rest = { ...without(queue, id), busy: false, sync: { state: "refused", problem } as Sync };
  return next(rest, known(queue, id, false));
}

function settled(queue: Queue, mine: boolean): [Queue, Task[]] {
  const free = { ...queue, waiting: false, sync: SAVED };
  const [first, ...others] = queue.pending;
  if (!mine || !first) return dropped(free);
  const moved = { ...first, base: null };
  return next({ ...free, pending: [moved, ...others] }, [{ task: "write down", change: moved }]);
}

function dropped(queue: Queue): [Queue, Task[]] {
  const ids = queue.pending.map((one) => one.id);
  return [{ ...queue, pending: [], sync: SAVED }, ids.length ? [forget(ids, false)] : []];
}

/** The first is sent, unless one is on its way or a conflict waits. */
function next(queue: Queue, before: Task[]): [Queue, Task[]] {
  const [first] = queue.pending;
  if (!first || queue.busy || queue.waiting) return [queue, before];
  const sync: Sync = troubled(queue.sync) ? queue.sync : { state: "saving" };
  return [{ ...queue, busy: true, sync }, [...before, { task: "send", change: first }]];
}

const without = (queue: Queue, id: string): Queue => ({
  ...queue,
  pending: queue.pending.filter((one) => one.id !== id),
});
/** A change that was dropped while it was on its way is settled already. */
const known = (queue: Queue, id: string, kept: boolean): Task[] =>
  queue.pending.some((one) => one.id === id) ? [forget([id], kept)] : [];
const forget = (ids: string[], kept: boolean): Task => ({ task: "forget", ids, kept });
