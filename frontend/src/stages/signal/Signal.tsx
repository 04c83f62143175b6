import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { api, taken } from "../../api/client";
import { usePlan, useSelection, useTrial } from "../../api/plan";
import { useView } from "../../api/views";
import { ArrivalMatrix } from "../../instruments/ArrivalMatrix";
import { CanvasDrawing } from "../../instruments/CanvasDrawing";
import { SignalMap } from "../../instruments/SignalMap";
import { Figure } from "../../parts/Figure";
import { Proofs } from "../../parts/Proofs";
import { FirstThing, Section } from "../../parts/Section";
import { Finder, PatchAll, type Wanted } from "./Finder";
import { Links } from "./Links";
import { useTrace, Ways } from "./Ways";

/** The signal path: the map of it, what joins what, and the ways to get a picture somewhere. */
export default function Signal() {
  const { standing } = usePlan();
  const { selected } = useSelection();
  const { devices } = standing.plan;
  const [wanted, setWanted] = useState<Wanted>({ source: "", end: "" });
  const device = devices.some((d) => d.id === selected) ? selected : null;
  const trace = useTrace(device);
  // The map first; what stands under it comes as soon as the map is on the screen.
  const mapped = useDeferredValue(true, false);
  const ask = (asked: Wanted) => {
    setWanted(asked);
    requestAnimationFrame(() => document.getElementById("finder")?.scrollIntoView({ block: "start" }));
  };
  const ends = "link" in wanted ? { source: "", end: "" } : wanted;
  return (
    <>
      <div className="print-wide">
        <MapSection lit={device && trace ? new Set([...trace.links, ...trace.devices]) : null} />
      </div>
      {device && trace && <Ways trace={trace} onWant={(here) => ask({ ...ends, ...here })} />}
      {mapped && devices.length > 1 && (
        <div id="finder" className="no-print">
          <Finder wanted={wanted} onWant={setWanted} />
        </div>
      )}
      {mapped && (
        <div className="no-print">
          <Proofs />
          <ArrivalMatrix />
          <PatchAll />
          <Links onReroute={(link) => ask({ link })} />
          <SoundSection />
          <Canvases />
        </div>
      )}
    </>
  );
}

function MapSection({ lit }: { lit: ReadonlySet<string> | null }) {
  const { standing } = usePlan();
  const { trial } = useTrial();
  const { selected, select } = useSelection();
  const view = useView("signal");
  const [network, setNetwork] = useState(false);
  const [folded, setFolded] = useState<readonly string[]>([]);
  const [find, setFind] = useState("");
  const asked = (network || folded.length > 0) && !trial;
  const query = { network, collapsed: [...folded] };
  const { data } = useQuery({
    queryKey: ["map", standing.id, standing.version, network, folded],
    enabled: asked,
    placeholderData: keepPreviousData,
    queryFn: async () =>
      taken(await api.GET("/api/plans/{id}/map", { params: { path: { id: standing.id }, query } })),
  });
  const map = asked && data ? data : view?.map;
  const words = find.trim().toLowerCase();
  const hits = words
    ? standing.plan.devices.filter((d) =>
        `${d.name} ${d.kind} ${d.model ?? ""}`.toLowerCase().includes(words),
      )
    : [];
  const fold = (place: string) =>
    setFolded((now) => (now.includes(place) ? now.filter((p) => p !== place) : [...now, place]));
  const search = `?network=${network}${folded.map((p) => `&collapsed=${p}`).join("")}`;
  return (
    <Section
      title="Signal map"
      aside={
        <span className="no-print flex flex-wrap items-baseline gap-x-4">
          <label className="inline-flex items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-accent"
              checked={network}
              onChange={(e) => setNetwork(e.target.checked)}
            />
            network cables
          </label>
          <a className="link" href={`/api/plans/${standing.id}/map.svg${search}`} download>
            SVG
          </a>
          <a className="link" href={`/api/plans/${standing.id}/signal.graphml`} download>
            GraphML
          </a>
          <button type="button" className="link" onClick={() => window.print()}>
            Print
          </button>
        </span>
      }
    >
      {standing.plan.devices.length === 0 ? (
        <FirstThing>Add gear first; it appears here by itself.</FirstThing>
      ) : (
        <>
          <p className="hidden print:block">
            {standing.plan.show.name}, version {standing.version}
          </p>
          <div className="no-print mb-1 flex items-baseline gap-3">
            <input
              className="field max-w-56"
              aria-label="Find on the map"
              placeholder="find a device"
              value={find}
              onChange={(e) => setFind(e.target.value)}
              onKeyDown={(e) => {
                if (e.key === "Enter" && hits.length) {
                  const at = hits.findIndex((d) => d.id === selected);
                  select(hits[(at + 1) % hits.length]?.id ?? null);
                }
                if (e.key === "Escape") setFind("");
              }}
            />
            <span className="margin-note" aria-live="polite">
              {words
                ? `${hits.length} found; Enter goes from one to the next`
                : "select a box to follow its picture"}
            </span>
          </div>
          {map && (
            <SignalMap
              map={map}
              states={view?.states ?? {}}
              selected={selected}
              lit={lit}
              onSelect={select}
              onFold={fold}
            />
          )}
        </>
      )}
    </Section>
  );
}

function SoundSection() {
  const sounds = useView("signal")?.sounds ?? [];
  if (!sounds.length) return null;
  return (
    <Section title="Sound" aside="what is heard where a picture ends">
      <table className="w-full">
        <thead>
          <tr>
            <th>At</th>
            <th>Sound from</th>
            <th>Channels</th>
            <th>Also open</th>
            <th>Delay</th>
          </tr>
        </thead>
        <tbody>
          {sounds.map((sound) => (
            <tr key={sound.end}>
              <td>{sound.name}</td>
              <td>{sound.source}</td>
              <td>{sound.channels}</td>
              <td>{(sound.open ?? []).join(", ") || <span className="text-faint">nothing</span>}</td>
              <td>{sound.delay}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  );
}

function Canvases() {
  const canvases = useView("signal")?.canvases ?? [];
  if (!canvases.length) return null;
  return (
    <Section title="Canvas" aside="drawn to scale">
      {canvases.map((each) => (
        <div key={each.stream} className="mb-4">
          <p className="mb-2">
            <strong>{each.name}</strong>
            {each.composes
              ? `, composed by ${each.encoder}.`
              : `. ${each.encoder} cannot compose it: a second encoder is needed.`}{" "}
            A centre crop keeps <Figure working={each.canvas.kept} /> of the width; shrunk whole, the picture
            takes <Figure working={each.canvas.share} /> of the height.
          </p>
          <CanvasDrawing canvas={each.canvas} layout={each.layout} />
        </div>
      ))}
    </Section>
  );
}
