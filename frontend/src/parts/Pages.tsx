import { type ReactNode, useState } from "react";
import { Link, useLocation, useParams } from "react-router";

interface StagePage {
  id: string;
  name: string;
  page: ReactNode;
}

/** A stage in pages, its instrument first and its long matter after: which one, the address says. Where it says none, the first one, or
 * the one that the work begins on when the stage is opened. */
export function Pages({ pages, begin }: { pages: StagePage[]; begin?: string | false }) {
  const [opened] = useState(begin);
  const { id, stage = "brief", page } = useParams();
  const { search } = useLocation();
  const shown = pages.find((p) => p.id === page) ?? pages.find((p) => p.id === opened) ?? pages[0];
  return (
    <>
      <nav aria-label="Pages of this stage" className="no-print -mt-2 mb-1 flex flex-wrap gap-x-5 text-small">
        {pages.map((p) => (
          <Link
            key={p.id}
            to={`/plans/${id}/${stage}/${p.id}${search}`}
            aria-current={p === shown ? "page" : undefined}
            className={p === shown ? "border-accent border-b-2 font-semibold" : "link"}
          >
            {p.name}
          </Link>
        ))}
      </nav>
      {shown?.page}
    </>
  );
}
