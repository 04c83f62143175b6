import {
  type CSSProperties,
  type KeyboardEvent,
  memo,
  useCallback,
  useEffect,
  useRef,
  useState,
} from "react";
import type { Schemas } from "../api/client";
import { STATE_WORDS, StateMark } from "../parts/StateMark";

type SignalMapData = Schemas["SignalMap"];
type Hop = Schemas["DrawnHop"];
type Box = Schemas["DrawnBox"];
type Weak = Schemas["SignalView"]["states"][string];

const NAMES = 104;
/** Width of a sheet of A4 on its side, less its margins, in CSS px: a printed map is as wide as that. */
const PAGE = 990;
/** Bands run on to the edge of the frame, however wide it is. */
const WIDEST = 20_000;
const DASHES: Record<Hop["pattern"], string | undefined> = {
  cable: undefined,
  radio: "1 5",
  stream: "9 4",
  sound: "14 3 2 3",
  network: "2 3",
};
const ARROWS: Record<string, [number, number]> = {
  ArrowRight: [1, 0],
  ArrowLeft: [-1, 0],
  ArrowDown: [0, 1],
  ArrowUp: [0, -1],
};

/** Places as bands, signal from left to right. Where everything lies is reckoned by the core; this draws it. */
export function SignalMap({
  map,
  selected,
  lit,
  states,
  onSelect,
  onFold,
}: {
  map: SignalMapData;
  /** What does not hold of which box or link. */
  states: Readonly<Record<string, Weak>>;
  selected: string | null;
  /** What belongs to the way in view; everything else steps back. */
  lit: ReadonlySet<string> | null;
  onSelect: (id: string | null) => void;
  onFold: (place: string) => void;
}) {
  const frame = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!selected) return;
    const found = frame.current?.querySelector(`[data-of="${CSS.escape(selected)}"]`);
    if (frame.current && found) bring(found, frame.current);
  }, [selected]);

  const drawn = useSlices(map.boxes.length + map.hops.length);
  const latest = useRef((_event: KeyboardEvent, _box: Box) => {});
  latest.current = (event, box) => {
    const way = ARROWS[event.key];
    if (way) {
      const next = nearest(map.boxes, box, way);
      if (next) frame.current?.querySelector<SVGGElement>(`[data-of="${CSS.escape(next.device)}"]`)?.focus();
    } else if (event.key === "Enter" || event.key === " ")
      onSelect(selected === box.device ? null : box.device);
    else if (event.key === "Escape") onSelect(null);
    else return;
    event.preventDefault();
  };
  const move = useCallback((event: KeyboardEvent, box: Box) => latest.current(event, box), []);
  const first = map.boxes.some((b) => b.device === selected) ? selected : map.boxes[0]?.device;
  return (
    <figure>
      <div
        ref={frame}
        className="border-rule relative flex items-start overflow-auto border-b print:max-h-none! print:overflow-visible print:[zoom:var(--fit)]"
        style={
          {
            maxHeight: "min(88vh, 60rem)",
            "--fit": Math.min(1.2, PAGE / (map.width + NAMES)),
          } as CSSProperties
        }
      >
        <div
          className="border-rule bg-paper sticky left-0 z-10 shrink-0 border-r"
          style={{ width: NAMES, height: map.height }}
        >
          {map.bands.map((band) => (
            <div
              key={band.place}
              className="border-rule absolute inset-x-0 overflow-hidden border-t pt-1 pr-1"
              style={{ top: band.y, height: band.height }}
            >
              <button
                type="button"
                className="hover:text-accent w-full cursor-pointer text-left text-[13px] leading-tight font-semibold"
                aria-expanded={!band.collapsed}
                onClick={() => onFold(band.place)}
              >
                <span aria-hidden className="text-faint font-mono">
                  {band.collapsed ? "+ " : "− "}
                </span>
                {band.name}
                <span className="text-faint block pl-4 text-[12px] font-normal">
                  {band.devices} device{band.devices === 1 ? "" : "s"}
                </span>
              </button>
            </div>
          ))}
        </div>
        <div className="grow">
          <svg
            width={map.width}
            height={map.height}
            viewBox={`0 0 ${map.width} ${map.height}`}
            className="block min-w-full"
            preserveAspectRatio="xMinYMin"
            textRendering="optimizeSpeed"
            role="group"
            aria-label="Signal map"
          >
            {map.bands.map((band, i) => (
              <g key={band.place}>
                <rect
                  x={0}
                  y={band.y}
                  width={WIDEST}
                  height={band.height}
                  fill={i % 2 ? "var(--paper)" : "var(--sheet)"}
                />
                <line x1={0} x2={WIDEST} y1={band.y} y2={band.y} stroke="var(--rule)" />
                {band.aside.length > 0 && (
                  <text x={8} y={band.y + band.height - 6} className="fill-faint text-[12px]">
                    No picture through: {band.aside.join(", ")}
                  </text>
                )}
              </g>
            ))}
            {map.hops.slice(0, Math.max(0, drawn - map.boxes.length)).map((hop) => (
              <HopLine
                key={hop.link}
                hop={hop}
                chosen={selected === hop.link}
                back={lit !== null && !lit.has(hop.link)}
                state={states[hop.link]}
                onSelect={onSelect}
              />
            ))}
            {map.boxes.slice(0, drawn).map((box) => (
              <BoxMark
                key={box.device}
                box={box}
                chosen={selected === box.device}
                back={lit !== null && !lit.has(box.device)}
                reachable={box.device === first}
                state={states[box.device]}
                onSelect={onSelect}
                onKey={move}
              />
            ))}
          </svg>
        </div>
      </div>
      <figcaption className="margin-note mt-1 flex flex-wrap gap-x-5">
        {(Object.keys(DASHES) as Hop["pattern"][])
          .filter((p) => map.hops.some((h) => h.pattern === p))
          .map((pattern) => (
            <span key={pattern} className="inline-flex items-center gap-1.5">
              <svg width="34" height="6" aria-hidden>
                <line
                  x1="0"
                  x2="34"
                  y1="3"
                  y2="3"
                  stroke="var(--ink)"
                  strokeWidth="1.8"
                  strokeDasharray={DASHES[pattern]}
                />
              </svg>
              {pattern === "network" ? "network cable" : pattern}
            </span>
          ))}
        {WEAK.filter((state) => Object.values(states).includes(state)).map((state) => (
          <span key={state} className="inline-flex items-center gap-1.5">
            <StateMark state={state} /> {STATE_WORDS[state]}
          </span>
        ))}
        <span className="no-print">Arrow keys move, Enter follows a box, Escape lets go.</span>
      </figcaption>
    </figure>
  );
}

