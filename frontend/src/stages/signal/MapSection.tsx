import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type RefObject, useLayoutEffect, useRef, useState } from "react";
import { api, type Schemas, taken } from "../../api/client";
import { usePlan, useSelection, useTrial } from "../../api/plan";
import { SignalMap } from "../../instruments/SignalMap";
import { printPage } from "../../parts/printing";
import { FirstThing, Section } from "../../parts/Section";
import { useTrace } from "./Ways";

type Detail = Schemas["DrawnMap"]["detail"];

/** From the furthest to the nearest, and what each shows. */
const DETAILS: readonly (readonly [Detail, string])[] = [
  ["places", "places"],
  ["names", "names"],
  ["full", "every label"],
];

/** The map with what it is looked at by: how near, which places as one box, network cables or not. */
export function MapSection() {
  const { standing } = usePlan();
  const { selected, pointed, select } = useSelection();
  const [detail, setDetail] = useState<Detail | "fit">("fit");
  const [network, setNetwork] = useState(false);
  const [turned, setTurned] = useState<readonly string[]>([]);
  const frame = useRef<HTMLDivElement>(null);
  const room = useRoom(frame);
  // For what a finding points at nothing moves, unless it lies hidden in a place drawn as one box.
  const latest = useRef<Detail>("names");
  const picked = pointed && latest.current !== "places" ? undefined : (selected ?? undefined);
  const { data: map, error } = useMap(room && { ...room, detail, network, turned: [...turned], picked });
  const shown = map?.detail ?? "names";
  latest.current = shown;
  const near = (next: Detail | "fit") => {
    // What was opened or folded by hand is the other way round at another detail.
    if (next !== detail) setTurned([]);
    setDetail(next);
  };
  const step = (by: number) => {
    const at = DETAILS.findIndex(([id]) => id === shown) + by;
    if (DETAILS[at]) near(DETAILS[at][0]);
  };
  const file = new URLSearchParams({ detail: shown, network: String(network) });
  for (const place of turned) file.append("turned", place);
  return (
    <Section
      title="Signal map"
      tight
      aside={
        <span className="no-print flex flex-wrap items-baseline gap-x-4">
          <FindDevice />
          <fieldset className="flex items-baseline gap-x-2" aria-label="How near">
            <Near on={detail === "fit"} onPress={() => near("fit")}>
              all of it
            </Near>
            {DETAILS.map(([id, words]) => (
              <Near key={id} on={detail === id} onPress={() => near(id)}>
                {words}
              </Near>
            ))}
          </fieldset>
          <label className="inline-flex items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-accent"
              checked={network}
              onChange={(e) => setNetwork(e.target.checked)}
            />
            network cables
          </label>
          <a className="link" href={`/api/plans/${standing.id}/map.svg?${file}`} download>
            SVG
          </a>
          <a className="link" href={`/api/plans/${standing.id}/signal.graphml`} download>
            GraphML
          </a>
          <button type="button" className="link" onClick={() => printPage()}>
            Print
          </button>
        </span>
      }
    >
      {standing.plan.devices.length === 0 && (
        <FirstThing>Add gear first; it appears here by itself.</FirstThing>
      )}
      <p className="hidden print:block">
        {standing.plan.show.name}, version {standing.version}
      </p>
      {error && (
        <p role="alert" className="text-accent font-semibold">
          The map could not be drawn. {error.message} It is asked for again with the next change.
        </p>
      )}
      <div ref={frame} data-detail={map?.detail}>
        {map && standing.plan.devices.length > 0 && (
          <SignalMap
            svg={map.svg}
            width={map.width}
            selected={selected}
            within={standing.plan.devices.find((d) => d.id === selected)?.place ?? null}
            onSelect={select}
            onFold={(place) =>
              setTurned((now) => (now.includes(place) ? now.filter((p) => p !== place) : [...now, place]))
            }
            onNearer={(way) => (way === "fit" ? near("fit") : step(way === "closer" ? 1 : -1))}
          />
        )}
      </div>
      <PickedWay />
    </Section>
  );
}

/** The way of the device that is picked, as one sentence of plugs and lengths; its room is there before it is. */
function PickedWay() {
  const { standing } = usePlan();
  const { selected, pointed } = useSelection();
  const device = !pointed && standing.plan.devices.some((d) => d.id === selected) ? selected : null;
  const trace = useTrace(device);
  const way = device && trace?.ways[0];
  return (
    <p className="no-print min-h-11 pt-1">
      {way && (
        <>
          <strong>{way.hops[0]?.from_name}</strong>
          {way.hops.map((hop) => (
            <span key={hop.link}>
              {" "}
              <span className="text-faint">{hop.what}</span> → {hop.to_name}
            </span>
          ))}
          {trace.ways.length > 1 && <span className="text-faint">; {trace.ways.length - 1} more below</span>}
        </>
      )}
    </p>
  );
}

function Near({ on, onPress, children }: { on: boolean; onPress: () => void; children: string }) {
  return (
    <button
      type="button"
      className={on ? "font-semibold underline decoration-2 underline-offset-4" : "link"}
      aria-pressed={on}
      onClick={onPress}
    >
      {children}
    </button>
  );
}

function FindDevice() {
  const { devices } = usePlan().standing.plan;
  const { selected, select } = useSelection();
  const [find, setFind] = useState("");
  const words = find.trim().toLowerCase();
  const hits = words
    ? devices.filter((d) => `${d.name} ${d.kind} ${d.model ?? ""}`.toLowerCase().includes(words))
    : [];
  return (
    <span className="inline-flex items-baseline gap-2">
      {words && (
        <span className="margin-note" aria-live="polite">
          {hits.length} found; Enter goes from one to the next
        </span>
      )}
      <input
        className="field min-h-6! max-w-36 py-0!"
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
    </span>
  );
}

type Room = { width: number; height: number };

/** How much of the window the map may fill: the width of the page less the place names, to the window's bottom. */
function useRoom(frame: RefObject<HTMLDivElement | null>): Room | null {
  const [room, setRoom] = useState<Room | null>(null);
  useLayoutEffect(() => {
    const at = frame.current;
    if (!at) return;
    const measure = () => {
      const top = at.getBoundingClientRect().top + (at.closest("main")?.scrollTop ?? 0);
      const width = step(at.clientWidth - NAMES);
      const height = step(window.innerHeight - top - KEY);
      setRoom((was) => (was?.width === width && was.height === height ? was : { width, height }));
    };
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(at);
    window.addEventListener("resize", measure);
    return () => {
      watch.disconnect();
      window.removeEventListener("resize", measure);
    };
  }, [frame]);
  return room;
}

/** Width of the place names, and height of the key under the map, in px. */
const NAMES = 104;
const KEY = 74;
/** A hair more or less is no other map. */
const step = (px: number) => Math.max(100, Math.floor(px / 10) * 10);

type Asked = Room & { detail: Detail | "fit"; network: boolean; turned: string[]; picked?: string };

/** The map as it is asked for: of the plan, or as it would be after the edits that are being looked at. */
function useMap(asked: Asked | null) {
  const { standing, stamp } = usePlan();
  const { trying } = useTrial();
  return useQuery({
    queryKey: ["map", standing.id, stamp, trying, asked],
    enabled: asked !== null,
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    queryFn: async ({ signal }) => {
      const params = { path: { id: standing.id }, query: asked ?? undefined };
      return taken(
        trying
          ? await api.POST("/api/plans/{id}/map", { params, body: { edits: trying }, signal })
          : await api.GET("/api/plans/{id}/map", { params, signal }),
      );
    },
  });
}
