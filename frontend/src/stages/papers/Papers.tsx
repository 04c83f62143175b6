import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { flushSync } from "react-dom";
import { useLocation, useNavigate } from "react-router";
import { api, type Schemas, taken } from "../../api/client";
import { usePlan, useTrial } from "../../api/plan";
import { LongRows } from "../../parts/LongList";
import { wall } from "../../parts/numbers";
import { printPage, usePrinting } from "../../parts/printing";
import { Waiting } from "../../parts/Waiting";
import { JoinCards } from "./JoinCards";

/** Of plans with more devices than this the fault-finding cards are written when they are asked for. */
const FEW = 100;

/** The papers to take along: printed, or saved as CSV, or the whole plan as a file. */
export default function Papers() {
  const { standing } = usePlan();
  const [keys, setKeys] = useState(false);
  const [only, setOnly] = useState<string | null>(null);
  const { id } = standing;
  const asked = ["papers", id, standing.version, keys, false];
  const { data: plain, isPending } = usePapers(asked, keys, false);
  const { data: judged } = usePapers(["papers", id, standing.version, keys, true], keys, true);
  const [wanted, setWanted] = useState(standing.plan.devices.length <= FEW);
  const { data: cards } = usePapers(
    ["papers", id, standing.version, "cards"],
    keys,
    true,
    wanted && !!judged,
  );
  const tables = useMemo(
    () => (plain ? [...plain, ...(judged ?? []), ...(cards ?? [])] : []),
    [plain, judged, cards],
  );
  const soon = useSoon(tables.length);
  const print = (paper: string | null) => printPage(() => flushSync(() => setOnly(paper)));
  // The command bar asks for all of it on paper: once it is written.
  const { hash, pathname } = useLocation();
  const navigate = useNavigate();
  const ready =
    hash === "#print" &&
    judged !== undefined &&
    (!wanted || cards !== undefined) &&
    tables.length > 0 &&
    soon >= tables.length;
  useEffect(() => {
    if (!ready) return;
    navigate(pathname, { replace: true });
    printPage(() => flushSync(() => setOnly(null)));
  }, [ready, navigate, pathname]);
  useEffect(() => {
    const whole = () => setOnly(null);
    window.addEventListener("afterprint", whole);
    return () => window.removeEventListener("afterprint", whole);
  }, []);
  return (
    <>
      {isPending && <Waiting on="Writing the papers" query={asked} />}
      <Downloads keys={keys} onKeys={setKeys} onPrint={() => print(null)} />
      <Cover hidden={only !== null} />
      {tables.slice(0, soon).map((table) => (
        <Paper
          key={table.id}
          table={table}
          hidden={only !== null && only !== table.id}
          query={keys ? "?keys=true" : ""}
          onPrint={() => print(table.id)}
        />
      ))}
      {!wanted && (
        <p className="no-print mb-4">
          <button type="button" className="button" onClick={() => setWanted(true)}>
            Write the fault-finding cards
          </button>
        </p>
      )}
      {soon >= tables.length && tables.length > 0 && <JoinCards keys={keys} only={only} onPrint={print} />}
    </>
  );
}

/** The papers that rest on the whole judgement, or the others, which are there sooner. */
function usePapers(queryKey: readonly unknown[], keys: boolean, judged: boolean, cards?: boolean) {
  const { id } = usePlan().standing;
  return useQuery({
    queryKey,
    enabled: cards !== false,
    queryFn: async ({ signal }) => {
      const params = { path: { id }, query: { keys, judged, cards: cards ?? false } };
      return taken(await api.GET("/api/plans/{id}/papers", { params, signal }));
    },
    placeholderData: (before) => before,
  });
}

/** How many papers are drawn: the first at once, one more at every frame, and all of them on paper. */
function useSoon(all: number): number {
  const printing = usePrinting();
  const [drawn, setDrawn] = useState(1);
  useEffect(() => {
    if (drawn >= all) return;
    const frame = requestAnimationFrame(() => setDrawn(drawn + 1));
    return () => cancelAnimationFrame(frame);
  }, [drawn, all]);
  return printing ? all : drawn;
}

/** Everything as a file: the plan, its map and graph, what routers and name servers read. */
function Downloads(props: { keys: boolean; onKeys: (keys: boolean) => void; onPrint: () => void }) {
  const { id, plan } = usePlan().standing;
  const query = props.keys ? "?keys=true" : "";
  const files = [
    ["map.svg", "Signal map as SVG"],
    ["signal.graphml", "Graph as GraphML"],
    ["hosts.txt", "Hosts file"],
    ["dnsmasq.conf", "Reservations for dnsmasq"],
    ...plan.routers.map((router) => [`routers/${router.id}.nft`, `nftables of ${router.name}`] as const),
    [`streams.m3u${query}`, "Streams as M3U"],
  ] as const;
  return (
    <div className="no-print mb-4 flex flex-wrap items-center gap-4">
      <button type="button" className="button button-main" onClick={props.onPrint}>
        Print the tech pack
      </button>
      <a className="button" href={`/api/plans/${id}/export${query}`} download>
        Export the plan as a file
      </a>
      {files.map(([path, words]) => (
        <a key={path} className="link" href={`/api/plans/${id}/${path}`} download>
          {words}
        </a>
      ))}
      <a className="link" href="/api/schema/plan" target="_blank" rel="noreferrer">
        JSON Schema of the file
      </a>
      <label className="inline-flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-accent h-4 w-4"
          checked={props.keys}
          onChange={(e) => props.onKeys(e.target.checked)}
        />
        with stream keys in clear
      </label>
    </div>
  );
}

