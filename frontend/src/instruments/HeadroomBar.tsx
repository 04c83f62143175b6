import { useRef } from "react";
import type { Schemas } from "../api/client";
import { set } from "../api/edits";
import { useEdits } from "../api/plan";
import { shown } from "../parts/numbers";
import { useWidth } from "../parts/useWidth";

type Uplink = Schemas["UplinkView"];

/** Where on the width of every row stands what the chosen headroom rule allows: whatever crosses it is over. */
const ALLOWED_AT = 0.58;
const [STALKS, BAR, BAR_HEIGHT, NAMES, NAME_ROW] = [30, 36, 22, 72, 14];

/** One uplink: each measurement a stalk, each stream a named share, scaled so that what its rule allows stands where it does on every
 * other row. */
export function HeadroomBar({ uplink }: { uplink: Uplink }) {
  const [drawing, WIDTH] = useWidth<SVGSVGElement>(300);
  const { upload, needed_mbps: needed } = uplink;
  const allowed = uplink.schools.find((s) => s.school === upload.chosen)?.mbps ?? null;
  const scale = (ALLOWED_AT * WIDTH) / Math.max(0.1, allowed ?? needed * 1.25);
  const x = (mbps: number) => mbps * scale;
  const names = named(uplink, x, WIDTH);
  const height = NAMES + names.rows * NAME_ROW + 16;
  const most = WIDTH / scale;
  const step = [0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500].find((s) => most / s <= WIDTH / 70) ?? 1000;
  const ticks = Array.from({ length: Math.floor(most / step) + 1 }, (_, i) => i * step);
  const beyond = upload.samples.filter((s) => s.up_mbps > most).length;
  return (
    <svg ref={drawing} viewBox={`0 0 ${WIDTH} ${height}`} className="block w-full select-none" role="img">
      <title>{`${upload.name}: asked ${shown(uplink.asked.value)} Mb/s, measured ${upload.lowest_mbps ?? "nothing"} to ${upload.highest_mbps ?? "nothing"} Mb/s, ${allowed === null ? "nothing allowed yet" : `${shown(allowed)} Mb/s allowed`}`}</title>
      <defs>
        <pattern id="others" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line y2="5" stroke="var(--ink)" strokeWidth="1.2" />
        </pattern>
      </defs>
      {ticks.map((mbps) => (
        <text
          key={mbps}
          x={x(mbps)}
          y={height - 4}
          data-tick={mbps}
          textAnchor={mbps ? (x(mbps) > WIDTH - 20 ? "end" : "middle") : "start"}
          className="fill-faint font-mono text-note"
        >
          {mbps ? mbps : "0 Mb/s"}
        </text>
      ))}
      <Stalks uplink={uplink} x={x} most={most} />
      {beyond > 0 && WIDTH > 520 && (
        <text x={WIDTH} y={BAR + 15} textAnchor="end" className="fill-faint text-note">
          {beyond} more, to {shown(upload.highest_mbps ?? 0)} ›
        </text>
      )}
      <line x1={0} x2={WIDTH} y1={STALKS} y2={STALKS} stroke="var(--ink)" strokeWidth="0.8" />
      <Shares uplink={uplink} x={x} over={allowed ?? Number.POSITIVE_INFINITY} />
      {names.placed.map(({ name, at, left, row }) => (
        <g key={name}>
          <path d={`M${at} ${BAR + BAR_HEIGHT}V${NAMES + row * NAME_ROW - 4}`} stroke="var(--faint)" />
          <text x={left + 3} y={NAMES + row * NAME_ROW} className="fill-ink text-note">
            {name}
          </text>
        </g>
      ))}
      {allowed !== null && (
        <>
          <path d={`M${x(allowed)} 4V${BAR + BAR_HEIGHT + 6}`} stroke="var(--ink)" strokeWidth="3" />
          <text
            x={x(allowed) + 7}
            y={BAR + 15}
            className="fill-ink text-note"
            paintOrder="stroke"
            stroke="var(--paper)"
            strokeWidth="4"
          >
            <tspan className="font-mono font-semibold">{shown(allowed)}</tspan> Mb/s allowed
          </text>
        </>
      )}
    </svg>
  );
}

