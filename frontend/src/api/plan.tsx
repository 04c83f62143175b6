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
import { useSearchParams } from "react-router";
import { EarlierRevisions } from "../parts/EarlierRevisions";
import {
  api,
  type Edit,
  Refused,
  type Report,
  type Schemas,
  type Standing,
  type Trial,
  taken,
} from "./client";
import { type Entry, OF_THE_DAY, sentHere, wasSentHere } from "./entries";
import { listen } from "./events";
import { FORM } from "./form";
import { type Known, laidOver } from "./laidOver";
import { hearPick, useTellPick } from "./otherDesks";
import { forgetLost, type Lost, type Pending } from "./outbox";
import { drawnNoun, keyOf, type Picked, pickedBy } from "./pick";
import type { Sync } from "./sync";
import { tellTabs, whenChanged } from "./tabs";
import { useQueue } from "./useQueue";

/** One plan as the server has it, the changes on their way to it, and the trial in view. */

interface PlanValue {
  standing: Known;
  /** Changes with everything that may change what is said of the plan. */
  stamp: number;
}

interface EditsValue {
  edit: (edits: Edit[], why?: string) => Promise<boolean>;
  /** Writes into the log of the plan what was found or done; a time without an offset is of the zone. */
  write: (entries: Entry[], zone?: string) => Promise<boolean>;
  preview: (edits: Edit[] | null) => void;
  undo: () => void;
  redo: () => void;
  restore: (revision: number) => void;
}

interface TrialValue {
  /** The report to show: of the trial while one is in view, of the plan otherwise. */
  report: Report;
  /** The edits that are being looked at and not yet made. */
  trying: Edit[] | null;
  trial: Trial | null;
}

interface SyncValue {
  sync: Sync;
  /** What was typed before a reload and is not kept. */
  lost: Lost[];
  dismissLost: () => void;
  settleConflict: (mine: boolean) => void;
  dismiss: () => void;
}

interface SelectionValue {
  /** What the pane shows: a thing, or a finding; nothing: the findings. */
  picked: Picked | null;
  /** The thing that is picked, or that the picked finding is of. */
  selected: string | null;
  /** Whether it is only pointed at, as a finding does, and nothing is to move for it. */
  pointed: boolean;
  /** Picks a thing that the map draws; null lets go. */
  select: (subject: string | null) => void;
  /** Picking is a step of the browser's history: back leads back. */
  pick: (what: Picked | null) => void;
}

/** A context of its own for what changes at its own pace: who reads one is not drawn again for another. */
function context<T>(name: string) {
  const made = createContext<T | null>(null);
  const use = (): T => {
    const value = useContext(made);
    if (!value) throw new Error(`${name} outside PlanProvider`);
    return value;
  };
  return [made, use] as const;
}

/** The plan as the server has it. */
export const [PlanContext, usePlan] = context<PlanValue>("usePlan");
/** What changes it; never changes itself. */
export const [EditsContext, useEdits] = context<EditsValue>("useEdits");
/** What the edits in view would change. */
export const [TrialContext, useTrial] = context<TrialValue>("useTrial");
/** What is on its way to the server. */
export const [SyncContext, useSync] = context<SyncValue>("useSync");
/** What is looked at. */
export const [SelectionContext, useSelection] = context<SelectionValue>("useSelection");

type Told = Standing | Schemas["StandingChanges"];

/** Sends a change; what is then told of the plan, or nothing where it cannot have changed by it. */
async function send(known: Standing, { id: request, base, change }: Pending): Promise<Told | null> {
  const { id, told } = known;
  const once = { "Idempotency-Key": request, "Changes-Since": told };
  const header = { "if-match": `"${base ?? known.version}"`, ...once };
  if ("edits" in change) {
    return taken(await api.POST("/api/plans/{id}/edits", { params: { path: { id }, header }, body: change }));
  }
  if ("entries" in change) {
    const body = { ...change, role: "", clock: new Date().toISOString() };
    sentHere(change.entries);
    const said = taken(await api.POST("/api/plans/{id}/entries", { params: { path: { id } }, body }));
    const refused = said.entries.find((each) => each.why);
    if (refused) throw new Refused(notTaken(refused.why));
    if (change.entries.every((entry) => NOT_JUDGED.has(entry.kind))) return null;
    const params = { path: { id }, header: { "Changes-Since": told } };
    return taken(await api.GET("/api/plans/{id}", { params }));
  }
  if ("restore" in change) {
    const path = { id, number: change.restore };
    return taken(await api.POST("/api/plans/{id}/restore/{number}", { params: { path, header } }));
  }
  return taken(await api.POST(`/api/plans/{id}/${change.go}`, { params: { path: { id }, header } }));
}

