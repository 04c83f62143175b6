import type { Schemas } from "../api/client";
import { chartStep, shown, wall } from "../parts/numbers";
import { useWidth } from "../parts/useWidth";

type Sample = Schemas["Sample"];
const HEIGHT = 190;
const LEFT = 44;
const RIGHT = 28;
const BOTTOM = 26;
const TOP = 12;

/** Every measurement by the hour it was taken, each evening a shape of its own, the show's hours hatched. */
export function HoursChart({
  samples,
  startsAt,
  endsAt,
}: {
  samples: Sample[];
  startsAt: string | null;
  endsAt: string | null;
}) {
  const [drawing, WIDTH] = useWidth<SVGSVGElement>(340);
  const days = [...new Set(samples.map((s) => wall(s.at).day))];
  const hours = samples.map((s) => wall(s.at).minutes);
  const start = startsAt ? wall(startsAt).minutes : null;
  const end = endsAt ? wall(endsAt).minutes : start;
  const low = Math.floor(Math.min(...hours, start ?? 1440) / 60) * 60;
  const high = Math.max(low + 60, Math.ceil(Math.max(...hours, start ?? 0, end ?? 0) / 60) * 60);
  const top = Math.max(1, ...samples.map((s) => s.up_mbps)) * 1.1;
  const x = (minutes: number) => LEFT + ((minutes - low) / (high - low)) * (WIDTH - LEFT - RIGHT);
  const y = (mbps: number) => HEIGHT - BOTTOM - (mbps / top) * (HEIGHT - BOTTOM - TOP);
  const labels = placeLabels(samples.map((s) => [x(wall(s.at).minutes), y(s.up_mbps)]));
  return (
    <figure>
      <svg ref={drawing} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="block w-full" role="img">
        <title>Measured upload by the hour of the day; the table below lists every measurement</title>
        <defs>
          <pattern
            id="show-hours"
            width="6"
            height="6"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <line x1="0" y1="0" x2="0" y2="6" stroke="var(--rule)" strokeWidth="1.5" />
          </pattern>
        </defs>
        {start !== null && end !== null && (
          <>
            <rect
              x={x(start)}
              y={TOP}
              width={Math.max(2, x(Math.max(end, start)) - x(start))}
              height={HEIGHT - BOTTOM - TOP}
              fill="url(#show-hours)"
            />
            <text x={x(start) + 4} y={HEIGHT - BOTTOM - 6} className="fill-ink text-note">
              the show's hours
            </text>
          </>
        )}
        <Grid top={top} low={low} high={high} x={x} y={y} width={WIDTH} />
        {samples.map((sample, i) => (
          <g key={i} transform={`translate(${x(wall(sample.at).minutes)} ${y(sample.up_mbps)})`}>
            <Shape kind={days.indexOf(wall(sample.at).day)} hollow={sample.conditions === "empty"} />
            {labels[i] && (
              <text
                x={labels[i].x}
                y={labels[i].y}
                textAnchor={labels[i].anchor}
                className="fill-ink font-mono text-note"
              >
                {shown(sample.up_mbps)}
              </text>
            )}
          </g>
        ))}
      </svg>
      <figcaption className="margin-note flex flex-wrap gap-x-4">
        {days.map((day, i) => (
          <span key={day} className="inline-flex items-center gap-1">
            <svg width="14" height="14" viewBox="-7 -7 14 14" aria-hidden>
              <Shape kind={i} hollow={false} />
            </svg>
            {day}
          </span>
        ))}
        <span>hollow: building empty</span>
      </figcaption>
    </figure>
  );
}

/** The lines of Mb/s, and the hours below them. */
function Grid(props: {
  top: number;
  low: number;
  high: number;
  x: (minutes: number) => number;
  y: (mbps: number) => number;
  width: number;
}) {
  const { top, low, high, x, y, width: WIDTH } = props;
  const step = chartStep(top);
  const lines = Array.from({ length: Math.floor(top / step) + 1 }, (_, i) => i * step);
  const ticks = Array.from({ length: (high - low) / 60 + 1 }, (_, i) => low + i * 60);
  return (
    <>
      {lines.map((mbps) => (
        <g key={mbps}>
          <line
            x1={LEFT}
            x2={WIDTH - RIGHT}
            y1={y(mbps)}
            y2={y(mbps)}
            stroke="var(--rule)"
            strokeWidth={mbps ? 0.6 : 1.2}
          />
          <text x={LEFT - 6} y={y(mbps) + 4} textAnchor="end" className="fill-faint font-mono text-note">
            {mbps}
          </text>
        </g>
      ))}
      <text x={4} y={TOP} className="fill-faint text-note">
        Mb/s
      </text>
      {ticks.map((minutes) => (
        <text
          key={minutes}
          x={x(minutes)}
          y={HEIGHT - 8}
          textAnchor="middle"
          className="fill-faint font-mono text-note"
        >
          {String(Math.floor(minutes / 60) % 24).padStart(2, "0")}:00
        </text>
      ))}
    </>
  );
}

function Shape({ kind, hollow }: { kind: number; hollow: boolean }) {
  const fill = hollow ? "var(--sheet)" : "var(--ink)";
  const path = ["M-4-4H4V4H-4Z", "M0-5.5 5 4H-5Z", "M0-5.5 5.5 0 0 5.5-5.5 0Z"][kind % 4];
  return path ? (
    <path d={path} fill={fill} stroke="var(--ink)" strokeWidth="1.3" />
  ) : (
    <circle r="4.3" fill={fill} stroke="var(--ink)" strokeWidth="1.3" />
  );
}

type Anchor = "middle" | "start" | "end";
const SIDES: { x: number; y: number; anchor: Anchor; left: number }[] = [
  { x: 0, y: -8, anchor: "middle", left: -14 },
  { x: 8, y: 4, anchor: "start", left: 8 },
  { x: -8, y: 4, anchor: "end", left: -36 },
  { x: 0, y: 16, anchor: "middle", left: -14 },
];

/** For each point the first side where its figure covers no other; a figure with no room is left to the table. */
function placeLabels(points: [number, number][]) {
  const taken = points.map(([px, py]) => ({ left: px - 5, top: py - 5, width: 10, height: 10 }));
  return points.map(([px, py]) => {
    for (const side of SIDES) {
      const box = { left: px + side.left, top: py + side.y - 10, width: 28, height: 11 };
      const clash = taken.some(
        (t) =>
          box.left < t.left + t.width &&
          t.left < box.left + box.width &&
          box.top < t.top + t.height &&
          t.top < box.top + box.height,
      );
      if (clash) continue;
      taken.push(box);
      return side;
    }
    return undefined;
  });
}
