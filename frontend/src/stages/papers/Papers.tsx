import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { flushSync } from "react-dom";
import { api, type Schemas, taken } from "../../api/client";
import { usePlan, useTrial } from "../../api/plan";
import { LongRows } from "../../parts/LongList";
import { wall } from "../../parts/numbers";
import { printPage, usePrinting } from "../../parts/printing";
import { Waiting } from "../../parts/Waiting";
import { JoinCards } from "./JoinCards";

/** The papers to take along: printed, or saved as CSV, or the whole plan as a file. */
export default function Papers() {
  const { standing } = usePlan();
  const { report } = useTrial();
  const [keys, setKeys] = useState(false);
  const [only, setOnly] = useState<string | null>(null);
  const { id, plan } = standing;
  const asked = ["papers", id, standing.version, keys];
  const { data: tables = [], isPending } = useQuery({
    queryKey: asked,
    queryFn: async ({ signal }) =>
      taken(await api.GET("/api/plans/{id}/papers", { params: { path: { id }, query: { keys } }, signal })),
    placeholderData: (before) => before,
  });
  const print = (paper: string | null) => printPage(() => flushSync(() => setOnly(paper)));
  useEffect(() => {
    const whole = () => setOnly(null);
    window.addEventListener("afterprint", whole);
    return () => window.removeEventListener("afterprint", whole);
  }, []);
  const query = keys ? "?keys=true" : "";
  const stops = report.findings.filter((f) => f.severity === "stops");
  return (
    <>
      {isPending && <Waiting on="Writing the papers" query={asked} />}
      <div className="no-print mb-4 flex flex-wrap items-center gap-4">
        <button type="button" className="button button-main" onClick={() => print(null)}>
          Print the tech pack
        </button>
        <a className="button" href={`/api/plans/${id}/export${query}`} download>
          Export the plan as a file
        </a>
        <a className="link" href={`/api/plans/${id}/map.svg`} download>
          Signal map as SVG
        </a>
        <a className="link" href={`/api/plans/${id}/signal.graphml`} download>
          Graph as GraphML
        </a>
        <a className="link" href="/api/schema/plan" target="_blank" rel="noreferrer">
          JSON Schema of the file
        </a>
        <a className="link" href={`/api/plans/${id}/hosts.txt`} download>
          Hosts file
        </a>
        <a className="link" href={`/api/plans/${id}/dnsmasq.conf`} download>
          Reservations for dnsmasq
        </a>
        {plan.routers.map((router) => (
          <a key={router.id} className="link" href={`/api/plans/${id}/routers/${router.id}.nft`} download>
            nftables of {router.name}
          </a>
        ))}
        <a className="link" href={`/api/plans/${id}/streams.m3u${query}`} download>
          Streams as M3U
        </a>
        <label className="inline-flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-accent h-4 w-4"
            checked={keys}
            onChange={(e) => setKeys(e.target.checked)}
          />
          with stream keys in clear
        </label>
      </div>
      <header className={`mb-4 ${only ? "no-print" : ""}`}>
        <h2 className="text-[22px]">{plan.show.name}: tech pack</h2>
        <p>
          {plan.show.starts_at
            ? `${wall(plan.show.starts_at).day}, ${wall(plan.show.starts_at).time}`
            : "No start yet"}
          {plan.show.ends_at && ` to ${wall(plan.show.ends_at).time}`}. Version {standing.version}.
          {stops.length > 0 && (
            <strong>
              {" "}
              {stops.length} finding{stops.length > 1 ? "s" : ""} would stop the show: see below.
            </strong>
          )}
        </p>
        {plan.show.notes && <p className="text-faint">{plan.show.notes}</p>}
        {stops.map((f) => (
          <p key={f.id} className="border-ink mt-1 border-l-4 pl-2">
            {f.wrong}
          </p>
        ))}
      </header>
      {tables.map((table) => (
        <section
          key={table.id}
          className={`mb-6 ${only && only !== table.id ? "no-print" : ""}`}
          aria-label={table.title}
        >
          <div className="border-ink mb-1 flex items-baseline justify-between border-b pb-1">
            <h2>{table.title}</h2>
            <span className="no-print flex gap-4">
              <button type="button" className="link" onClick={() => print(table.id)}>
                Print<span className="sr-only"> the {table.title.toLowerCase()}</span>
              </button>
              <a className="link" href={`/api/plans/${id}/papers/${table.id}.csv${query}`} download>
                CSV<span className="sr-only"> of {table.title}</span>
              </a>
              <a className="link" href={`/api/plans/${id}/papers/${table.id}.txt${query}`} download>
                Text<span className="sr-only"> of {table.title}</span>
              </a>
            </span>
          </div>
          {table.rows.length && table.layout === "labels" ? (
            <Labels rows={table.rows} />
          ) : table.rows.length ? (
            <div className="relative overflow-x-auto">
              <table className="w-full">
                <thead>
                  <tr>
                    {table.columns.map((column, i) => (
                      <th key={i}>{column}</th>
                    ))}
                  </tr>
                </thead>
                <LongRows
                  items={table.rows.map((cells, at) => ({ cells, at }))}
                  id={({ at }) => String(at)}
                  about={30}
                >
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
          ) : (
            <p className="text-faint">{table.empty}</p>
          )}
        </section>
      ))}
      <JoinCards keys={keys} only={only} onPrint={print} />
    </>
  );
}

const LOOKS: Record<Schemas["Table"]["looks"][number], string> = {
  text: "max-md:min-w-40 print:min-w-0",
  short: "whitespace-nowrap",
  figure: "font-mono text-[13px] whitespace-nowrap",
  address: "font-mono text-[13px] wrap-anywhere",
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
            <span className="font-mono text-[17px] font-semibold">{number}</span>{" "}
            <span className="text-faint text-[12px]">{cable}</span>
            <span className="block font-semibold">{here}</span>
            <span className="block text-[13px]">
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