const notTaken = (detail: string) => ({
  type: "about:blank",
  title: "Not taken",
  status: 422,
  version: null,
  changed: null,
  detail,
});

/** The edits that are looked at, and the plan as it would be with them. */
function useTrying(id: string) {
  const trialNumber = useRef(0);
  const [trial, setTrial] = useState<Trial | null>(null);
  const [trying, setTrying] = useState<Edit[] | null>(null);
  const preview = useCallback(
    async (edits: Edit[] | null) => {
      const mine = ++trialNumber.current;
      if (!edits) return setTrial(null);
      try {
        const found = taken(
          await api.POST("/api/plans/{id}/try", { params: { path: { id } }, body: { edits } }),
        );
        if (mine === trialNumber.current) {
          setTrial(found);
          setTrying(edits);
        }
      } catch {
        if (mine === trialNumber.current) setTrial(null);
      }
    },
    [id],
  );

  const leaveTrial = useCallback(() => {
    setTrial(null);
    trialNumber.current++;
  }, []);
  return { trial, trying, preview, leaveTrial };
}

/** What another tab did is here within a moment; but what was typed stays on the version it was typed on. */
function useOtherTabs(
  id: string,
  version: () => number,
  pending: () => readonly Pending[],
  refetch: () => Promise<unknown>,
) {
  useEffect(
    () =>
      whenChanged((news) => {
        const typing = pending().length > 0 || document.querySelector("[data-unsaved]");
        if (news.id === id && news.version >= version() && !typing) void refetch();
      }),
    [id, version, pending, refetch],
  );
}

