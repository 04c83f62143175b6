import type { Schemas } from "../../api/client";
import { addSite, addUplink, freeId, set } from "../../api/edits";
import { withdrawn } from "../../api/entries";
import { useEdits, usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { HoursChart } from "../../instruments/HoursChart";
import { OverTime } from "../../instruments/OverTime";
import { AddLine, amongSites } from "../../parts/AddLine";
import { NumberField } from "../../parts/Field";
import { Select } from "../../parts/inputs";
import { shown, wall } from "../../parts/numbers";
import { Pages } from "../../parts/Pages";
import { FirstThing, Section } from "../../parts/Section";
import { ThingTable } from "../../parts/ThingTable";
import { TryThenApply } from "../../parts/TryThenApply";
import { CrewPage } from "./CrewPage";
import { FactsWanted } from "./FactsWanted";
import { FoundFacts } from "./FoundFacts";
import { Log } from "./Log";
import { Meter } from "./Meter";
import { PasteMeasurements } from "./PasteMeasurements";
import { UplinksAtAGlance } from "./UplinksAtAGlance";

/** So many measurements are listed at once; more are unfolded when they are asked for. */
const FEW = 40;

const BUILDING: Record<string, string> = { busy: "in use", empty: "empty", unknown: "not noted" };

/** The survey: what to find out next, which lines there are, and what was measured on them. */
export default function Survey() {
  const { survey, plan } = usePlan().standing;
  return (
    <Pages
      begin={plan.uplinks.length > 0 && !survey.measurements.length && "measure"}
      pages={[
        {
          id: "facts",
          name: "To find out",
          page: (
            <>
              <FactsWanted />
              <UplinksAtAGlance />
            </>
          ),
        },
        { id: "measure", name: "Measure", page: <Measure /> },
        { id: "uplinks", name: "Uplinks", page: <Lines /> },
        { id: "found", name: "Found out", page: <FoundFacts /> },
        { id: "log", name: "Log", page: <Log /> },
        { id: "crew", name: "Crew", page: <CrewPage /> },
      ]}
    />
  );
}

/** What was measured on the line that is picked, and more of it: by the meter, or pasted. */
function Measure() {
  const { standing } = usePlan();
  const { picked, pick } = useSelection();
  const { uplinks } = standing.plan;
  const named = picked && "noun" in picked && picked.noun === "uplink" ? picked.id : null;
  const uplink = uplinks.find((u) => u.id === named) ?? uplinks[0];
  const view = useView("survey");
  if (!uplink) return <FirstThing>No uplink yet: name one on the page Uplinks.</FirstThing>;
  if (!view) return null; // it comes whole: nothing moves from under the pointer
  return (
    <>
      {uplinks.length > 1 && (
        <div className="mb-2 max-w-72">
          <Select
            label="Uplink"
            value={uplink.id}
            options={uplinks.map((u) => [u.id, u.name] as const)}
            choose={(id) => id && pick({ noun: "uplink", id })}
          />
        </div>
      )}
      <Measured view={view} uplink={uplink.id} name={uplink.name} />
      <Meter key={`meter ${uplink.id}`} uplink={uplink.id} name={uplink.name} />
      <PasteMeasurements uplink={uplink.id} name={uplink.name} />
    </>
  );
}

function Lines() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const { uplinks, sites } = standing.plan;
  const add = (name: string, chosen: string) => {
    const site = chosen || sites[0]?.id || "venue";
    void edit([
      ...(sites.length ? [] : [addSite(site, "Venue")]),
      addUplink(freeId(name, uplinks), name, site),
    ]);
  };
  return (
    <>
      <ThingTable noun="uplink" title="Uplinks">
        {!uplinks.length && (
          <FirstThing>
            Name the line the stream will leave by, then measure it from the socket the encoder will use.
          </FirstThing>
        )}
        <AddLine
          label="Add uplink"
          placeholder="Boathouse fibre"
          onAdd={add}
          among={amongSites("line", sites)}
        />
      </ThingTable>
      <Spares />
      <MoreUplinks />
    </>
  );
}

/** Mobile data beside what there is: a phone behind a router, modems in a device that takes them. */
function MoreUplinks() {
  const more = useView("survey", "plan")?.more ?? [];
  if (!more.length) return null;
  return (
    <Section title="More uplinks" aside="a phone as tether, or modems, bonded to one line">
      <ul className="grid gap-x-6 gap-y-2 sm:grid-cols-2">
        {more.map(({ title, edits }) => (
          <li key={title} className="border-rule border-l-2 pl-2">
            {title}
            <TryThenApply edits={edits ?? []} why={title} />
          </li>
        ))}
      </ul>
    </Section>
  );
}

/** The order of the uplinks of each router that has several, and how long it takes to change. */
function Spares() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const { routers, uplinks } = standing.plan;
  const several = routers.filter((router) => router.uplinks.length > 1);
  const named = (id: string) => uplinks.find((u) => u.id === id)?.name ?? id;
  if (!several.length) return null;
  return (
    <Section title="When an uplink drops" aside="pull the cable in the rehearsal, and count">
      {several.map((router) => (
        <div key={router.id} className="flex flex-wrap items-end gap-x-5 gap-y-1">
          <p className="pb-1">
            {router.name}: first {router.uplinks.map(named).join(", then ")}
          </p>
          <button
            type="button"
            className="link pb-1"
            onClick={() =>
              void edit([
                set("router", router.id, "uplinks", [...router.uplinks.slice(1), router.uplinks[0] ?? ""]),
              ])
            }
          >
            Put {named(router.uplinks[1] ?? "")} first
          </button>
          <NumberField
            label={`Until ${router.name} has changed lines`}
            width="w-32"
            unit="s"
            optional
            value={router.switch_s ?? null}
            edits={(v) => [set("router", router.id, "switch_s", v)]}
          />
        </div>
      ))}
    </Section>
  );
}

