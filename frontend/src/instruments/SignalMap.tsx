import { type KeyboardEvent, type MouseEvent, useEffect, useLayoutEffect, useMemo, useRef } from "react";

const ARROWS: Record<string, [number, number]> = {
  ArrowRight: [1, 0],
  ArrowLeft: [-1, 0],
  ArrowDown: [0, 1],
  ArrowUp: [0, -1],
};
/** Marks put on the page in one go; the rest follow, a slice a frame, so that no hand waits for a large map. */
const SLICE = 120;
/** Width of a sheet of A4 on its side, less its margins, in CSS px: a printed map is as wide as that. */
const PAGE = 990;

/** Places as bands, signal from left to right. The core draws it; this puts it on the page and follows the hand. */
export function SignalMap({
  svg,
  width,
  selected: thing,
  within,
  onSelect,
  onFold,
  onNearer,
}: {
  /** The drawing, as the core made it. */
  svg: string;
  width: number;
  selected: string | null;
  /** The place of what is selected: its box stands for it where the place is drawn as one. */
  within: string | null;
  onSelect: (id: string | null) => void;
  onFold: (place: string) => void;
  /** Closer, further, or as near as all of it is seen. */
  onNearer: (way: "closer" | "further" | "fit") => void;
}) {
  const frame = useRef<HTMLDivElement>(null);
  const places = useRef<HTMLDivElement>(null);
  const map = useRef<HTMLDivElement>(null);
  const key = useRef<HTMLElement>(null);
  const parts = useMemo(() => read(svg), [svg]);
  const selected = thing && within && !drawn(parts.map, thing) ? `place:${within}` : thing;
  const now = useRef(selected);
  now.current = selected;

  useLayoutEffect(() => {
    const focused = document.activeElement?.closest?.("[data-of], [data-place]");
    const was = focused && frame.current?.contains(focused) ? mark(focused) : null;
    place(places.current, parts.places);
    place(key.current, parts.key);
    for (const band of places.current?.querySelectorAll("[data-place]") ?? [])
      asButton(band, true, "aria-expanded", !band.hasAttribute("data-folded"));
    return inSlices(map.current, parts.map, (fresh) => {
      for (const box of fresh) dress(box, now.current);
      const back = was && frame.current?.querySelector<SVGElement>(was);
      if (back && fresh.includes(back)) back.focus({ preventScroll: true });
      if (frame.current) bringChosen(frame.current, now.current);
    });
  }, [parts]);

  useEffect(() => {
    for (const thing of map.current?.querySelectorAll("[data-of]") ?? []) choose(thing, selected);
    // One stop of the Tab key for all boxes: the chosen one, or the first.
    const boxes = [...(map.current?.querySelectorAll("g.box") ?? [])];
    const stop = boxes.find((box) => box.getAttribute("data-of") === selected) ?? boxes[0];
    for (const box of boxes) box.setAttribute("tabindex", box === stop ? "0" : "-1");
    if (frame.current) bringChosen(frame.current, selected);
  }, [selected]);

  const press = (event: MouseEvent) => {
    const thing = (event.target as Element).closest("[data-of], [data-place]");
    if (thing) open(thing);
  };
  const open = (thing: Element) => {
    const id = thing.getAttribute("data-of");
    if (id === null) onFold(thing.getAttribute("data-place") ?? "");
    else if (id.startsWith("place:")) onFold(id.slice("place:".length));
    else onSelect(id === selected && thing.classList.contains("box") ? null : id);
  };
  const move = (event: KeyboardEvent) => {
    const thing = (event.target as Element).closest("[data-of], [data-place]");
    const way = ARROWS[event.key];
    if (way && thing?.classList.contains("box")) nearest(map.current, thing, way)?.focus();
    else if (thing && (event.key === "Enter" || event.key === " ")) open(thing);
    else if (event.key === "Escape") onSelect(null);
    else if (event.key === "+" || event.key === "=") onNearer("closer");
    else if (event.key === "-") onNearer("further");
    else if (event.key === "0") onNearer("fit");
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <figure className="signal-map">
      <div
        ref={frame}
        role="group"
        aria-label="Signal map"
        className="border-rule relative flex items-start overflow-auto border-b print:max-h-none! print:overflow-visible print:[zoom:var(--fit)]"
        style={{ maxHeight: "min(88vh, 60rem)", ["--fit" as string]: Math.min(1.2, PAGE / width) }}
        onClick={press}
        onKeyDown={move}
      >
        <div ref={places} className="border-rule bg-paper sticky left-0 z-10 shrink-0 border-r" />
        <div ref={map} className="grow overflow-clip" />
      </div>
      <figcaption
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by keyboard
        tabIndex={0}
        className="margin-note relative flex flex-wrap items-baseline gap-x-5 overflow-x-auto"
      >
        <span ref={key} />
        <span className="no-print">
          Arrow keys move, Enter follows a box, Escape lets go; <kbd className="key">+</kbd> closer,{" "}
          <kbd className="key">-</kbd> further, <kbd className="key">0</kbd> all of it.
        </span>
      </figcaption>
    </figure>
  );
}