/** What stands above the papers: the show, and what would stop it. */
function Cover({ hidden }: { hidden: boolean }) {
  const { plan, version } = usePlan().standing;
  const stops = useTrial().report.findings.filter((f) => f.severity === "stops");
  const { starts_at, ends_at, name, notes } = plan.show;
  return (
    <header className={`mb-4 ${hidden ? "no-print" : ""}`}>
      <h2 className="text-title">{name}: tech pack</h2>
      <p>
        {starts_at ? `${wall(starts_at).day}, ${wall(starts_at).time}` : "No start yet"}
        {ends_at && ` to ${wall(ends_at).time}`}. Version {version}.
        {stops.length > 0 && (
          <strong>
            {" "}
            {stops.length} finding{stops.length > 1 ? "s" : ""} would stop the show: see below.
          </strong>
        )}
      </p>
      {notes && <p className="text-faint">{notes}</p>}
      {stops.map((f) => (
        <p key={f.id} className="border-ink mt-1 border-l-4 pl-2">
          {f.wrong}
        </p>
      ))}
    </header>
  );
}

type Table = Schemas["Table"];

function Paper(props: { table: Table; hidden: boolean; query: string; onPrint: () => void }) {
  const { table, hidden, query } = props;
  const path = `/api/plans/${usePlan().standing.id}/papers/${table.id}`;
  return (
    <section className={`mb-6 ${hidden ? "no-print" : ""}`} aria-label={table.title}>
      <div className="border-ink mb-1 flex items-baseline justify-between border-b pb-1">
        <h2>{table.title}</h2>
        <span className="no-print flex gap-4">
          <button type="button" className="link" onClick={props.onPrint}>
            Print<span className="sr-only"> the {table.title.toLowerCase()}</span>
          </button>
          <a className="link" href={`${path}.csv${query}`} download>
            CSV<span className="sr-only"> of {table.title}</span>
          </a>
          <a className="link" href={`${path}.txt${query}`} download>
            Text<span className="sr-only"> of {table.title}</span>
          </a>
        </span>
      </div>
      {table.rows.length && table.layout === "labels" ? (
        <Labels rows={table.rows} />
      ) : table.rows.length ? (
        <PaperTable table={table} />
      ) : (
        <p className="text-faint">{table.empty}</p>
      )}
    </section>
  );
}

function PaperTable({ table }: { table: Table }) {
  const rows = table.rows.map((cells, at) => ({ cells, at }));
  return (
    <div className="relative overflow-x-auto">
      <table className="w-full">
        <thead>
          <tr>
            {table.columns.map((column, i) => (
              <th key={i}>{column}</th>
            ))}
          </tr>
        </thead>
        <LongRows items={rows} id={({ at }) => String(at)} about={30}>
          {({ cells }) =>
            cells.map((cell, j) => (
              <td key={j} className={LOOKS[table.looks[j] ?? "text"]}>
                {cell}
              </td>
            ))
          }
        </LongRows>
      </table>
    </div>
  );
}

const LOOKS: Record<Table["looks"][number], string> = {
  text: "max-md:min-w-40 print:min-w-0",
  short: "whitespace-nowrap",
  figure: "font-mono text-small whitespace-nowrap",
  address: "font-mono text-small wrap-anywhere",
};
/** Labels on the page before all are drawn; on paper they always are. */
const LABELS = 60;

/** Labels to cut out and stick on, two for every cable. */
function Labels({ rows }: { rows: readonly string[][] }) {
  const printing = usePrinting();
  const [all, setAll] = useState(false);
  const shown = all || printing ? rows : rows.slice(0, LABELS);
  return (
    <>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(15rem,1fr))]" aria-label="Labels to cut out">
        {shown.map(([number, here, there, place, cable], i) => (
          <li
            key={i}
            className="border-rule -mt-px -ml-px break-inside-avoid border border-dashed p-2 leading-tight"
          >
            <span className="font-mono text-head font-semibold">{number}</span>{" "}
            <span className="text-faint text-note">{cable}</span>
            <span className="block font-semibold">{here}</span>
            <span className="block text-small">
              to {there}
              {place && `, ${place}`}
            </span>
          </li>
        ))}
      </ul>
      {shown.length < rows.length && (
        <button type="button" className="link mt-1" onClick={() => setAll(true)}>
          Show the other {rows.length - shown.length} labels; all of them are printed
        </button>
      )}
    </>
  );
}