/** The browser asks before a page is left on which something is typed and not kept. */
function useAskBeforeLeaving(pending: () => readonly Pending[]) {
  useEffect(() => {
    const ask = (event: BeforeUnloadEvent) => {
      if (pending().some((one) => !one.written) || document.querySelector("[data-not-kept]")) {
        event.preventDefault();
      }
    };
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [pending]);
}

/** What was typed before a reload and could not be kept, until it is dismissed. */
function useLost(id: string, loaded: boolean, takeUp: () => Lost[] | null) {
  const [lost, setLost] = useState<Lost[]>([]);
  useEffect(() => {
    const found = loaded ? takeUp() : null;
    if (found) setLost(found);
  }, [loaded, takeUp]);
  const dismissLost = useCallback(() => {
    forgetLost(id);
    setLost([]);
  }, [id]);
  return { lost, dismissLost };
}

/** What is picked, by the address of the page. */
function usePicked(standing: Standing | undefined): SelectionValue {
  const [search, setSearch] = useSearchParams();
  const key = search.get("pick");
  const now = useRef({ setSearch, key, plan: standing?.plan });
  now.current = { setSearch, key, plan: standing?.plan };
  const pick = useCallback((what: Picked | null) => {
    const next = what && keyOf(what);
    if (next !== now.current.key) now.current.setSearch(next ? { pick: next } : {});
  }, []);
  const select = useCallback(
    (id: string | null) =>
      pick(id && now.current.plan ? { noun: drawnNoun(now.current.plan, id), id } : null),
    [pick],
  );
  const picked = useMemo(() => pickedBy(key), [key]);
  const pointed = picked !== null && "finding" in picked;
  const of = pointed ? standing?.report.findings.find((f) => f.id === picked.finding)?.subject : picked?.id;
  return useMemo(
    () => ({ picked, selected: of ?? null, pointed, select, pick }),
    [picked, of, pointed, select, pick],
  );
}

/** Why a plan could not be opened; where it is damaged, its earlier revisions. */
function NotOpened({ id, error, again }: { id: string; error: Refused; again: () => void }) {
  return (
    <main className="p-6">
      <p role="alert">
        {error.message}{" "}
        <a className="link" href="/">
          All plans
        </a>
      </p>
      {error.problem.status === 500 && <EarlierRevisions id={id} onBack={again} />}
    </main>
  );
}

/** Lines are read where they are written, and judged by nowhere. */
const NOT_JUDGED = new Set(["fault", "tried", "mended", "line", "photograph", "seen", "lost"]);

/** What others did is here within a moment: their edits, unless something is typed on the version before; and what was found. */
function useNews(
  id: string,
  cacheKey: readonly string[],
  busy: () => boolean,
  refetch: () => Promise<unknown>,
) {
  const client = useQueryClient();
  const running = useRef(false);
  const again = useRef(false);
  const catchUp = useCallback(async () => {
    again.current = true;
    if (running.current) return;
    running.current = true;
    try {
      while (again.current) {
        again.current = false;
        const known = client.getQueryData<Known>(cacheKey);
        if (!known) return;
        const params = { path: { id }, header: { "Changes-Since": known.told } };
        const told = taken(await api.GET("/api/plans/{id}", { params }));
        const here = client.getQueryData<Known>(cacheKey);
        const now = told.version === here?.version ? laidOver(here, told) : undefined;
        if (now) client.setQueryData(cacheKey, now);
      }
    } catch {
      // Not reached: the connection says what was missed as soon as it is there again.
    } finally {
      running.current = false;
    }
  }, [id, client, cacheKey]);
  useEffect(
    () =>
      listen(id, (news) => {
        const known = client.getQueryData<Known>(cacheKey);
        // What was sent from here is asked for when it has arrived.
        if ("entry" in news && OF_THE_DAY.has(news.entry.kind) && !wasSentHere(news.entry.id))
          client.invalidateQueries({ queryKey: ["setup", id] });
        if ("desk" in news) hearPick(news);
        else if ("entry" in news && !NOT_JUDGED.has(news.entry.kind)) {
          client.invalidateQueries({ queryKey: ["log", id] });
          if (!wasSentHere(news.entry.id)) void catchUp();
        } else if ("entry" in news) client.invalidateQueries({ queryKey: ["log", id] });
        else if ("version" in news && known && news.version > known.version && !busy()) void refetch();
      }),
    [id, client, cacheKey, busy, refetch, catchUp],
  );
}

/** Asks for the report of a large plan that was kept before it was judged, once its page shows the change. */
function useReport(id: string, cacheKey: readonly string[]) {
  const client = useQueryClient();
  const asked = useRef<AbortController | null>(null);
  return useCallback(async () => {
    asked.current?.abort();
    const mine = new AbortController();
    asked.current = mine;
    const known = () => client.getQueryData<Known>(cacheKey);
    // What the page draws of the change is asked for first.
    await new Promise((shown) => setTimeout(shown, SHOWN_MS));
    while (!mine.signal.aborted && known()?.unjudged) {
      try {
        const params = { path: { id }, header: { "Changes-Since": known()?.told } };
        const told = taken(await api.GET("/api/plans/{id}", { params, signal: mine.signal }));
        const now = told.version === known()?.version ? laidOver(known(), told) : undefined;
        if (now) {
          client.setQueryData(cacheKey, now, { updatedAt: client.getQueryState(cacheKey)?.dataUpdatedAt });
          return;
        }
      } catch (error) {
        if (error instanceof Refused && error.problem.status < 500) return;
      }
      // Changed elsewhere meanwhile, not reached, or busy.
      await new Promise((later) => setTimeout(later, AGAIN_MS));
    }
  }, [id, client, cacheKey]);
}

const SHOWN_MS = 50;
const AGAIN_MS = 1500;

/** Holds one plan, for everything under it. */
export function PlanProvider({ id, children }: { id: string; children: ReactNode }) {
  const client = useQueryClient();
  const cacheKey = useMemo(() => ["plan", id], [id]);
  const { trial, trying, preview, leaveTrial } = useTrying(id);

  const query = useQuery({
    queryKey: cacheKey,
    queryFn: async (): Promise<Known> => {
      const found = taken(await api.GET("/api/plans/{id}", { params: { path: { id } } }));
      // Who says nothing of what was told before is told all of it.
      if ("since" in found) throw new TypeError("told of changes that were not asked for");
      return found;
    },
    // A plan is large, and what is drawn of it at a time is little: comparing it costs more than drawing that again.
    structuralSharing: false,
    // What was typed stays on the version it was typed on: no refresh under unsent work.
    refetchOnWindowFocus: () => pending().length === 0 && !document.querySelector("[data-unsaved]"),
  });

  const take = useCallback(
    (standing: Known) => {
      client.setQueryData(cacheKey, standing);
      client.invalidateQueries({ queryKey: ["papers", id] });
      client.invalidateQueries({ queryKey: ["history", id] });
      client.invalidateQueries({ queryKey: ["log", id] });
    },
    [client, cacheKey, id],
  );

  const { refetch } = query;
  const version = useCallback(
    () => client.getQueryData<Standing>(cacheKey)?.version ?? 0,
    [client, cacheKey],
  );
  const askReport = useReport(id, cacheKey);
  const seenAnew = useCallback(
    (entries: readonly Entry[]) => {
      if (entries.some((entry) => OF_THE_DAY.has(entry.kind)))
        client.invalidateQueries({ queryKey: ["setup", id] });
    },
    [client, id],
  );
  const sendOne = useCallback(
    async (next: Pending) => {
      const known = client.getQueryData<Known>(cacheKey);
      if (!known) throw new TypeError("the plan is not here yet");
      const made = await send(known, next);
      if ("entries" in next.change) seenAnew(next.change.entries);
      if (!made) {
        client.invalidateQueries({ queryKey: ["log", id] });
        return;
      }
      const now = laidOver(client.getQueryData<Known>(cacheKey), made);
      // Told to who knew another plan than is here by now: it is read anew.
      if (now) take(now);
      else await refetch();
      if (now?.unjudged) void askReport();
      tellTabs({ id, version: made.version });
      leaveTrial();
    },
    [id, client, cacheKey, take, refetch, leaveTrial, askReport, seenAnew],
  );
  const look = useCallback(async () => {
    await refetch();
    leaveTrial();
  }, [refetch, leaveTrial]);
  const { sync, enqueue, settleConflict, dismiss, takeUp, pending } = useQueue(id, {
    send: sendOne,
    version,
    look,
  });

  const edit = useCallback((edits: Edit[], why = "") => enqueue({ edits, why, form: FORM }), [enqueue]);
  const write = useCallback(
    async (entries: Entry[], zone = "") => {
      const kept = await enqueue({ entries, zone });
      if (!kept) seenAnew(entries); // what was drawn ahead of the answer goes
      return kept;
    },
    [enqueue, seenAnew],
  );

  useOtherTabs(id, version, pending, refetch);
  const busy = useCallback(
    () => pending().length > 0 || document.querySelector("[data-unsaved]") !== null,
    [pending],
  );
  useNews(id, cacheKey, busy, refetch);
  const { lost, dismissLost } = useLost(id, query.data !== undefined, takeUp);
  useAskBeforeLeaving(pending);

  const standing = query.data;
  const stamp = query.dataUpdatedAt;
  const plan = useMemo(() => (standing ? { standing, stamp } : null), [standing, stamp]);
  const edits = useMemo<EditsValue>(
    () => ({
      edit,
      write,
      preview,
      undo: () => void enqueue({ go: "undo" }),
      redo: () => void enqueue({ go: "redo" }),
      restore: (revision) => void enqueue({ restore: revision }),
    }),
    [edit, write, preview, enqueue],
  );
  const tried = useMemo<TrialValue | null>(
    () => (standing ? { report: trial?.report ?? standing.report, trial, trying: trial && trying } : null),
    [standing, trial, trying],
  );
  const syncing = useMemo<SyncValue>(
    () => ({
      sync,
      lost,
      settleConflict,
      dismissLost,
      dismiss,
    }),
    [sync, lost, settleConflict, dismissLost, dismiss],
  );
  const looked = usePicked(standing);
  useTellPick(id, looked.picked && keyOf(looked.picked));

  if (query.error instanceof Refused)
    return <NotOpened id={id} error={query.error} again={() => void query.refetch()} />;
  if (!plan || !tried)
    return <p className="p-6">{query.error ? "Server not reached. Trying again." : "Opening the plan."}</p>;
  return (
    <PlanContext value={plan}>
      <EditsContext value={edits}>
        <SyncContext value={syncing}>
          <SelectionContext value={looked}>
            <TrialContext value={tried}>{children}</TrialContext>
          </SelectionContext>
        </SyncContext>
      </EditsContext>
    </PlanContext>
  );
}
