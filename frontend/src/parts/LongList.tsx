import { useVirtualizer } from "@tanstack/react-virtual";
import { type ReactNode, type RefObject, useLayoutEffect, useRef, useState } from "react";
import { usePrinting } from "./printing";

/** Lists up to this long are drawn whole: they can be searched in the page, and printed. */
const WHOLE = 40;

/** What of a list is in view, in a page or a dialog that scrolls; all of it where it is short, or printed. */
function useInView<T>(
  within: RefObject<HTMLElement | null>,
  items: readonly T[],
  id: (item: T) => string,
  about: number,
) {
  const scroller = () => within.current?.closest<HTMLElement>("main, [data-scrolls]") ?? null;
  // Where it begins in what scrolls: other things above it come and go.
  const [top, setTop] = useState(0);
  useLayoutEffect(() => {
    const [here, all] = [within.current?.getBoundingClientRect(), scroller()];
    if (!here || !all) return;
    const now = Math.round(here.top - all.getBoundingClientRect().top + all.scrollTop);
    setTop((was) => (Math.abs(was - now) > 1 ? now : was));
  });
  const printing = usePrinting();
  const long = items.length > WHOLE && !printing;
  const rows = useVirtualizer({
    count: items.length,
    enabled: long,
    estimateSize: () => about,
    getItemKey: (i) => id(items[i] as T),
    getScrollElement: scroller,
    scrollMargin: top,
    overscan: 4,
  });
  return { rows, top, long };
}

/** A list of which only what is in view is drawn, once it is long. Each item is measured as it comes. */
export function LongList<T>({
  items,
  id,
  about,
  show,
  children,
}: {
  items: readonly T[];
  id: (item: T) => string;
  /** How high an item is, about, in px. */
  about: number;
  /** The item to bring into view. */
  show?: string | null;
  children: (item: T) => ReactNode;
}) {
  const list = useRef<HTMLDivElement>(null);
  const { rows, top, long } = useInView(list, items, id, about);
  const at = show ? items.findIndex((item) => id(item) === show) : -1;
  const jump = useRef(() => {});
  jump.current = () => at >= 0 && long && rows.scrollToIndex(at, { align: "center" });
  useLayoutEffect(() => {
    if (show) jump.current();
  }, [show]);
  if (!long) return items.map((item) => <div key={id(item)}>{children(item)}</div>);
  return (
    <div ref={list} className="relative" style={{ height: rows.getTotalSize() }}>
      {rows.getVirtualItems().map((row) => (
        <div
          key={row.key}
          ref={rows.measureElement}
          data-index={row.index}
          className="absolute inset-x-0 top-0"
          style={{ transform: `translateY(${row.start - top}px)` }}
        >
          {children(items[row.index] as T)}
        </div>
      ))}
    </div>
  );
}

/** The rows of a table, of which only those in view are drawn, once there are many. */
export function LongRows<T>({
  items,
  id,
  about,
  show,
  onLook,
  children,
}: {
  items: readonly T[];
  id: (item: T) => string;
  /** How high a row is, about, in px. */
  about: number;
  /** Whether it is the row that is looked at. */
  show?: (item: T) => boolean;
  /** Called when the hand comes to a row. */
  onLook?: (item: T) => void;
  /** The cells of a row. */
  children: (item: T) => ReactNode;
}) {
  const body = useRef<HTMLTableSectionElement>(null);
  const { rows, top, long } = useInView(body, items, id, about);
  const at = long && show ? items.findIndex(show) : -1;
  const jump = useRef(() => {});
  jump.current = () => rows.scrollToIndex(at, { align: "center" });
  useLayoutEffect(() => {
    if (at >= 0) jump.current();
  }, [at]);
  const cells = (item: T, more: object = {}) => (
    <tr key={id(item)} className={show?.(item) ? "bg-wash" : ""} onFocus={() => onLook?.(item)} {...more}>
      {children(item)}
    </tr>
  );
  if (!long) return <tbody ref={body}>{items.map((item) => cells(item))}</tbody>;
  const seen = rows.getVirtualItems();
  const above = (seen[0]?.start ?? top) - top;
  const below = rows.getTotalSize() - ((seen.at(-1)?.end ?? top) - top);
  return (
    <tbody ref={body}>
      {above > 0 && <tr aria-hidden style={{ height: above }} />}
      {seen.map((row) => cells(items[row.index] as T, { ref: rows.measureElement, "data-index": row.index }))}
      {below > 0 && <tr aria-hidden style={{ height: below }} />}
    </tbody>
  );
}
