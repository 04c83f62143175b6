import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { api, type Edit, type Finding, type Schemas, taken } from "../../api/client";
import { useEdits, usePlan } from "../../api/plan";
import { useView } from "../../api/views";
import { Select } from "../../parts/inputs";
import { shown } from "../../parts/numbers";
import { Section } from "../../parts/Section";
import { SeverityMark } from "../../parts/Severity";
import { Waiting } from "../../parts/Waiting";

const NONE: readonly Schemas["DeviceEnds"][] = [];

type Judged = Schemas["JudgedRoute"];

/** What the finder is asked: a picture from one device to another, or another way for one link. */
export type Wanted = { source: string; end: string } | { link: string };

/** Gets a picture from one device to another: the ways, side by side, each already tried. */
export function Finder({ wanted, onWant }: { wanted: Wanted; onWant: (wanted: Wanted) => void }) {
  const { standing } = usePlan();
  const { links } = standing.plan;
  const devices = useView("signal", "plan")?.ends ?? NONE;
  const [into, setInto] = useState("");
  const [carries, setCarries] = useState("");
  const ends = "link" in wanted ? { source: "", end: "" } : wanted;
  const source = devices.find((d) => d.device === ends.source);
  const end = devices.find((d) => d.device === ends.end);
  const again = "link" in wanted ? links.find((l) => l.id === wanted.link) : undefined;
  const pictures = source?.pictures ?? [];
  const inputs = end?.inputs ?? [];
  const port = inputs.some((input) => input.port === into) ? into : "";
  const picture = pictures.find((c) => c === carries);
  const ready = Boolean(again) || Boolean(source && end && source !== end);
  const query = ["routes", standing.id, standing.version, wanted, port, picture];
  const { data: found, isFetching } = useQuery({
    queryKey: query,
    enabled: ready,
    queryFn: async ({ signal }) => {
      const path = { id: standing.id };
      if ("link" in wanted)
        return taken(
          await api.GET("/api/plans/{id}/reroute/{link}", {
            params: { path: { ...path, link: wanted.link } },
            signal,
          }),
        );
      const query = { ...wanted, ...(port ? { into: port } : {}), ...(picture ? { carries: picture } : {}) };
      return taken(await api.GET("/api/plans/{id}/routes", { params: { path, query }, signal }));
    },
  });
  const named = useMemo(() => devices.map((d) => [d.device, d.name] as [string, string]), [devices]);
  return (
    <Section title="Get a picture there" aside="or type it: / quay cam to switcher">
      <div className="grid grid-cols-[repeat(auto-fit,minmax(11rem,1fr))] gap-4">
        <Select
          label="From"
          value={ends.source}
          choose={(v) => onWant({ ...ends, source: v })}
          options={named}
          none="choose"
        />
        {pictures.length > 1 && (
          <Select
            label="Which picture"
            value={picture ?? ""}
            choose={setCarries}
            options={pictures.slice(1).map((c) => [c, c])}
            none={pictures[0] ?? ""}
          />
        )}
        <Select
          label="To"
          value={ends.end}
          choose={(v) => onWant({ ...ends, end: v })}
          options={named}
          none="choose"
        />
        {inputs.length > 1 && (
          <Select
            label="Into"
            value={port}
            choose={setInto}
            options={inputs.map((input) => [input.port, input.name])}
            none="any free input"
          />
        )}
      </div>
      {again && found && (
        <p className="mt-2">
          Other ways for <strong>{found.source}</strong> to <strong>{found.end}</strong>. The run that is
          there comes out.
        </p>
      )}
      {isFetching && <Waiting on="Looking for ways" query={query} />}
      <div aria-live="polite" aria-busy={isFetching}>
        {found?.why_not && <p className="border-ink mt-2 border-l-4 pl-2">{found.why_not}</p>}
        {found && <Alternatives found={found} />}
        {found && !found.routes.length && !found.cables.length && !found.why_not && (
          <p className="text-faint mt-2">Nothing joins the two.</p>
        )}
      </div>
    </Section>
  );
}

function Alternatives({ found }: { found: Schemas["FoundRoutes"] }) {
  const { edit, preview } = useEdits();
  // A way is taken once: the ways shown are those of the plan before it, until they are found again.
  const [used, setUsed] = useState<Schemas["FoundRoutes"] | null>(null);
  const use = (edits: Edit[], title: string) => {
    if (used === found) return;
    setUsed(found);
    preview(null);
    void edit(edits, `${found.source} to ${found.end}: ${title}`).then((kept) => kept || setUsed(null));
  };
  return (
    <>
      {found.routes.length > 0 && <RouteTable routes={found.routes} used={used === found} use={use} />}
      {found.cables.map((joint) => (
        <p
          key={joint.title}
          className="border-rule mt-2 flex items-center justify-between gap-4 border-t py-1"
        >
          {joint.title}
          <button type="button" className="button" onClick={() => use(joint.edits, joint.title)}>
            Plug it in<span className="sr-only">: {joint.title}</span>
          </button>
        </p>
      ))}
    </>
  );
}

