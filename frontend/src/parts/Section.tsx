import type { ReactNode } from "react";

/** One part of a page: a heading on a ruled line, an aside at its end, and what belongs under it. */
export function Section({
  title,
  aside,
  tight,
  children,
}: {
  title: string;
  aside?: ReactNode;
  /** Little room above what it is about. */
  tight?: boolean;
  children: ReactNode;
}) {
  return (
    <section className="mb-6" aria-label={title}>
      <div
        className={`border-ink flex flex-wrap items-baseline justify-between gap-x-4 border-b ${tight ? "mb-0" : "mb-2 pb-1"}`}
      >
        <h2>{title}</h2>
        {aside && <div className="margin-note">{aside}</div>}
      </div>
      {children}
    </section>
  );
}

/** What to do first where there is nothing yet. */
export function FirstThing({ children }: { children: ReactNode }) {
  return <p className="text-faint border-rule my-2 border-l-2 pl-3">{children}</p>;
}
