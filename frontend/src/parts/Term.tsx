import { Link } from "react-router";

/** A term, linked to what the glossary says of it; `of` is its id there. */
export function Term({ of, children }: { of: string; children: string }) {
  return (
    <Link to={`/glossary#${of}`} className="decoration-faint underline decoration-dotted underline-offset-4">
      {children}
    </Link>
  );
}