const drawn = (map: Element | null, thing: string) =>
  !!map?.querySelector(`[data-of="${CSS.escape(thing)}"]`);

type Part = "places" | "map" | "key";

/** The three parts of a drawing, not yet on the page. */
function read(svg: string): Record<Part, Element | null> {
  const root = new DOMParser().parseFromString(svg, "image/svg+xml");
  const part = (name: Part) => root.querySelector(`[data-part=${name}]`);
  return { places: part("places"), map: part("map"), key: part("key") };
}

function place(into: Element | null, drawing: Element | null) {
  into?.replaceChildren(...(drawing ? [document.importNode(drawing, true)] : []));
}

/** Puts a drawing on the page, at most so many marks a frame; what comes on is handed over, slice by slice. */
function inSlices(into: Element | null, drawing: Element | null, done: (fresh: Element[]) => void) {
  if (!into || !drawing) return;
  const waiting = [...drawing.children];
  const shell = document.importNode(drawing, false);
  let frame = 0;
  const next = () => {
    const fresh = waiting.splice(0, SLICE).map((each) => document.importNode(each, true));
    shell.append(...fresh);
    done(fresh);
    if (waiting.length) frame = requestAnimationFrame(next);
  };
  into.replaceChildren(shell);
  next();
  return () => cancelAnimationFrame(frame);
}

/** Makes a box a button, and a link wide enough for the hand. */
function dress(thing: Element, selected: string | null) {
  if (thing.classList.contains("box"))
    asButton(thing, thing.getAttribute("data-of") === selected, "aria-pressed", false);
  else if (thing.classList.contains("hop")) {
    const reach = thing.querySelector("path.line")?.cloneNode() as SVGElement | undefined;
    reach?.setAttribute("class", "reach");
    if (reach) thing.prepend(reach);
  } else return;
  choose(thing, selected);
}

function asButton(thing: Element, stop: boolean, state: string, on: boolean) {
  thing.setAttribute("role", "button");
  thing.setAttribute("tabindex", stop ? "0" : "-1");
  thing.setAttribute(state, String(on));
}

function choose(thing: Element, selected: string | null) {
  const on = thing.getAttribute("data-of") === selected;
  if (thing.classList.contains("chosen") === on && thing.hasAttribute("aria-pressed") === on) return;
  thing.classList.toggle("chosen", on);
  if (thing.classList.contains("box")) thing.setAttribute("aria-pressed", String(on));
}

/** How a box or a place is found again in another drawing. */
function mark(thing: Element): string {
  const of = thing.getAttribute("data-of");
  return of === null
    ? `[data-place="${CSS.escape(thing.getAttribute("data-place") ?? "")}"]`
    : `[data-of="${CSS.escape(of)}"]`;
}

/** Scrolls the map, and nothing but the map, until what is chosen is in view. */
function bringChosen(frame: HTMLElement, selected: string | null) {
  const chosen = selected && frame.querySelector(`[data-of="${CSS.escape(selected)}"]`);
  if (!chosen) return;
  const at = chosen.getBoundingClientRect();
  const view = frame.getBoundingClientRect();
  const names = frame.firstElementChild?.getBoundingClientRect().width ?? 0;
  const past = (low: number, high: number, from: number, to: number) =>
    low < from ? low - from - 12 : high > to ? Math.min(high - to + 12, low - from - 12) : 0;
  frame.scrollLeft += past(at.left, at.right, view.left + names, view.right);
  frame.scrollTop += past(at.top, at.bottom, view.top, view.bottom);
}

/** The box nearest to this one in a direction. */
function nearest(map: Element | null, from: Element, [dx, dy]: [number, number]): SVGElement | undefined {
  const middle = (box: Element) => {
    const at = box.getBoundingClientRect();
    return { x: at.left, y: at.top + at.height / 2 };
  };
  const here = middle(from);
  let best: { box: SVGElement; score: number } | undefined;
  for (const box of map?.querySelectorAll<SVGElement>("g.box") ?? []) {
    const at = middle(box);
    const [x, y] = [at.x - here.x, at.y - here.y];
    const along = x * dx + y * dy;
    const score = along + 2 * (Math.abs(x * dy) + Math.abs(y * dx));
    if (along > 1 && (!best || score < best.score)) best = { box, score };
  }
  return best?.box;
}
