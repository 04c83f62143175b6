import type { Schemas } from "../api/client";

type SignalMapData = Schemas["SignalMap"];
type Hop = Schemas["Hop"];

const LABEL = 96;
const BOX = 150;
const GAP = 150;
const ROW = 58;
const BOX_HEIGHT = 38;
const BAND_PAD = 12;
const PATTERNS: Record<string, string | undefined> = { cable: undefined, network: "2 3", stream: "9 4" };

interface Spot {
  x: number;
  y: number;
}

/** Places as bands, signal from left to right; every hop says what it is, how long, and what it carries. */
export function SignalMap({
  map,
  selected,
  onSelect,
}: {
  map: SignalMapData;
  selected: string | null;
  onSelect: (id: string | null) => void;
}) {
  const tops = new Map<string, { top: number; height: number }>();
  let y = 0;
  for (const band of map.bands) {
    const height = band.rows * ROW + BAND_PAD * 2;
    tops.set(band.place, { top: y, height });
    y += height;
  }
  const width = LABEL + map.columns * (BOX + GAP) - GAP + 16;
  const spots = new Map<string, Spot>(
    map.boxes.map((box) => [
      box.device,
      {
        x: LABEL + box.column * (BOX + GAP),
        y: (tops.get(box.band)?.top ?? 0) + BAND_PAD + box.row * ROW + ROW / 2,
      },
    ]),
  );
  return (
    <figure className="overflow-x-auto">
      <svg
        viewBox={`0 0 ${width} ${y}`}
        className="block"
        style={{ width: "100%", minWidth: Math.min(width, 640), maxWidth: width * 1.25 }}
        role="group"
        aria-label="Signal map"
      >
        {map.bands.map((band, i) => {
          const { top, height } = tops.get(band.place) as { top: number; height: number };
          return (
            <g key={band.place}>
              <rect
                x={0}
                y={top}
                width={width}
                height={height}
                fill={i % 2 ? "var(--paper)" : "var(--sheet)"}
              />
              <line x1={0} x2={width} y1={top} y2={top} stroke="var(--rule)" />
              <text x={8} y={top + 20} className="fill-faint text-[13px] font-semibold">
                {band.name}
              </text>
            </g>
          );
        })}
        {map.hops.map((hop) => (
          <HopLine
            key={hop.link}
            hop={hop}
            from={spots.get(hop.from_device)}
            to={spots.get(hop.to_device)}
            chosen={selected === hop.link}
            onSelect={onSelect}
          />
        ))}
        {map.boxes.map((box) => {
          const spot = spots.get(box.device) as Spot;
          const chosen = selected === box.device;
          return (
            <g
              key={box.device}
              role="button"
              tabIndex={0}
              aria-pressed={chosen}
              className="cursor-pointer"
              onClick={() => onSelect(chosen ? null : box.device)}
              onKeyDown={(event) =>
                (event.key === "Enter" || event.key === " ") && onSelect(chosen ? null : box.device)
              }
            >
              <rect
                x={spot.x}
                y={spot.y - BOX_HEIGHT / 2}
                width={BOX}
                height={BOX_HEIGHT}
                fill={chosen ? "var(--wash)" : "var(--paper)"}
              />
              <path
                d={`M${spot.x} ${spot.y - BOX_HEIGHT / 2}h${BOX}M${spot.x} ${spot.y + BOX_HEIGHT / 2}h${BOX}`}
                stroke={chosen ? "var(--accent)" : "var(--ink)"}
                strokeWidth={chosen ? 3 : 1.6}
              />
              <text
                x={spot.x + BOX / 2}
                y={spot.y - 2}
                textAnchor="middle"
                className="fill-ink text-[13px] font-semibold"
              >
                {clip(box.name, 22)}
              </text>
              <text
                x={spot.x + BOX / 2}
                y={spot.y + 13}
                textAnchor="middle"
                className="fill-faint text-[11.5px]"
              >
                {box.kind.replace("-", " ")}
              </text>
            </g>
          );
        })}
      </svg>
      <figcaption className="margin-note flex flex-wrap gap-x-5">
        {[
          ["cable", "cable"],
          ["network", "network cable"],
          ["stream", "stream"],
        ].map(([kind, words]) => (
          <span key={kind} className="inline-flex items-center gap-1.5">
            <svg width="34" height="6" aria-hidden>
              <line
                x1="0"
                x2="34"
                y1="3"
                y2="3"
                stroke="var(--ink)"
                strokeWidth="1.8"
                strokeDasharray={PATTERNS[kind as string]}
              />
            </svg>
            {words}
          </span>
        ))}
      </figcaption>
    </figure>
  );
}

function HopLine({
  hop,
  from,
  to,
  chosen,
  onSelect,
}: {
  hop: Hop;
  from?: Spot;
  to?: Spot;
  chosen: boolean;
  onSelect: (id: string) => void;
}) {
  if (!from || !to) return null;
  const backwards = to.x <= from.x;
  const startX = from.x + BOX;
  const turn = backwards ? startX + 14 : to.x - GAP + 14;
  const path =
    from.y === to.y && !backwards
      ? `M${startX} ${from.y}H${to.x}`
      : backwards
        ? `M${startX} ${from.y}H${turn}V${(from.y + to.y) / 2}H${to.x - 14}V${to.y}H${to.x}`
        : `M${startX} ${from.y}H${turn}V${to.y}H${to.x}`;
  const labelX = backwards
    ? (turn + to.x) / 2
    : (Math.max(turn, startX) + to.x) / 2 + (from.y === to.y ? 0 : 2);
  const labelY = backwards ? (from.y + to.y) / 2 : to.y;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the same link is reached by keyboard in the table of links
    <g className="cursor-pointer" onClick={() => onSelect(hop.link)}>
      <path d={path} fill="none" stroke="transparent" strokeWidth="14" />
      <path
        d={path}
        fill="none"
        stroke={chosen ? "var(--accent)" : "var(--ink)"}
        strokeWidth={chosen ? 3.2 : 1.8}
        strokeDasharray={PATTERNS[hop.pattern]}
      />
      <path
        d={`M${to.x - 7} ${to.y - 4}L${to.x} ${to.y}L${to.x - 7} ${to.y + 4}`}
        fill="none"
        stroke={chosen ? "var(--accent)" : "var(--ink)"}
        strokeWidth="1.8"
      />
      <text
        x={labelX}
        y={labelY - 6}
        textAnchor="middle"
        className={`text-[12px] ${chosen ? "fill-accent font-semibold" : "fill-ink"}`}
      >
        {hop.label}
      </text>
      <text x={labelX} y={labelY + 15} textAnchor="middle" className="fill-faint text-[11.5px]">
        {hop.detail}
      </text>
    </g>
  );
}

const clip = (text: string, most: number) => (text.length > most ? `${text.slice(0, most - 1)}…` : text);
