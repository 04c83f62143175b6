import { useRef } from "react";
import type { Schemas } from "../api/client";
import { set } from "../api/edits";
import { useEdits } from "../api/plan";
import { shown } from "../parts/numbers";
import { useWidth } from "../parts/useWidth";

const LEFT = 150;
const RIGHT = 30;

/** Measured upload, what is asked of it, and what each headroom rule would allow, on one axis. */
export function HeadroomBar({ uplink, selected }: { uplink: Schemas["UplinkView"]; selected: boolean }) {
  const { edit, preview } = useEdits();
  const held = useRef<{ stream: string; from: number; start: number; ratio: number; scale: number } | null>(
    null,
  );
  const [drawing, WIDTH] = useWidth<SVGSVGElement>(340);
  const { upload, loads, asked, schools, needed_mbps: edge } = uplink;
  const top = Math.max(1, edge, upload.highest_mbps ?? 0, ...schools.map((school) => school.mbps)) * 1.06;
  const x = (mbps: number) => LEFT + (mbps / top) * (WIDTH - LEFT - RIGHT);
  const step = [0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500].find((s) => top / s <= (WIDTH - LEFT) / 58) ?? 1000;
  const ticks = Array.from({ length: Math.floor(top / step) + 1 }, (_, i) => i * step);
  const schoolsTop = 112;
  const height = schoolsTop + schools.length * 24 + 26;
  let from = upload.others_mbps;
  const parts = loads.map((load, i) => {
    const part = { load, from, to: from + load.total.value, i };
    from = part.to;
    return part;
  });
  /** The bitrate that a share dragged to here stands for, in halves of a Mb/s. */
  const dragged = (event: React.PointerEvent) => {
    const drag = held.current;
    if (!drag) return null;
    const mbps = drag.start + ((event.clientX - drag.from) * drag.scale) / drag.ratio;
    return {
      stream: drag.stream,
      edits: [set("link", drag.stream, "video_mbps", Math.max(0.5, Math.round(mbps * 2) / 2))],
    };
  };
  const hold = (event: React.PointerEvent<SVGRectElement>, load: Schemas["Load"]) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    const drawn = event.currentTarget.ownerSVGElement?.getBoundingClientRect().width ?? WIDTH;
    held.current = {
      stream: load.stream,
      from: event.clientX,
      start: load.video_mbps,
      ratio: load.total.value / load.video_mbps,
      scale: ((WIDTH / drawn) * top) / (WIDTH - LEFT - RIGHT),
    };
  };
  return (
    <figure className={selected ? "outline-accent outline-2 outline-offset-4" : ""}>
      <svg ref={drawing} viewBox={`0 0 ${WIDTH} ${height}`} className="block w-full select-none" role="img">
        <title>{`${upload.name}: asked ${shown(asked.value)} Mb/s, measured ${upload.lowest_mbps ?? "nothing"} to ${upload.highest_mbps ?? "nothing"} Mb/s; the table below gives every figure`}</title>
        <defs>
          <pattern
            id="others"
            width="5"
            height="5"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <line y2="5" stroke="var(--ink)" strokeWidth="1.2" />
          </pattern>
        </defs>
        {ticks.map((mbps) => (
          <g key={mbps}>
            <line x1={x(mbps)} x2={x(mbps)} y1={14} y2={height - 20} stroke="var(--rule)" strokeWidth={0.6} />
            <text x={x(mbps)} y={height - 6} textAnchor="middle" className="fill-faint font-mono text-[12px]">
              {mbps}
            </text>
          </g>
        ))}
        <text x={WIDTH - RIGHT + 4} y={height - 6} className="fill-faint text-[12px]">
          Mb/s
        </text>
        <text x={0} y={36} className="fill-ink text-[13px]">
          {upload.reckoned ? "Reckoned" : "Measured"}
        </text>
        <line x1={x(0)} x2={WIDTH - RIGHT} y1={42} y2={42} stroke="var(--ink)" strokeWidth="0.8" />
        {upload.samples.map((sample, i) => {
          const short = uplink.too_low[i];
          return (
            <g key={i} transform={`translate(${x(sample.up_mbps)} 42)`}>
              <line
                y1={-16}
                y2={0}
                stroke={short ? "var(--accent)" : "var(--ink)"}
                strokeWidth={short ? 2.4 : 1.3}
              />
              <circle
                cy={-18}
                r={sample.in_show_hours ? 4 : 2.6}
                fill={
                  sample.conditions === "empty" || upload.reckoned
                    ? "var(--sheet)"
                    : short
                      ? "var(--accent)"
                      : "var(--ink)"
                }
                stroke={short ? "var(--accent)" : "var(--ink)"}
              />
            </g>
          );
        })}
        <text x={0} y={76} className="fill-ink text-[13px]">
          Asked of it
        </text>
        <rect
          x={x(0)}
          y={60}
          width={Math.max(0, x(upload.others_mbps) - x(0))}
          height={24}
          fill="url(#others)"
          stroke="var(--ink)"
        />
        {parts.map(({ load, from: a, to, i }) => (
          <g key={load.stream}>
            <rect
              x={x(a)}
              y={60}
              width={x(to) - x(a)}
              height={24}
              fill={i % 2 ? "var(--wash)" : "var(--rule)"}
              stroke="var(--ink)"
            />
            {x(to) - x(a) > load.name.length * 6.6 && (
              <text x={x(a) + 6} y={76} className="fill-ink text-[12px]">
                {load.name}
              </text>
            )}
          </g>
        ))}
        {parts.map(({ load, to }) => (
          <rect
            key={`end of ${load.stream}`}
            x={x(to) - 5}
            y={56}
            width={10}
            height={32}
            fill="transparent"
            className="cursor-ew-resize touch-none"
            data-drag={load.stream}
            onPointerDown={(event) => hold(event, load)}
            onPointerMove={(event) => {
              const now = dragged(event);
              if (now) preview(now.edits);
            }}
            onPointerUp={(event) => {
              const now = dragged(event);
              held.current = null;
              if (now) void edit(now.edits);
            }}
            onPointerCancel={() => {
              held.current = null;
              preview(null);
            }}
          >
            <title>{`Drag: bitrate of ${load.name}`}</title>
          </rect>
        ))}
        <line
          x1={x(edge)}
          x2={x(edge)}
          y1={18}
          y2={height - 20}
          stroke="var(--accent)"
          strokeWidth="1.4"
          strokeDasharray="5 3"
        />
        <text x={x(edge) + 5} y={99} className="fill-accent font-mono text-[12px]">
          {shown(edge)}
        </text>
        {schools.map((school, i) => {
          const at = schoolsTop + i * 24;
          const chosen = school.school === upload.chosen;
          const value = school.mbps;
          return (
            <g key={school.school}>
              <text x={0} y={at + 4} className={`fill-ink text-[13px] ${chosen ? "font-semibold" : ""}`}>
                {chosen ? "› " : ""}
                {school.name}
              </text>
              <line
                x1={x(0)}
                x2={x(value)}
                y1={at}
                y2={at}
                stroke="var(--ink)"
                strokeWidth={chosen ? 3.5 : 1.2}
              />
              <line
                x1={x(value)}
                x2={x(value)}
                y1={at - 6}
                y2={at + 6}
                stroke="var(--ink)"
                strokeWidth={chosen ? 3.5 : 1.5}
              />
              <text
                x={Math.min(x(value) + 6, WIDTH - 96)}
                y={at + 4}
                className={`fill-ink font-mono text-[12px] ${chosen ? "font-semibold" : ""}`}
                paintOrder="stroke"
                stroke="var(--paper)"
                strokeWidth="4"
              >
                {shown(value)} {school.fits ? "fits" : "too little"}
              </text>
            </g>
          );
        })}
      </svg>
      <figcaption className="margin-note">
        {upload.reckoned
          ? "Each stalk is a tenth of the minutes, reckoned from the parts: nobody measured it as one. "
          : "Each stalk is one measurement; a large head: taken in the show's hours; hollow: building empty. "}
        Dashed: all that is asked. Drag the right end of a share to change its bitrate.
      </figcaption>
    </figure>
  );
}
