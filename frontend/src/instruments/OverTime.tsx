import type { Schemas } from "../api/client";
import { chartStep, shown, wall } from "../parts/numbers";
import { useWidth } from "../parts/useWidth";

const HEIGHT = 130;
const LEFT = 44;
const RIGHT = 28;
const BOTTOM = 26;
const TOP = 12;

/** Every measurement by the day it was taken, up to the show: whether the line grew better or worse. */
export function OverTime({ samples, startsAt }: { samples: Schemas["Sample"][]; startsAt: string | null }) {
  const [drawing, WIDTH] = useWidth<SVGSVGElement>(340);
  const times = samples.map((s) => Date.parse(s.at));
  const show = startsAt ? Date.parse(startsAt) : null;
  const first = Math.min(...times, ...(show === null ? [] : [show]));
  const last = Math.max(...times, ...(show === null ? [] : [show]), first + 1);
  const top = Math.max(1, ...samples.map((s) => s.up_mbps)) * 1.1;
  const x = (at: number) => LEFT + ((at - first) / (last - first)) * (WIDTH - LEFT - RIGHT);
  const y = (mbps: number) => HEIGHT - BOTTOM - (mbps / top) * (HEIGHT - BOTTOM - TOP);
  const step = chartStep(top);
  const lines = Array.from({ length: Math.floor(top / step) + 1 }, (_, i) => i * step);
  const ends = [samples[0], samples.at(-1)].filter((s) => s !== undefined);
  return (
    <figure>
      <svg ref={drawing} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="block w-full" role="img">
        <title>Measured upload over the days up to the show; the table below lists every measurement</title>
        {lines.map((mbps) => (
          <g key={mbps}>
            <line
              x1={LEFT}
              x2={WIDTH - RIGHT}
              y1={y(mbps)}
              y2={y(mbps)}
              stroke="var(--rule)"
              strokeWidth={0.6}
            />
            <text x={LEFT - 6} y={y(mbps) + 4} textAnchor="end" className="fill-faint font-mono text-note">
              {shown(mbps)}
            </text>
          </g>
        ))}
        {show !== null && (
          <g>
            <line
              x1={x(show)}
              x2={x(show)}
              y1={TOP}
              y2={HEIGHT - BOTTOM}
              stroke="var(--accent)"
              strokeWidth={1.4}
              strokeDasharray="5 3"
            />
            <text x={x(show) - 4} y={TOP + 10} textAnchor="end" className="fill-accent text-note">
              the show
            </text>
          </g>
        )}
        {samples.map((sample, i) => (
          <circle
            key={i}
            cx={x(times[i] ?? first)}
            cy={y(sample.up_mbps)}
            r={sample.in_show_hours ? 4 : 2.6}
            fill={sample.conditions === "empty" ? "var(--sheet)" : "var(--ink)"}
            stroke="var(--ink)"
          />
        ))}
        {ends.map((sample, i) => (
          <text
            key={sample.at}
            x={i ? Math.min(WIDTH - RIGHT, x(Date.parse(sample.at)) + 30) : LEFT}
            y={HEIGHT - 8}
            textAnchor={i ? "end" : "start"}
            className="fill-faint text-note"
          >
            {wall(sample.at).day}
          </text>
        ))}
      </svg>
      <figcaption className="margin-note">
        Upload in Mb/s, day by day; a large mark: in the show's hours; hollow: building empty.
      </figcaption>
    </figure>
  );
}
