import { Children, type ReactNode, useEffect, useState } from "react";

/** Draws its children one after the other, a frame each: no hand waits for the last of them. */
export function InTurn({ children }: { children: ReactNode }) {
  const all = Children.toArray(children);
  const [drawn, setDrawn] = useState(1);
  useEffect(() => {
    if (drawn >= all.length) return;
    const next = requestAnimationFrame(() => setDrawn(drawn + 1));
    return () => cancelAnimationFrame(next);
  }, [drawn, all.length]);
  return all.slice(0, drawn);
}
