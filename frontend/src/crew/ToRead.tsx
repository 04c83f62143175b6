import { useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import { marked } from "../api/entries";
import { Journey } from "../instruments/Journey";
import type { Log, View } from "./useLog";

/** What stands here and how it is plugged in, its addresses to read aloud; the run sheet, to tick; the papers. */
export function ToRead(props: {
  view: View;
  here: Schemas["WalkPlace"];
  papers: readonly Schemas["Table"][];
  write: Log["write"];
}) {
  const { view, here, papers, write } = props;
  return (
    <>
      <StaysLit />
      {here.devices.map((device) => (
        <section key={device.id} className="border-rule border-b py-3">
          <h2>{device.name}</h2>
          {device.addresses.map((each) => (
            <div key={each.socket} className="mt-1">
              <span className="text-faint block text-small">
                {each.socket}, {each.network}
              </span>
              <span className="block font-mono text-figure">
                {each.address ? each.address.replaceAll(".", ".\u200a") : "by DHCP"}
              </span>
              <span className="block font-mono">
                {each.mask} {each.gateway && `gateway ${each.gateway}`}
              </span>
            </div>
          ))}
          {device.plugs.map((plug, n) => (
            <div key={n} className="border-faint mt-2 border-l-2 pl-2 leading-snug">
              <strong className="block text-head">{plug.own}</strong>
              {plug.way} {plug.other}
              <span className="text-faint block text-small">{plug.carries}</span>
              <Traces calls={view.calls.filter((call) => call.stream === plug.stream)} />
            </div>
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
      <Papers tables={papers} />
    </>
  );
}

/** The connection traces of a stream, hop by hop. */
function Traces({ calls }: { calls: readonly Schemas["WalkCall"][] }) {
  const traces = calls.flatMap((call) => call.traces);
  if (!traces.length) return null;
  return (
    <details>
      <summary className="link cursor-pointer py-3">How it gets there</summary>
      {traces.map((trace) => (
        <Journey key={trace.title} journey={trace} />
      ))}
    </details>
  );
}

/** The papers to take along. */
function Papers({ tables }: { tables: readonly Schemas["Table"][] }) {
  const [open, setOpen] = useState<string | null>(null);
  const written = tables.filter((table) => table.rows.length > 0 && table.layout === "rows");
  if (!written.length) return null;
  return (
    <>
      <h2 className="border-ink mt-6 border-b pb-1">Papers</h2>
      {written.map((table) => (
        <details
          key={table.id}
          className="border-rule border-b"
          open={open === table.id}
          onToggle={(event) => {
            const now = event.currentTarget.open;
            setOpen((was) => (now ? table.id : was === table.id ? null : was));
          }}
        >
          <summary className="link cursor-pointer py-3">{table.title}</summary>
          {open === table.id && <PaperRows table={table} />}
        </details>
      ))}
    </>
  );
}

/** A paper as narrow as a phone: a row is a paragraph, what it is of first, then what each column says of it. */
function PaperRows({ table }: { table: Schemas["Table"] }) {
  return table.rows.map((cells, n) => (
    <dl key={n} className="border-rule border-t py-2">
      {cells.map((cell, at) =>
        cell && table.columns[at] ? (
          <div key={at} className="flex gap-2">
            <dt className="text-faint w-24 shrink-0 text-small">{table.columns[at]}</dt>
            <dd className={`min-w-0 wrap-anywhere ${LOOKS[table.looks[at] ?? "text"]}`}>
              {table.columns[at - 1] === "" && `${cells[at - 1]} `}
              {cell}
            </dd>
          </div>
        ) : null,
      )}
    </dl>
  ));
}

const LOOKS: Record<Schemas["Table"]["looks"][number], string> = {
  text: "",
  short: "",
  figure: "font-mono",
  address: "font-mono",
};

/** Keeps the screen lit while it is read: browsers let only a page that is served securely do that. */
function StaysLit() {
  const [lit, setLit] = useState(false);
  const can = "wakeLock" in navigator;
  useEffect(() => {
    if (!lit) return;
    let lock: WakeLockSentinel | undefined;
    let left = false;
    // A browser lets go of it when the page is left: it is asked for again on coming back.
    const ask = () => {
      if (document.visibilityState !== "visible") return;
      navigator.wakeLock.request("screen").then(
        (given) => {
          lock = given;
          if (left) void given.release();
        },
        () => setLit(false),
      );
    };
    ask();
    document.addEventListener("visibilitychange", ask);
    return () => {
      left = true;
      document.removeEventListener("visibilitychange", ask);
      void lock?.release();
    };
  }, [lit]);
  if (!can) return null;
  return (
    <label className="mb-2 flex min-h-11 items-center gap-3">
      <input
        type="checkbox"
        className="accent-accent h-6 w-6"
        checked={lit}
        onChange={(event) => setLit(event.target.checked)}
      />
      Keep the screen on
    </label>
  );
}
