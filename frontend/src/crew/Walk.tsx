import { useState } from "react";
import { Refused } from "../api/client";
import { useFaults, useFirstTests } from "../api/faults";
import { switchTheme } from "../shell/theme";
import { Lines } from "./Lines";
import { NotAppearing } from "./NotAppearing";
import { ToFindOut, useAsked } from "./ToFindOut";
import { ToRead } from "./ToRead";
import { ToSetUp } from "./ToSetUp";
import { type Log, useLog, type View } from "./useLog";
import { useDay, useWalk, useWalkPapers } from "./useWalk";
import { inOrder, keepOrder, keptOrder, WalkingOrder } from "./WalkingOrder";

type Page = "walk" | "setup" | "faults" | "read" | "log";
const PAGES: readonly (readonly [Page, string])[] = [
  ["walk", "Find out"],
  ["setup", "Set up"],
  ["faults", "Faults"],
  ["read", "Read"],
  ["log", "Log"],
];
const KEPT = "humble-relay:place";

/** The plan in the hand of the crew: what to find out where one stands, what is plugged in there, the run sheet, a line for the log. */
export function Walk({ plan, role }: { plan: string; role: string }) {
  const { data: read, error } = useWalk(plan);
  const papers = useWalkPapers(plan, read?.version);
  const [order, setOrder] = useState(() => keptOrder(plan));
  const view = read && { ...read, places: inOrder(read.places, order) };
  const log = useLog(plan, role);
  const day = useDay(plan, read?.version, log.written);
  const asked = useAsked(view);
  const [page, setPage] = useState<Page>("walk");
  const [dark, setDark] = useState("");
  const faults = useFaults(plan, read?.version, page === "faults");
  const first = useFirstTests(plan, read?.version);
  const [at, setAt] = useState(() => localStorage.getItem(KEPT) ?? "");
  if (log.sentAway || isOut(error)) return <SentAway waits={log.written.filter((one) => !one.sent).length} />;
  if (!view) return <p className="p-4">Reading the plan.</p>;
  const here = view.places.find((place) => place.id === at) ?? view.places[0];
  const goTo = (id: string) => {
    setAt(id);
    localStorage.setItem(KEPT, id);
    window.scrollTo(0, 0);
  };
  return (
    <div className="mx-auto flex min-h-dvh max-w-xl flex-col">
      <Head view={view} role={role} log={log} />
      <main className="grow px-4 pt-3 pb-24">
        {page !== "log" && page !== "faults" && (
          <IAmAt
            view={view}
            here={page === "setup" && at === ONLINE ? ONLINE : (here?.id ?? "")}
            goTo={goTo}
            online={page === "setup" ? day?.places.find((place) => !place.id)?.name : undefined}
          />
        )}
        {page === "walk" && here && (
          <>
            <ToFindOut
              key={here.id}
              view={view}
              asked={asked}
              here={here}
              role={role}
              log={log}
              goTo={goTo}
            />
            <WalkingOrder
              places={view.places}
              ordered={order.length > 0}
              put={(ids) => {
                setOrder(ids);
                keepOrder(plan, ids);
              }}
            />
          </>
        )}
        {page === "setup" && day && (
          <ToSetUp
            view={day}
            place={at === ONLINE ? "" : (here?.id ?? "")}
            write={log.write}
            goTo={(place) => goTo(place || ONLINE)}
            notAppearing={(picture) => {
              setDark(picture);
              setPage("faults");
              window.scrollTo(0, 0);
            }}
          />
        )}
        {page === "faults" && (
          <NotAppearing
            view={faults ?? { faults: [], places: [...first] }}
            first={first}
            dark={dark}
            setDark={setDark}
            log={log}
          />
        )}
        {page === "read" && here && <ToRead view={view} here={here} papers={papers} write={log.write} />}
        {page === "log" && <Lines zone={view.zone} written={log.written} write={log.write} />}
      </main>
      <nav
        aria-label="Pages"
        className="border-ink bg-sheet fixed inset-x-0 bottom-0 mx-auto flex max-w-xl border-t"
      >
        {PAGES.map(([id, words]) => (
          <button
            key={id}
            type="button"
            aria-current={page === id ? "page" : undefined}
            className={`min-h-14 grow cursor-pointer text-head ${page === id ? "font-semibold underline decoration-2 underline-offset-8" : ""}`}
            onClick={() => setPage(id)}
          >
            {words}
          </button>
        ))}
      </nav>
    </div>
  );
}

/** Whether the server knows this phone no more. */
const isOut = (error: unknown) => error instanceof Refused && error.problem.status === 401;

function Head({ view, role, log }: { view: View; role: string; log: Log }) {
  const waits = log.written.filter((one) => !one.sent && !one.why).length;
  return (
    <header className="border-ink bg-sheet sticky top-0 z-10 flex min-h-14 items-center justify-between gap-3 border-b px-4">
      <span className="min-w-0 leading-tight">
        <strong className="block truncate">{view.show}</strong>
        <span className="text-faint block truncate text-small">{role}</span>
      </span>
      <span
        role="status"
        className={`text-right text-small leading-tight ${waits ? "font-semibold" : "text-faint"}`}
      >
        {waits > 0 ? `${waits} kept on this phone` : "All sent"}
        {!log.reached && (
          <span className="text-accent block">
            desk not reached{window.isSecureContext ? "" : ": leave this page open"}
          </span>
        )}
      </span>
      <button type="button" className="button min-h-11 shrink-0" onClick={() => switchTheme()}>
        Light
      </button>
    </header>
  );
}

/** Where services are set up: no place of the walk. */
const ONLINE = "online:";

function IAmAt(props: { view: View; here: string; goTo: (id: string) => void; online?: string | undefined }) {
  const { view, here, goTo, online } = props;
  return (
    <label className="mb-4 block">
      <span className="text-faint block text-small">I am at</span>
      <select
        className="field min-h-12 text-title"
        value={here}
        onChange={(event) => goTo(event.target.value)}
      >
        {view.places.map((place) => (
          <option key={place.id} value={place.id}>
            {place.name}
            {place.facts.length > 0 && `: ${place.facts.length} to find out`}
          </option>
        ))}
        {online && <option value={ONLINE}>{online}</option>}
      </select>
    </label>
  );
}

function SentAway({ waits }: { waits: number }) {
  return (
    <main className="p-4">
      <h1 className="mb-2 text-title font-semibold">This phone is out of the crew</h1>
      <p className="mb-4">
        The desk has sent it away, or its code is of another show.
        {waits > 0 &&
          ` ${waits === 1 ? "One entry is" : `${waits} entries are`} kept on this phone, and sent once it has joined again.`}
      </p>
      <button
        type="button"
        className="button min-h-14 w-full text-head"
        onClick={() => window.location.reload()}
      >
        Join again
      </button>
    </main>
  );
}
