import { type KeyboardEvent, type PointerEvent, useState } from "react";
import type { Schemas } from "../api/client";
import { set } from "../api/edits";
import { useEdits } from "../api/plan";
import { useWidth } from "../parts/useWidth";

type Ground = Schemas["Ground"];
type Spot = Schemas["Spot"];
type Way = Schemas["Between"];

const HIGH = 250;
const EDGE = 30;
/** About how wide a letter is, and how high a line, in px. */
const [LETTER, LINE] = [7.2, 16];
const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowRight: [1, 0],
  ArrowLeft: [-1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

const named = (s: Spot) => (s.floor ? `${s.name}, floor ${s.floor}` : s.name);

/** Where each name is written: beside its spot, or above or below it, where it covers least of what is there. */
function placed(spots: readonly { id: string; words: string; x: number; y: number }[], wide: number) {
  const taken = spots.map(({ x, y }) => [x - 6, y - 6, x + 6, y + 6] as const);
  const found = new Map<string, { x: number; y: number }>();
  for (const { id, words, x, y } of spots) {
    const length = words.length * LETTER;
    const tries = [
      [x + 10, y + 4],
      [x - 10 - length, y + 4],
      [x - length / 2, y - 12],
      [x - length / 2, y + 22],
      [x + 10, y - 12],
      [x + 10, y + 22],
    ] as const;
    const covered = tries.map(([left, base]) => {
      const [top, right] = [base - LINE + 4, left + length];
      const off = Math.max(0, -left) + Math.max(0, right - wide);
      const over = taken.map(
        ([l, t, r, b]) =>
          Math.max(0, Math.min(right, r) - Math.max(left, l)) *
          Math.max(0, Math.min(base + 4, b) - Math.max(top, t)),
      );
      return off * LINE + over.reduce((sum, area) => sum + area, 0);
    });
    const best = tries[covered.indexOf(Math.min(...covered))] ?? tries[0];
    taken.push([best[0], best[1] - LINE + 4, best[0] + length, best[1] + 4]);
    found.set(id, { x: best[0], y: best[1] });
  }
  return found;
}

/** The scale at which all spots of a site fit. It stays while a place is moved: it must not run away from the pointer. */
function toScale(spots: readonly Spot[], WIDE: number) {
  const xs = spots.map((s) => s.x_m);
  const ys = spots.map((s) => s.y_m);
  const [west, east, south, north] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const scale = Math.min(
    (WIDE - 2 * EDGE) / Math.max(east - west, 5),
    (HIGH - 2 * EDGE) / Math.max(north - south, 5),
  );
  const [left, bottom] = [
    (WIDE - (east - west) * scale) / 2 - west * scale,
    (HIGH + (north - south) * scale) / 2 + south * scale,
  ];
  const bar = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000].find((m) => m * scale >= 50) ?? 10000;
  return { left, bottom, scale, bar };
}

/** How long some round number of metres is in the drawing. */
function ScaleBar({ bar, scale }: { bar: number; scale: number }) {
  return (
    <>
      <g aria-hidden stroke="var(--ink)">
        <line x1={12} y1={HIGH - 14} x2={12 + bar * scale} y2={HIGH - 14} strokeWidth="2" />
        <line x1={12} y1={HIGH - 19} x2={12} y2={HIGH - 9} />
        <line x1={12 + bar * scale} y1={HIGH - 19} x2={12 + bar * scale} y2={HIGH - 9} />
      </g>
      <text x={18 + bar * scale} y={HIGH - 9} className="fill-faint text-note">
        {bar} m
      </text>
    </>
  );
}

