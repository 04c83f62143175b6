import type { Schemas } from "../api/client";
import { useWidth } from "../parts/useWidth";

const [PAD, TOP, HEIGHT, CHARACTER] = [8, 22, 16, 8.6];

/** A subnet in one line: its pool, its gateway, and each address by what is its own in it; what is in conflict is doubled, and what is
 * picked is named. */
export function AddressRuler({ strip, lit }: { strip: Schemas["Strip"]; lit: readonly string[] }) {
  const [drawing, WIDTH] = useWidth<SVGSVGElement>(300);
  if (!strip.size)
    return <p className="margin-note">Write its range, such as 192.168.20.0/24, in the pane.</p>;
  const x = (at: number) => PAD + at * (WIDTH - 2 * PAD);
  const marks = strip.marks
    .filter((m) => m.at !== null && m.at !== undefined)
    .sort((a, b) => (a.at as number) - (b.at as number));
  return (
    <svg ref={drawing} viewBox={`0 0 ${WIDTH} 44`} className="block w-full" role="img">
      <title>{`${strip.name}: ${strip.range}, pool ${strip.pool_label || "not given"}; ${marks.map((m) => `${m.address} ${m.name}`).join(", ")}`}</title>
      <defs>
        <pattern id={`ruler-${strip.network}`} width="6" height="6" patternUnits="userSpaceOnUse">
          <circle cx="2" cy="2" r="1" fill="var(--faint)" />
        </pattern>
      </defs>
      <rect x={x(0)} y={TOP} width={x(1) - x(0)} height={HEIGHT} fill="var(--sheet)" stroke="var(--ink)" />
      {strip.pool_from !== null && strip.pool_to !== null && (
        <rect
          x={x(strip.pool_from)}
          y={TOP}
          width={x(strip.pool_to) - x(strip.pool_from)}
          height={HEIGHT}
          fill={`url(#ruler-${strip.network})`}
          stroke="var(--faint)"
        />
      )}
      {strip.gateway !== null && strip.gateway !== undefined && (
        <path d={`M${x(strip.gateway)} ${TOP}v${HEIGHT}`} stroke="var(--ink)" strokeWidth="4" />
      )}
      {marks.map((mark) => {
        const [at, on] = [x(mark.at as number), isLit(mark, lit)];
        return (
          <g key={mark.ref}>
            <path
              d={`M${at} ${TOP - 3}v${HEIGHT + 6}`}
              stroke={mark.troubled || on ? "var(--accent)" : "var(--ink)"}
              strokeWidth={mark.troubled ? 5 : on ? 3.5 : 1.6}
            />
            {mark.troubled && (
              <path d={`M${at} ${TOP - 3}v${HEIGHT + 6}`} stroke="var(--sheet)" strokeWidth="1.4" />
            )}
          </g>
        );
      })}
      <text x={WIDTH - PAD} y={15} textAnchor="end" className="fill-accent text-small font-semibold">
        {marks
          .filter((mark) => isLit(mark, lit))
          .map((mark) => `${lastOf(mark)} ${mark.name}`)
          .join(", ")}
      </text>
      {grouped(marks, x, WIDTH).map(({ left, text, heavy }) => (
        <text
          key={text}
          x={left}
          y={15}
          className={`font-mono text-head ${heavy ? "fill-accent font-semibold" : "fill-ink"}`}
        >
          {text}
        </text>
      ))}
    </svg>
  );
}

/** The octets that are an address's own; where they stand too close for room they are one group. */
function grouped(marks: Schemas["Mark"][], x: (at: number) => number, width: number) {
  const groups: { left: number; text: string; heavy: boolean }[] = [];
  for (const mark of marks) {
    const left = x(mark.at as number) - 10;
    const last = groups.at(-1);
    if (last && left < last.left + last.text.length * CHARACTER + 6) last.text += ` ${lastOf(mark).slice(1)}`;
    else groups.push({ left, text: lastOf(mark), heavy: false });
    const group = groups.at(-1);
    if (group) group.heavy ||= mark.troubled;
  }
  return groups.map((g) => ({
    ...g,
    left: Math.max(0, Math.min(g.left, width - g.text.length * CHARACTER)),
  }));
}

const lastOf = (mark: Schemas["Mark"]) => mark.address.slice(mark.address.lastIndexOf("."));

const isLit = (mark: Schemas["Mark"], lit: readonly string[]) => lit.includes(mark.ref.split("/")[0] ?? "");