/** How many of so many marks are drawn by now: a slice a frame, so that no hand waits for all of a large map. */
function useSlices(all: number): number {
  const [drawn, setDrawn] = useState(SLICE);
  useEffect(() => {
    if (drawn >= all) return;
    const frame = requestAnimationFrame(() => setDrawn(drawn + SLICE));
    return () => cancelAnimationFrame(frame);
  }, [drawn, all]);
  return drawn;
}

const SLICE = 120;

/** Scrolls the map, and nothing but the map, until the mark is in view. */
function bring(mark: Element, frame: HTMLElement) {
  const at = mark.getBoundingClientRect();
  const view = frame.getBoundingClientRect();
  const past = (low: number, high: number, from: number, to: number) =>
    low < from ? low - from - 12 : high > to ? Math.min(high - to + 12, low - from - 12) : 0;
  frame.scrollLeft += past(at.left, at.right, view.left + NAMES, view.right);
  frame.scrollTop += past(at.top, at.bottom, view.top, view.bottom);
}

/** The box nearest to this one in a direction. */
function nearest(boxes: Box[], from: Box, [dx, dy]: [number, number]): Box | undefined {
  const score = (b: Box) => {
    const x = b.x - from.x;
    const y = b.y + b.height / 2 - from.y - from.height / 2;
    const along = x * dx + y * dy;
    const across = Math.abs(x * dy) + Math.abs(y * dx);
    return along > 1 ? along + across * 2 : Number.POSITIVE_INFINITY;
  };
  return boxes
    .filter((b) => Number.isFinite(score(b)))
    .reduce<Box | undefined>((best, b) => (!best || score(b) < score(best) ? b : best), undefined);
}

const WEAK: Weak[] = ["fails", "not known", "doubtful"];