function Measured({ view, uplink, name }: { view: Schemas["SurveyView"]; uplink: string; name: string }) {
  const { standing } = usePlan();
  const struck = new Set(standing.survey.withdrawn);
  const upload = view.uploads.find((u) => u.uplink === uplink);
  const judged = upload && { ...upload, next: view.next[uplink] };
  const found = standing.survey.measurements
    .filter((m) => m.uplink === uplink)
    .toSorted((a, b) => a.at.localeCompare(b.at));
  const show = standing.plan.show;
  const out = found.filter((m) => struck.has(m.id ?? "")).length;
  if (!judged || !found.length) {
    return (
      <Section title={`Measured on ${name}`}>
        <FirstThing>
          Nothing measured yet. Run a speed test from the encoder's socket at the hour of the show, and paste
          it below.
        </FirstThing>
      </Section>
    );
  }
  return (
    <Section
      title={`Measured on ${name}`}
      aside={[
        `${found.length} measurements${out ? `, ${out} of them struck out` : ""}`,
        `evidence ${judged.trust}${judged.doubts.length ? `: ${judged.doubts.join("; ")}` : ""}`,
      ].join(" · ")}
    >
      <HoursChart samples={judged.samples} startsAt={show.starts_at ?? null} endsAt={show.ends_at ?? null} />
      {judged.next && (
        <p className="mt-1">
          <span className="font-semibold">{judged.next.what}</span>: {judged.next.why}.
        </p>
      )}
      <details className="mt-2">
        <summary className="link">Day by day, and by how full the building was</summary>
        <OverTime samples={judged.samples} startsAt={show.starts_at ?? null} />
        <ByBuilding lines={judged.by_building} />
      </details>
      <details className="mt-2" open={found.length <= FEW}>
        <summary className="link">All measurements as a table</summary>
        <EveryMeasurement found={found} struck={struck} />
      </details>
    </Section>
  );
}

function ByBuilding({ lines }: { lines: Schemas["Upload"]["by_building"] }) {
  return (
    <table className="mt-1">
      <thead>
        <tr>
          <th>Building</th>
          <th>Measured</th>
          <th>Lowest</th>
          <th>Median</th>
          <th>Highest</th>
        </tr>
      </thead>
      <tbody>
        {lines.map((line) => (
          <tr key={line.conditions}>
            <td>{BUILDING[line.conditions] ?? line.conditions}</td>
            <td>{line.count} times</td>
            <td className="font-mono">{shown(line.low_mbps)} Mb/s</td>
            <td className="font-mono">{shown(line.middle_mbps)} Mb/s</td>
            <td className="font-mono">{shown(line.high_mbps)} Mb/s</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Every measurement, to be looked over; one that does not count is struck out, and stays. */
function EveryMeasurement({
  found,
  struck,
}: {
  found: readonly Schemas["Measurement"][];
  struck: ReadonlySet<string>;
}) {
  const { write } = useEdits();
  const cell = (value: number | null | undefined) =>
    value === null || value === undefined ? "–" : shown(value);
  return (
    <table className="mt-1 w-full">
      <thead>
        <tr>
          <th>When</th>
          <th className="text-right">Up, Mb/s</th>
          <th className="text-right">Down, Mb/s</th>
          <th className="text-right">Round trip, ms</th>
          <th className="text-right">Jitter, ms</th>
          <th className="text-right">Loss, %</th>
          <th>Building</th>
          <th>Method</th>
          <th>
            <span className="sr-only">Counted or not</span>
          </th>
        </tr>
      </thead>
      <tbody className="font-mono">
        {found.map((m) => (
          <tr key={m.id} className={struck.has(m.id ?? "") ? "text-faint line-through" : ""}>
            <td className="font-sans whitespace-nowrap">
              {wall(m.at).day}, {wall(m.at).time}
            </td>
            <td className="text-right">{shown(m.up_mbps)}</td>
            <td className="text-right">{cell(m.down_mbps)}</td>
            <td className="text-right">{cell(m.rtt_ms)}</td>
            <td className="text-right">{cell(m.jitter_ms)}</td>
            <td className="text-right">{cell(m.loss_pct)}</td>
            <td className="font-sans">
              {m.conditions}
              {m.note && `, ${m.note}`}
            </td>
            <td className="font-sans">{m.method}</td>
            <td className="font-sans text-right whitespace-nowrap">
              <button
                type="button"
                className="link inline-block"
                onClick={() => void write([withdrawn(m.id ?? "", !struck.has(m.id ?? ""))])}
              >
                {struck.has(m.id ?? "") ? "Struck out: count it again" : "Strike out"}
                <span className="sr-only">
                  {" "}
                  {shown(m.up_mbps)} Mb/s of {wall(m.at).day}, {wall(m.at).time}
                </span>
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