/** The measurements: short of what is asked they are heavy. */
function Stalks({ uplink, x, most }: { uplink: Uplink; x: (mbps: number) => number; most: number }) {
  const { upload } = uplink;
  return upload.samples.map((sample, i) => {
    const short = uplink.too_low[i];
    const ink = short ? "var(--accent)" : "var(--ink)";
    const hollow = sample.conditions === "empty" || upload.reckoned;
    if (sample.up_mbps > most) return null;
    return (
      <g key={i} transform={`translate(${x(sample.up_mbps)} ${STALKS})`}>
        <line y1={-16} y2={0} stroke={ink} strokeWidth={short ? 2.4 : 1.3} />
        <circle
          cy={-18}
          r={sample.in_show_hours ? 4 : 2.6}
          fill={hollow ? "var(--sheet)" : ink}
          stroke={ink}
        />
      </g>
    );
  });
}

/** What others take and what each stream takes; the end of a share is dragged to change its bitrate. What is over is struck through. */
function Shares({ uplink, x, over }: { uplink: Uplink; x: (mbps: number) => number; over: number }) {
  const { edit, preview } = useEdits();
  const held = useRef<{ stream: string; from: number; start: number; perPixel: number } | null>(null);
  let from = uplink.upload.others_mbps;
  const parts = uplink.loads.map((load) => {
    const part = { load, from, to: from + load.total.value };
    from = part.to;
    return part;
  });
  /** The bitrate that a share dragged to here stands for, in halves of a Mb/s. */
  const dragged = (event: React.PointerEvent) => {
    const drag = held.current;
    if (!drag) return null;
    const mbps = drag.start + (event.clientX - drag.from) * drag.perPixel;
    return [set("link", drag.stream, "video_mbps", Math.max(0.5, Math.round(mbps * 2) / 2))];
  };
  const hold = (event: React.PointerEvent<SVGRectElement>, load: Schemas["Load"]) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    held.current = {
      stream: load.stream,
      from: event.clientX,
      start: load.video_mbps,
      perPixel: load.video_mbps / load.total.value / x(1),
    };
  };
  return (
    <>
      <rect
        x={0}
        y={BAR}
        width={x(uplink.upload.others_mbps)}
        height={BAR_HEIGHT}
        fill="url(#others)"
        stroke="var(--ink)"
      />
      {parts.map(({ load, from: a, to }, i) => (
        <rect
          key={load.stream}
          x={x(a)}
          y={BAR}
          width={x(to) - x(a)}
          height={BAR_HEIGHT}
          fill={i % 2 ? "var(--wash)" : "var(--rule)"}
          stroke="var(--ink)"
        />
      ))}
      {from > over && (
        <rect x={x(over)} y={BAR + 8} width={x(from) - x(over)} height={6} fill="var(--accent)" />
      )}
      {parts.map(({ load, to }) => (
        <rect
          key={`end of ${load.stream}`}
          x={x(to) - 5}
          y={BAR - 4}
          width={10}
          height={BAR_HEIGHT + 8}
          fill="transparent"
          className="cursor-ew-resize touch-none"
          data-drag={load.stream}
          onPointerDown={(event) => hold(event, load)}
          onPointerMove={(event) => {
            const now = dragged(event);
            if (now) preview(now);
          }}
          onPointerUp={(event) => {
            const now = dragged(event);
            held.current = null;
            if (now) void edit(now);
          }}
          onPointerCancel={() => {
            held.current = null;
            preview(null);
          }}
        >
          <title>{`Drag: bitrate of ${load.name}`}</title>
        </rect>
      ))}
    </>
  );
}

/** Every share's name under it, in as many lines as keep them apart; from the right, so that no stem runs through a name. */
function named(uplink: Uplink, x: (mbps: number) => number, width: number) {
  const starts: number[] = [];
  let from = uplink.upload.others_mbps;
  const shares = uplink.loads.map((load) => {
    const middle = from + load.total.value / 2;
    from += load.total.value;
    return { name: load.name, at: middle };
  });
  if (uplink.upload.others_mbps > 0) shares.unshift({ name: "others", at: uplink.upload.others_mbps / 2 });
  const placed = shares.toReversed().map(({ name, at }) => {
    const long = name.length * 6.3 + 8;
    const left = Math.max(0, Math.min(x(at), width - long));
    const free = starts.findIndex((start) => left + long <= start);
    const row = free === -1 ? starts.length : free;
    starts[row] = left;
    return { name, at: x(at), left, row };
  });
  return { placed, rows: starts.length };
}