/** A box, drawn again only when it looks different. */
const BoxMark = memo(function BoxMark({
  box,
  chosen,
  back,
  reachable,
  state,
  onSelect,
  onKey,
}: {
  box: Box;
  chosen: boolean;
  back: boolean;
  reachable: boolean;
  state: Weak | undefined;
  onSelect: (id: string | null) => void;
  onKey: (event: KeyboardEvent, box: Box) => void;
}) {
  const ink = back ? "fill-faint" : "fill-ink";
  return (
    <g
      role="button"
      tabIndex={reachable ? 0 : -1}
      data-of={box.device}
      aria-pressed={chosen}
      className="cursor-pointer"
      onClick={() => onSelect(chosen ? null : box.device)}
      onKeyDown={(event) => onKey(event, box)}
    >
      <rect
        x={box.x}
        y={box.y}
        width={box.width}
        height={box.height}
        fill={chosen ? "var(--wash)" : "var(--paper)"}
      />
      <path
        d={`M${box.x} ${box.y}h${box.width}M${box.x} ${box.y + box.height}h${box.width}`}
        stroke={chosen ? "var(--accent)" : back ? "var(--rule)" : "var(--ink)"}
        strokeWidth={chosen ? 3 : 1.6}
      />
      {box.lines.map((words, i) => (
        <text
          key={words}
          x={box.x + 6}
          y={box.y + 13 + 14 * i}
          className={`${ink} text-[13px] font-semibold`}
        >
          {words}
        </text>
      ))}
      {box.notes.map((words, i) => (
        <text
          key={words}
          x={box.x + 6}
          y={box.y + 12 + 14 * (box.lines.length + i)}
          className="fill-faint text-[11.5px]"
        >
          {words}
        </text>
      ))}
      {state && (
        <g transform={`translate(${box.x + box.width - 17} ${box.y + box.height - 17})`}>
          <rect x="-1" y="-1" width="16" height="16" fill="var(--paper)" />
          <StateMark state={state} />
        </g>
      )}
    </g>
  );
});

/** A link, drawn again only when it looks different. */
const HopLine = memo(function HopLine({
  hop,
  chosen,
  back,
  state,
  onSelect,
}: {
  hop: Hop;
  chosen: boolean;
  back: boolean;
  state: Weak | undefined;
  onSelect: (id: string) => void;
}) {
  const path = hop.points.map((p, i) => `${i ? "L" : "M"}${p.x} ${p.y}`).join("");
  const end = hop.points[hop.points.length - 1] ?? { x: 0, y: 0 };
  const stroke = chosen ? "var(--accent)" : back ? "var(--rule)" : "var(--ink)";
  const middle = hop.points[Math.floor(hop.points.length / 2)] ?? end;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the same link is reached by keyboard in the table of links
    <g className="cursor-pointer" data-of={hop.link} onClick={() => onSelect(hop.link)}>
      <path d={path} fill="none" stroke="transparent" strokeWidth="14" />
      <path
        d={path}
        fill="none"
        stroke={stroke}
        strokeWidth={chosen ? 3.2 : hop.state === "dark" ? 1 : 1.8}
        strokeDasharray={DASHES[hop.pattern]}
      />
      <path
        d={`M${end.x - 7} ${end.y - 4}L${end.x} ${end.y}L${end.x - 7} ${end.y + 4}`}
        fill="none"
        stroke={stroke}
        strokeWidth="1.8"
      />
      {hop.state === "broken" && (
        <path
          d={`M${middle.x - 6} ${middle.y - 6}l12 12m0-12l-12 12`}
          stroke="var(--accent)"
          strokeWidth="3"
        />
      )}
      <text
        x={hop.label_x}
        y={hop.label_y - 5}
        className={`text-[12px] ${chosen ? "fill-accent font-semibold" : back ? "fill-faint" : "fill-ink"}`}
      >
        {hop.label}
        {hop.state !== "live" && ` (${hop.state})`}
      </text>
      {state && (
        <g transform={`translate(${hop.label_x - 18} ${hop.label_y - 16})`}>
          <rect x="-1" y="-1" width="16" height="16" fill="var(--paper)" />
          <StateMark state={state} />
        </g>
      )}
      <text x={hop.label_x} y={hop.label_y + 14} className="fill-faint text-[11.5px]">
        {hop.detail}
      </text>
    </g>
  );
});
