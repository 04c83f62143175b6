import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { api, Refused, type Schemas, taken } from "../api/client";
import { type Entry, found, marked, noted, photographed } from "../api/entries";
import { listen } from "../api/events";
import { newId } from "../api/outbox";
import { switchTheme } from "../shell/theme";
import { AskedFact } from "./AskedFact";
import { keepPhotograph } from "./kept";
import { smaller } from "./smaller";
import { useLog, type Written } from "./useLog";

type View = Schemas["WalkView"];
type Page = "walk" | "read" | "log";
const PAGES: readonly (readonly [Page, string])[] = [
  ["walk", "To find out"],
  ["read", "Read"],
  ["log", "Log"],
];
/** Much happens at once: the walk is asked for again a moment after. */
const TOGETHER_MS = 250;
const KEPT = "humble-relay:place";

/** The plan in the hand of the crew: what to find out where one stands, what is plugged in there, the run sheet, a line for the log. */
export function Walk({ plan, role }: { plan: string; role: string }) {
  const { data: view, error } = useWalk(plan);
  const log = useLog(plan, role);
  const asked = useAsked(view);
  const [page, setPage] = useState<Page>("walk");
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
        {page !== "log" && <IAmAt view={view} here={here?.id ?? ""} goTo={goTo} />}
        {page === "walk" && here && (
          <ToFindOut key={here.id} view={view} asked={asked} here={here} role={role} log={log} goTo={goTo} />
        )}
        {page === "read" && here && <ToRead view={view} here={here} write={log.write} />}
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

type Log = ReturnType<typeof useLog>;

/** The walk as the server has it, asked for again when something happens. */
function useWalk(plan: string) {
  const client = useQueryClient();
  const later = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(
    () =>
      listen(plan, () => {
        clearTimeout(later.current);
        later.current = setTimeout(() => client.invalidateQueries({ queryKey: ["walk", plan] }), TOGETHER_MS);
      }),
    [plan, client],
  );
  return useQuery({
    queryKey: ["walk", plan],
    queryFn: async () => taken(await api.GET("/api/plans/{id}/walk", { params: { path: { id: plan } } })),
    placeholderData: (before) => before,
    retry: (_, failed) => !isOut(failed),
    networkMode: "always",
  });
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

function IAmAt({ view, here, goTo }: { view: View; here: string; goTo: (id: string) => void }) {
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
      </select>
    </label>
  );
}

function ToFindOut(props: {
  view: View;
  asked: Asked;
  here: Schemas["WalkPlace"];
  role: string;
  log: Log;
  goTo: (id: string) => void;
}) {
  const { view, asked, here, role, log, goTo } = props;
  const [again, setAgain] = useState<string | null>(null);
  const answered = useMemo(() => answersHere(log.written), [log.written]);
  const corrected = again ? asked.get(again) : undefined;
  const open = here.facts.filter((fact) => !answered.has(keyOf(fact)));
  const rest = view.places.slice(view.places.indexOf(here) + 1).find((place) => place.facts.length > 0);
  const answer = (fact: Schemas["WalkFact"], value: string | number | boolean) => {
    const corrects = answered.get(keyOf(fact))?.entry.id ?? null;
    const at = new Date().toISOString();
    void log.write(
      fact.facts.map((where, n) => ({
        ...found({ ...where, at, value, method: "", by: role, conditions: "", note: "" }),
        corrects: n === 0 ? corrects : null,
      })),
    );
    setAgain(null);
  };
  return (
    <>
      {corrected && <AskedFact key={again} fact={corrected} answer={(value) => answer(corrected, value)} />}
      {open.map((fact) => (
        <AskedFact key={fact.id} fact={fact} answer={(value) => answer(fact, value)} />
      ))}
      {!open.length && <p className="py-2 text-head">Nothing more to find out here.</p>}
      {rest && (
        <button type="button" className="button mt-4 min-h-14 w-full text-head" onClick={() => goTo(rest.id)}>
          Next: {rest.name}
          {rest.walk_m ? `, ${Math.round(rest.walk_m)} m on` : ""}
        </button>
      )}
      <Answered
        asked={asked}
        answered={[...answered.values()]}
        onCorrect={(key) => {
          setAgain(key);
          window.scrollTo(0, 0);
        }}
      />
      {view.at_the_desk.length > 0 && (
        <details className="mt-4">
          <summary className="link min-h-11">
            {view.at_the_desk.length === 1 ? "One more is" : `${view.at_the_desk.length} more are`} answered
            at the desk
          </summary>
          {view.at_the_desk.map((question) => (
            <p key={question} className="border-rule border-t py-2">
              {question}
            </p>
          ))}
        </details>
      )}
    </>
  );
}

/** Every question that was asked since the page was opened: one that is answered is asked no more, and may be answered again. */
function useAsked(view: View | undefined): Asked {
  const asked = useRef(new Map<string, Schemas["WalkFact"]>());
  for (const fact of view?.places.flatMap((place) => place.facts) ?? []) asked.current.set(keyOf(fact), fact);
  return asked.current;
}

type Asked = ReadonlyMap<string, Schemas["WalkFact"]>;

/** One answer a fact: the last that was written on this phone. */
function answersHere(written: readonly Written[]): Map<string, Written> {
  const last = new Map<string, Written>();
  for (const one of written) {
    if (one.entry.kind === "fact" && !one.why) last.set(factKey(one.entry.body), one);
  }
  return last;
}

const factKey = ({
  noun,
  thing,
  part,
  quantity,
}: {
  noun: string;
  thing: string;
  part: string;
  quantity: string;
}) => [noun, thing, part, quantity].join(":");
const keyOf = (fact: Schemas["WalkFact"]) => (fact.facts[0] ? factKey(fact.facts[0]) : fact.id);

/** What was answered on this phone, each to be corrected while it is still asked or not. */
function Answered(props: { asked: Asked; answered: Written[]; onCorrect: (key: string) => void }) {
  const { asked, answered, onCorrect } = props;
  if (!answered.length) return null;
  return (
    <section className="mt-6" aria-label="Answered on this phone">
      <h2 className="border-ink border-b pb-1">Answered on this phone</h2>
      {answered.map(({ entry, sent }) => {
        if (entry.kind !== "fact") return null;
        const key = factKey(entry.body);
        const question = asked.get(key);
        return (
          <p key={entry.id} className="border-rule flex items-center justify-between gap-3 border-b py-2">
            <span>
              {question?.question ?? `${entry.body.thing}, ${entry.body.quantity.replaceAll(/[._]/g, " ")}`}{" "}
              <strong className="font-mono whitespace-nowrap">
                {said(entry.body.value)} {entry.body.unit}
              </strong>
              <span className="text-faint block text-small">{sent ? "sent" : "kept on this phone"}</span>
            </span>
            {question && (
              <button type="button" className="button min-h-11" onClick={() => onCorrect(key)}>
                Correct
              </button>
            )}
          </p>
        );
      })}
    </section>
  );
}

const said = (value: unknown) => (value === true ? "yes" : value === false ? "no" : String(value));

/** What stands here and how it is plugged in, its addresses to read aloud; and the run sheet, to tick. */
function ToRead({ view, here, write }: { view: View; here: Schemas["WalkPlace"]; write: Log["write"] }) {
  return (
    <>
      {here.devices.map((device) => (
        <section key={device.id} className="border-rule border-b py-3">
          <h2>{device.name}</h2>
          {device.addresses.map((each) => (
            <div key={each.socket} className="mt-1">
              <span className="text-faint block text-small">
                {each.socket}, {each.network}
              </span>
              <span className="block font-mono text-figure">{each.address || "by DHCP"}</span>
              <span className="block font-mono">
                {each.mask} {each.gateway && `gateway ${each.gateway}`}
              </span>
            </div>
          ))}
          {device.plugs.map((plug, n) => (
            <p key={n} className="border-faint mt-2 border-l-2 pl-2 leading-snug">
              <strong className="block text-head">{plug.own}</strong>
              {plug.way} {plug.other}
              <span className="text-faint block text-small">{plug.carries}</span>
            </p>
          ))}
        </section>
      ))}
      <h2 className="border-ink mt-6 border-b pb-1">Run sheet</h2>
      {view.tasks.map((task) => (
        <label key={task.id} className="border-rule flex min-h-12 items-center gap-3 border-b py-2">
          <input
            type="checkbox"
            className="accent-accent h-6 w-6 shrink-0"
            checked={task.done}
            onChange={(event) => void write([marked(task.id, event.target.checked)])}
          />
          <span>
            {task.what}
            <span className="text-faint block font-mono text-small">{task.at}</span>
          </span>
        </label>
      ))}
      {view.call && <p className="mt-4">Call: {view.call}</p>}
    </>
  );
}

/** A line for the log, and those that were written on this phone. */
function Lines(props: { zone: string; written: readonly Written[]; write: Log["write"] }) {
  const { zone, written, write } = props;
  const clock = new Intl.DateTimeFormat("en-GB", {
    hour: "2-digit",
    minute: "2-digit",
    timeZone: zone || "UTC",
  });
  const [text, setText] = useState("");
  const put = () => {
    if (!text.trim()) return;
    void write([noted(text.trim())]);
    setText("");
  };
  return (
    <>
      <label className="block">
        <span className="text-faint block text-small">
          A line for the log. No keys, no passwords: everybody reads it.
        </span>
        <textarea
          className="field min-h-24 text-head"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <button type="button" className="button button-main mt-2 min-h-14 w-full text-head" onClick={put}>
        Write it down
      </button>
      <TakePhotograph
        text={text.trim()}
        taken={(entry) => {
          void write([entry]);
          setText("");
        }}
      />
      {written
        .filter((one) => one.entry.kind === "line" || one.entry.kind === "photograph")
        .toReversed()
        .map(({ entry, sent }) => (
          <p key={entry.id} className="border-rule border-b py-2">
            <span className="font-mono text-small">{entry.at && clock.format(new Date(entry.at))}</span>{" "}
            {entry.kind === "line" && entry.body.text}
            {entry.kind === "photograph" && `photograph${entry.body.text && `: ${entry.body.text}`}`}
            {!sent && <span className="text-faint"> (kept on this phone)</span>}
          </p>
        ))}
    </>
  );
}

/** A photograph, with the line that is typed as what it shows. The camera's file never leaves the phone: a smaller one does. */
function TakePhotograph({ text, taken }: { text: string; taken: (entry: Entry) => void }) {
  const [trouble, setTrouble] = useState("");
  const take = async (file: File) => {
    try {
      const id = newId();
      await keepPhotograph(id, await smaller(file));
      taken(photographed(id, text));
      setTrouble("");
    } catch {
      setTrouble("This is no picture that this phone can read: take another.");
    }
  };
  return (
    <>
      <label className="button mt-2 flex min-h-14 items-center justify-center text-head focus-within:outline-2">
        Take a photograph
        <input
          type="file"
          accept="image/*"
          capture="environment"
          className="sr-only"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            event.target.value = "";
            if (file) void take(file);
          }}
        />
      </label>
      {trouble && (
        <p role="alert" className="text-accent font-semibold">
          {trouble}
        </p>
      )}
    </>
  );
}

function SentAway({ waits }: { waits: number }) {
  return (
    <main className="p-4">
      <h1 className="mb-2 text-title font-semibold">This phone is out of the crew</h1>
      <p className="mb-4">
        The desk has sent it away, or its code is of another show.
        {waits > 0 && ` ${waits} entries are kept on this phone, and sent once it has joined again.`}
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