const listed = (items: readonly string[], none: string) =>
  items.length ? (
    items.map((x, i) => (
      <span key={i} className="block">
        {x}
      </span>
    ))
  ) : (
    <span className="text-faint">{none}</span>
  );

/** What is told of each route, side by side. */
const ROWS: [string, (j: Judged) => React.ReactNode][] = [
  ["Delay", ({ route }) => <span className="font-mono">{shown(route.delay_ms)} ms</span>],
  ["Cable", ({ route }) => <span className="font-mono">{route.cable}</span>],
  ["From stock", ({ from_stock }) => listed(from_stock, "no box")],
  ["To get first", ({ to_get }) => listed(to_get, "nothing")],
  ["Uses up", ({ route }) => listed(route.uses_up, "nothing")],
  ["Mind", ({ route }) => listed(route.risks, "nothing known")],
  ["Ends", ({ gone }) => <Findings of={gone} />],
  ["Brings", ({ come }) => <Findings of={come} />],
  ["Not known", ({ unknown }) => listed(unknown, "nothing")],
];

function RouteTable(props: {
  routes: readonly Judged[];
  used: boolean;
  use: (edits: Edit[], title: string) => void;
}) {
  const { routes, used, use } = props;
  const { preview } = useEdits();
  return (
    <div className="relative mt-3 overflow-x-auto">
      <table className="w-full table-fixed" style={{ minWidth: `${5 + routes.length * 12}rem` }}>
        <thead>
          <tr>
            <th className="w-20">
              <span className="sr-only">What</span>
            </th>
            {routes.map((judged, i) => (
              <th key={judged.route.title} className="text-ink align-top text-body font-semibold" scope="col">
                <span className="text-faint font-mono font-normal">{String.fromCharCode(97 + i)}</span>{" "}
                {judged.route.title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody className="text-small">
          {ROWS.map(([name, cell]) => (
            <tr key={name}>
              <th scope="row" className="border-rule border-t py-1 align-top">
                {name}
              </th>
              {routes.map((judged) => (
                <td key={judged.route.title} className="align-top">
                  {cell(judged)}
                </td>
              ))}
            </tr>
          ))}
          <tr>
            <td />
            {routes.map(({ route }) => (
              <td key={route.title}>
                <button
                  type="button"
                  className="button"
                  aria-disabled={used}
                  onFocus={() => preview(route.edits)}
                  onBlur={() => preview(null)}
                  onClick={() => use(route.edits, route.title)}
                >
                  Use this<span className="sr-only">: {route.title}</span>
                </button>
              </td>
            ))}
          </tr>
        </tbody>
      </table>
    </div>
  );
}

function Findings({ of }: { of: readonly Finding[] }) {
  if (!of.length) return <span className="text-faint">no finding</span>;
  return of.map((f) => (
    <span key={f.id} className="flex gap-1.5">
      <SeverityMark severity={f.severity} />
      {f.wrong}
    </span>
  ));
}

/** Every source that is plugged into nothing, patched to one switcher in one go. */
export function PatchAll() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const mixers = (useView("signal", "plan")?.ends ?? NONE).filter((d) => d.mixes);
  const [mixer, setMixer] = useState<string | null>(null);
  const query = ["patch", standing.id, standing.version, mixer];
  const { data: found, isFetching } = useQuery({
    queryKey: query,
    enabled: mixer !== null,
    queryFn: async ({ signal }) =>
      taken(
        await api.GET("/api/plans/{id}/patch/{mixer}", {
          params: { path: { id: standing.id, mixer: mixer ?? "" } },
          signal,
        }),
      ),
  });
  if (!mixers.length) return null;
  return (
    <Section title="Patch what is loose" aside="the least effort together, each to an input that takes it">
      <div className="flex flex-wrap items-center gap-2">
        {mixers.map((m) => (
          <button key={m.device} type="button" className="button" onClick={() => setMixer(m.device)}>
            Show how, to {m.name}
          </button>
        ))}
      </div>
      {isFetching && <Waiting on="Working out the patch" query={query} />}
      {found && !found.patch.lines.length && <p className="mt-2">Every source is plugged into something.</p>}
      {found && found.patch.lines.length > 0 && (
        <>
          <table className="mt-2 w-full">
            <thead>
              <tr>
                <th>Source</th>
                <th>By</th>
                <th className="text-right">Delay</th>
              </tr>
            </thead>
            <tbody>
              {found.patch.lines.map((line) => (
                <tr key={line.source}>
                  <td>{line.words}</td>
                  <td>{line.route?.title ?? ""}</td>
                  <td className="text-right font-mono">
                    {line.route ? `${shown(line.route.delay_ms)} ms` : ""}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {found.patch.edits.length > 0 && (
            <p className="mt-2 flex items-center gap-4">
              <button
                type="button"
                className="button button-main"
                onClick={() => void edit(found.patch.edits, "patched what was loose")}
              >
                Patch all of it
              </button>
              <span className="margin-note">
                {found.gone.length} finding{found.gone.length === 1 ? "" : "s"} would go, {found.come.length}{" "}
                would come.
              </span>
            </p>
          )}
        </>
      )}
    </Section>
  );
}