/** A site drawn to scale, as far as positions are known. Moving a place moves what is reckoned from where it is. */
export function GroundPlan({ ground, ways }: { ground: Ground; ways: readonly Way[] }) {
  const { edit, preview } = useEdits();
  const [drawing, WIDE] = useWidth<SVGSVGElement>(240);
  const [moved, setMoved] = useState<Spot | null>(null);
  const { spots } = ground;
  const shown = spots.map((s) => (moved?.place === s.place ? moved : s));
  const { left, bottom, scale, bar } = toScale(spots, WIDE);
  const at = (s: Spot) => ({ x: left + s.x_m * scale, y: bottom - s.y_m * scale });
  const edits = (s: Spot) => [set("place", s.place, "x_m", s.x_m), set("place", s.place, "y_m", s.y_m)];
  const move = (event: PointerEvent, spot: Spot) => {
    const box = drawing.current?.getBoundingClientRect();
    if (!box) return;
    const x_m = Math.round((event.clientX - box.left - left) / scale);
    const y_m = Math.round((bottom - (event.clientY - box.top)) / scale);
    if (x_m === moved?.x_m && y_m === moved?.y_m) return;
    setMoved({ ...spot, x_m, y_m });
    preview(edits({ ...spot, x_m, y_m }));
  };
  const drop = () => {
    const was = spots.find((s) => s.place === moved?.place);
    if (moved && was && (was.x_m !== moved.x_m || was.y_m !== moved.y_m))
      void edit(edits(moved), `moved ${moved.name}`).then(() => setMoved(null));
    else setMoved(null);
  };
  const step = (event: KeyboardEvent, spot: Spot) => {
    const [dx, dy] = ARROWS[event.key] ?? [0, 0];
    if (!dx && !dy) return;
    event.preventDefault();
    const far = event.shiftKey ? 10 : 1;
    void edit(edits({ ...spot, x_m: spot.x_m + dx * far, y_m: spot.y_m + dy * far }), `moved ${spot.name}`);
  };
  const labels = placed(
    shown.map((s) => ({ id: s.place, words: named(s), ...at(s) })),
    WIDE,
  );
  const spotOf = new Map(shown.map((s) => [s.place, s]));
  return (
    <figure className="min-w-0">
      <svg
        ref={drawing}
        height={HIGH}
        className="border-rule block w-full touch-none border"
        role="group"
        aria-label={`${ground.name}, drawn to scale`}
      >
        {ways.map((way) => {
          const [a, b] = [spotOf.get(way.a), spotOf.get(way.b)];
          if (!way.said || !a || !b) return null;
          const [from, to] = [at(a), at(b)];
          return (
            <line
              key={way.span}
              x1={from.x}
              y1={from.y}
              x2={to.x}
              y2={to.y}
              stroke="var(--faint)"
              strokeDasharray="2 4"
            />
          );
        })}
        {shown.map((spot) => {
          const { x, y } = at(spot);
          const label = labels.get(spot.place) ?? { x: x + 10, y: y + 4 };
          return (
            <g
              key={spot.place}
              role="button"
              tabIndex={0}
              aria-label={`${named(spot)}: ${spot.x_m} m east, ${spot.y_m} m north; arrow keys move it by 1 m, with Shift by 10 m`}
              className="spot cursor-grab"
              onPointerDown={(event) => {
                event.currentTarget.setPointerCapture(event.pointerId);
                setMoved(spot);
              }}
              onPointerMove={(event) => moved?.place === spot.place && move(event, spot)}
              onPointerUp={drop}
              onKeyDown={(event) => step(event, spot)}
            >
              <circle cx={x} cy={y} r="14" fill="transparent" />
              <circle cx={x} cy={y} r="5" fill="var(--ink)" />
              <text x={label.x} y={label.y} className="fill-ink text-small">
                {named(spot)}
              </text>
            </g>
          );
        })}
        <ScaleBar bar={bar} scale={scale} />
        <text x={WIDE - 12} y={18} textAnchor="end" className="fill-faint text-note">
          north ↑
        </text>
      </svg>
      <figcaption className="margin-note">
        {ground.name}: drag a place, or move it by arrow keys.
        {(ground.nowhere ?? []).length > 0 && ` Position not known: ${(ground.nowhere ?? []).join(", ")}.`}
      </figcaption>
    </figure>
  );
}
