import type { Schemas } from "../api/client";
import { useWidth } from "../parts/useWidth";

const PAD = 8;

type Strip = Schemas["Strip"];
type Along = (at: number) => number;

/** Where each name stands: from the right, so that it is clear of the stems that go down past it. */
function named(strip: Strip, x: Along, WIDTH: number) {
  const placed = strip.marks
    .filter((m) => m.at !== null && m.at !== undefined)
    .sort((a, b) => (b.at as number) - (a.at as number));
  const levels: number[] = [];
  const rows = placed.map((mark) => {
    const width = (mark.address.length + mark.name.length) * 6.8 + 18;
    const left = Math.min(x(mark.at as number), WIDTH - width);
    const level = levels.findIndex((start) => left + width < start);
    const row = level === -1 ? levels.length : level;
    levels[row] = left;
    return { mark, row, left };
  });
  return { rows, levels: levels.length };
}

/** A subnet as a ruler: its pool, its gateway, and every address with its owner. */
export function AddressStrip({ strip }: { strip: Strip }) {
  const [drawing, WIDTH] = useWidth<SVGSVGElement>(340);
  if (!strip.size)
    return (
      <p className="margin-note">
        Write the network's range, such as 192.168.20.0/24, to see its addresses on a ruler.
      </p>
    );
  const x = (at: number) => PAD + at * (WIDTH - 2 * PAD);
  const { rows, levels } = named(strip, x, WIDTH);
  const height = 66 + levels * 20;
  return (
    <figure>
      <svg ref={drawing} viewBox={`0 0 ${WIDTH} ${height}`} className="block w-full" role="img">
        <title>{`${strip.name}: ${strip.range}, pool ${strip.pool_label || "not given"}, ${strip.marks.length} devices; listed in the table below`}</title>
        <defs>
          <pattern id={`pool-${strip.network}`} width="6" height="6" patternUnits="userSpaceOnUse">
            <circle cx="2" cy="2" r="1" fill="var(--faint)" />
          </pattern>
        </defs>
        <text x={x(0)} y={12} className="fill-faint font-mono text-note">
          {strip.first}
        </text>
        <text x={x(1)} y={12} textAnchor="end" className="fill-faint font-mono text-note">
          {strip.last}
        </text>
        <rect x={x(0)} y={20} width={x(1) - x(0)} height={22} fill="var(--sheet)" stroke="var(--ink)" />
        {Array.from({ length: 15 }, (_, i) => (i + 1) / 16).map((at) => (
          <line
            key={at}
            x1={x(at)}
            x2={x(at)}
            y1={20}
            y2={at % 0.25 === 0 ? 30 : 25}
            stroke="var(--ink)"
            strokeWidth="0.8"
          />
        ))}
        <Pool strip={strip} x={x} width={WIDTH} />
        <Gateway at={strip.gateway} x={x} />
        {rows.map(({ mark, row }) => {
          const bad = mark.troubled;
          const at = x(mark.at as number);
          return (
            <line
              key={mark.ref}
              x1={at}
              x2={at}
              y1={20}
              y2={56 + row * 20}
              stroke={bad ? "var(--accent)" : "var(--ink)"}
              strokeWidth={bad ? 2.5 : 1.2}
            />
          );
        })}
        {rows.map(({ mark, row, left }) => {
          const bad = mark.troubled;
          return (
            <text
              key={mark.ref}
              x={left + 4}
              y={60 + row * 20}
              className={`text-note ${bad ? "fill-accent font-semibold" : "fill-ink"}`}
              paintOrder="stroke"
              stroke="var(--paper)"
              strokeWidth="4"
            >
              <tspan className="font-mono">{mark.address}</tspan> {mark.name}
              {bad ? " (in conflict)" : ""}
            </text>
          );
        })}
      </svg>
    </figure>
  );
}

function Pool({ strip, x, width: WIDTH }: { strip: Strip; x: Along; width: number }) {
  if (strip.pool_from == null || strip.pool_to == null) return null;
  // The pool's label stands clear of the first and the last address of the range.
  const poolLabel = WIDTH < 640 ? "pool" : `DHCP pool ${strip.pool_label}`;
  const clear = 16 + 7.4 * Math.max(strip.first.length, strip.last.length) + 3.4 * poolLabel.length;
  return (
    <>
      <rect
        x={x(strip.pool_from)}
        y={20}
        width={x(strip.pool_to) - x(strip.pool_from)}
        height={22}
        fill={`url(#pool-${strip.network})`}
        stroke="var(--faint)"
      />
      <text
        x={Math.min(Math.max((x(strip.pool_from) + x(strip.pool_to)) / 2, clear), WIDTH - clear)}
        y={12}
        textAnchor="middle"
        className="fill-ink text-note"
      >
        {poolLabel}
      </text>
    </>
  );
}

function Gateway({ at, x }: { at: number | null | undefined; x: Along }) {
  if (at == null) return null;
  return (
    <>
      <path d={`M${x(at)} 20v22`} stroke="var(--ink)" strokeWidth="4" />
      <text
        x={Math.max(x(at) + 5, 14)}
        y={36}
        className="fill-ink text-note"
        paintOrder="stroke"
        stroke="var(--sheet)"
        strokeWidth="4"
      >
        gateway
      </text>
    </>
  );
}
