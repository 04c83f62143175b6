import { describe, expect, it } from "vitest";
import type { Problem } from "../src/api/client";
import type { Pending } from "../src/api/outbox";
import { AT_REST, type Happened, type Queue, step, type Task } from "../src/api/sync";

const change = (id: string, base: number | null = 1): Pending => ({
  id,
  base,
  typed: 0,
  written: true,
  change: { go: "undo" },
});
const problem = (status: number): Problem => ({
  type: "about:blank",
  title: "",
  status,
  detail: `${status}`,
  changed: null,
  version: null,
});

/** The queue after all of these, and every task there was on the way. */
function all(...them: Happened[]): [Queue, Task[]] {
  let queue = AT_REST;
  const tasks: Task[] = [];
  for (const happened of them) {
    const [then, made] = step(queue, happened);
    queue = then;
    tasks.push(...made);
  }
  return [queue, tasks];
}
const typed = (...ids: string[]): Happened => ({ kind: "typed", changes: ids.map((id) => change(id)) });
const made = (id: string): Happened => ({ kind: "made", id, at: new Date(0) });
const answered = (id: string, status: number): Happened => ({
  kind: "answered",
  id,
  problem: problem(status),
});
const sent = (tasks: Task[]) => tasks.flatMap((t) => (t.task === "send" ? [t.change.id] : []));

describe("changes on their way", () => {
  it("go one after the other, in the order they were typed", () => {
    const [queue, tasks] = all(typed("a"), typed("b"), made("a"), made("b"));
    expect(sent(tasks)).toEqual(["a", "b"]);
    expect(queue.sync).toEqual({ state: "saved", at: new Date(0) });
  });

  it.each([502, 503, 401, 408, 429])("are sent again after an answer of %i, and made once", (status) => {
    const [queue, tasks] = all(typed("a"), answered("a", status), { kind: "rested" }, made("a"));
    expect(sent(tasks)).toEqual(["a", "a"]);
    expect(queue.pending).toEqual([]);
  });

  it("say that the server is not reached, and whether all is written down here", () => {
    expect(all(typed("a"), { kind: "not reached" })[0].sync).toEqual({ state: "offline", here: true });
    const memory: Happened = { kind: "typed", changes: [{ ...change("a"), written: false }] };
    expect(all(memory, { kind: "not reached" })[0].sync).toEqual({ state: "offline", here: false });
  });

  it("wait where another version is there, until the technician says which", () => {
    const [queue, tasks] = all(typed("a"), answered("a", 409), typed("b"));
    expect([queue.sync.state, sent(tasks)]).toEqual(["conflict", ["a"]]);
    const [mine, again] = step(queue, { kind: "conflict settled", mine: true });
    expect(again).toEqual([
      { task: "write down", change: change("a", null) },
      { task: "send", change: change("a", null) },
    ]);
    expect(mine.pending.map((one) => one.id)).toEqual(["a", "b"]);
    const [theirs, gone] = step(queue, { kind: "conflict settled", mine: false });
    expect([theirs.pending, gone]).toEqual([[], [{ task: "forget", ids: ["a", "b"], kept: false }]]);
  });

  it("that are refused are said to be, and hold up no other", () => {
    const [queue, tasks] = all(typed("a"), answered("a", 422));
    expect(queue.sync.state).toBe("refused");
    expect(tasks).toContainEqual({ task: "forget", ids: ["a"], kept: false });
    expect(sent(all(typed("a", "b"), answered("a", 422))[1])).toEqual(["a", "b"]);
  });

  it("that another tab has finished are not sent, but for the one on its way", () => {
    const gone: Happened = { kind: "finished elsewhere", id: "b" };
    expect(sent(all(typed("a", "b"), gone, made("a"))[1])).toEqual(["a"]);
    expect(all(typed("a"), { kind: "finished elsewhere", id: "a" })[0].pending).toHaveLength(1);
  });

  it("are each sent alone, in order, and settled exactly once, whatever happens", () => {
    for (let seed = 1; seed <= 300; seed++) {
      let state = seed;
      const draw = (most: number) => {
        state = (state * 48271) % 2147483647;
        return state % most;
      };
      let [queue, count, resting] = [AT_REST, 0, false];
      const settled: string[] = [];
      const way: string[] = [];
      const happens = (happened: Happened) => {
        const [then, tasks] = step(queue, happened);
        queue = then;
        for (const task of tasks) {
          if (task.task === "send") way.push(task.change.id);
          if (task.task === "rest") resting = true;
          if (task.task === "forget") settled.push(...task.ids);
        }
        expect(way.length).toBeLessThanOrEqual(1);
      };
      for (let n = 0; n < 60; n++) {
        const at = draw(10);
        const [going] = way;
        if (at < 4) happens(typed(`c${count++}`));
        else if (at < 5 && queue.waiting) happens({ kind: "conflict settled", mine: draw(2) === 0 });
        else if (at < 6 && resting) {
          resting = false;
          happens({ kind: "rested" });
        } else if (at < 7) happens({ kind: "finished elsewhere", id: `c${draw(count + 1)}` });
        else if (at < 8) happens({ kind: "dismissed" });
        else if (going) {
          way.pop();
          const answer = draw(5);
          if (answer < 2) happens(made(going));
          else if (answer < 3) happens({ kind: "not reached" });
          else happens(answered(going, [503, 409, 422][draw(3)] ?? 422));
        }
      }
      while (queue.pending.length) {
        if (queue.waiting) happens({ kind: "conflict settled", mine: true });
        else if (resting) {
          resting = false;
          happens({ kind: "rested" });
        } else happens(made(way.pop() ?? ""));
      }
      expect([...settled].sort()).toEqual(Array.from({ length: count }, (_, n) => `c${n}`).sort());
    }
  });
});
