import { type RefObject, useLayoutEffect, useRef, useState } from "react";

/** How wide an element is in px, at least so much: what is drawn in it keeps the size of its lettering on any screen. */
export function useWidth<T extends Element>(least: number): [RefObject<T | null>, number] {
  const seen = useRef<T>(null);
  const [width, setWidth] = useState(Math.max(least, 860));
  useLayoutEffect(() => {
    const element = seen.current;
    if (!element) return;
    const look = () => setWidth(Math.max(least, Math.round(element.clientWidth)));
    look();
    const watch = new ResizeObserver(look);
    watch.observe(element);
    return () => watch.disconnect();
  }, [least]);
  return [seen, width];
}
