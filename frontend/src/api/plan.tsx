import { useQuery, useQueryClient } from "@tanstack/react-query";
import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import {
  api,
  type Edit,
  type Problem,
  Refused,
  type Report,
  type Standing,
  type Trial,
  taken,
} from "./client";

/** One plan as the server has it, the changes on their way to it, and the trial in view. */

type Change = { edits: Edit[]; why: string } | { go: "undo" | "redo" } | { restore: number };
interface Pending {
  change: Change;
  /** The version it was made on; null when it follows the change before it in the queue. */
  base: number | null;
  settled?: (kept: boolean) => void;
}
export type Sync =
  | { state: "saved"; at: Date | null }
  | { state: "saving" }
  | { state: "offline" }
  | { state: "conflict"; problem: Problem }
  | { state: "refused"; problem: Problem };

interface PlanValue {
  standing: Standing;
  /** The report to show: of the trial while one is in view, of the plan otherwise. */
  report: Report;
  trial: Trial | null;
  sync: Sync;
  edit: (edits: Edit[], why?: string) => Promise<boolean>;
  preview: (edits: Edit[] | null) => void;
  undo: () => void;
  redo: () => void;
  restore: (revision: number) => void;
  settleConflict: (keepMine: boolean) => void;
  take: (standing: Standing) => void;
  dismiss: () => void;
  selected: string | null;
  select: (subject: string | null) => void;
}

const Context = createContext<PlanValue | null>(null);

export function usePlan(): PlanValue {
  const value = useContext(Context);
  if (!value) throw new Error("usePlan outside PlanProvider");
  return value;
}

async function send(id: string, version: number, change: Change): Promise<Standing> {
  const header = { "if-match": `"${version}"` };
  if ("edits" in change) {
    return taken(
      await api.POST("/api/plans/{id}/edits", {
        params: { path: { id }, header },
        body: change,
      }),
    );
  }
  if ("restore" in change) {
    const path = { id, number: change.restore };
    return taken(await api.POST("/api/plans/{id}/restore/{number}", { params: { path, header } }));
  }
  return taken(await api.POST(`/api/plans/{id}/${change.go}`, { params: { path: { id }, header } }));
}

export function PlanProvider({ id, children }: { id: string; children: ReactNode }) {
  const client = useQueryClient();
  const cacheKey = useMemo(() => ["plan", id], [id]);
  const outbox = `humble-relay:unsent:${id}`;
  const queue = useRef<Pending[]>([]);
  const running = useRef(false);
  /** A conflict waits for the technician: nothing is sent meanwhile. */
  const waiting = useRef(false);
  const trialNumber = useRef(0);
  const [sync, setSync] = useState<Sync>({ state: "saved", at: null });
  const [trial, setTrial] = useState<Trial | null>(null);
  const [selected, select] = useState<string | null>(null);

  const query = useQuery({
    queryKey: cacheKey,
    queryFn: async () => taken(await api.GET("/api/plans/{id}", { params: { path: { id } } })),
    // What was typed stays on the version it was typed on: no refresh under unsent work.
    refetchOnWindowFocus: () => queue.current.length === 0 && !document.querySelector("[data-unsaved]"),
  });

  const take = useCallback(
    (standing: Standing) => {
      client.setQueryData(cacheKey, standing);
      client.invalidateQueries({ queryKey: ["papers", id] });
      client.invalidateQueries({ queryKey: ["history", id] });
    },
    [client, cacheKey, id],
  );

  const keep = useCallback(() => {
    const unsent = queue.current.map(({ change, base }) => ({ change, base }));
    if (unsent.length) localStorage.setItem(outbox, JSON.stringify(unsent));
    else localStorage.removeItem(outbox);
  }, [outbox]);

  const run = useCallback(async () => {
    if (running.current || waiting.current) return;
    running.current = true;
    while (queue.current[0]) {
      const next = queue.current[0];
      const version = next.base ?? client.getQueryData<Standing>(cacheKey)?.version ?? 0;
      setSync((now) => (now.state === "offline" ? now : { state: "saving" }));
      try {
        take(await send(id, version, next.change));
        queue.current.shift();
        next.settled?.(true);
        setTrial(null);
        trialNumber.current++;
        if (!queue.current.length) setSync({ state: "saved", at: new Date() });
      } catch (error) {
        if (!(error instanceof Refused)) {
          setSync({ state: "offline" });
          keep();
          await new Promise((wake) => setTimeout(wake, 1500));
          continue;
        }
        if (error.problem.status === 409) {
          waiting.current = true;
          setSync({ state: "conflict", problem: error.problem });
          keep();
          break;
        }
        queue.current.shift();
        next.settled?.(false);
        setSync({ state: "refused", problem: error.problem });
      }
      keep();
    }
    running.current = false;
  }, [client, cacheKey, id, keep, take]);

  const enqueue = useCallback(
    (change: Change) =>
      new Promise<boolean>((settled) => {
        const now = client.getQueryData<Standing>(cacheKey)?.version ?? 0;
        queue.current.push({ change, base: queue.current.length ? null : now, settled });
        keep();
        void run();
      }),
    [client, cacheKey, keep, run],
  );

  const edit = useCallback((edits: Edit[], why = "") => enqueue({ edits, why }), [enqueue]);

  const preview = useCallback(
    async (edits: Edit[] | null) => {
      const mine = ++trialNumber.current;
      if (!edits) return setTrial(null);
      try {
        const found = taken(
          await api.POST("/api/plans/{id}/try", { params: { path: { id } }, body: { edits } }),
        );
        if (mine === trialNumber.current) setTrial(found);
      } catch {
        if (mine === trialNumber.current) setTrial(null);
      }
    },
    [id],
  );

  const settleConflict = useCallback(
    async (keepMine: boolean) => {
      if (!keepMine) for (const one of queue.current.splice(0)) one.settled?.(false);
      await query.refetch();
      if (queue.current[0]) queue.current[0].base = null;
      keep();
      waiting.current = false;
      setSync({ state: "saved", at: null });
      setTrial(null);
      void run();
    },
    [keep, query, run],
  );

  const loaded = query.data !== undefined;
  useEffect(() => {
    const unsent = localStorage.getItem(outbox);
    if (!loaded || !unsent || queue.current.length) return;
    try {
      queue.current = JSON.parse(unsent) as Pending[];
      void run();
    } catch {
      localStorage.removeItem(outbox);
    }
  }, [loaded, outbox, run]);

  const standing = query.data;
  const value = useMemo<PlanValue | null>(
    () =>
      standing
        ? {
            standing,
            report: trial?.report ?? standing.report,
            trial,
            sync,
            edit,
            preview,
            undo: () => void enqueue({ go: "undo" }),
            redo: () => void enqueue({ go: "redo" }),
            restore: (revision) => void enqueue({ restore: revision }),
            settleConflict,
            take,
            dismiss: () => setSync({ state: "saved", at: null }),
            selected,
            select,
          }
        : null,
    [standing, trial, sync, edit, preview, enqueue, settleConflict, take, selected],
  );

  if (query.error instanceof Refused) {
    return (
      <p className="p-6" role="alert">
        {query.error.message}{" "}
        <a className="link" href="/">
          All plans
        </a>
      </p>
    );
  }
  if (!value)
    return <p className="p-6">{query.error ? "Server not reached. Trying again." : "Opening the plan."}</p>;
  return <Context.Provider value={value}>{children}</Context.Provider>;
}
