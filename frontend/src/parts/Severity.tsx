import type { Finding } from "../api/client";

export const SEVERITY_WORDS: Record<Finding["severity"], string> = {
  stops: "Stops the show",
  risks: "At risk",
  note: "Note",
};

/** So many findings of a kind, in words that say what they count. */
export const countOf = (n: number, severity: Finding["severity"]): string =>
  ({
    stops: `${n} stop${n === 1 ? "s" : ""} the show`,
    risks: `${n} at risk`,
    note: `${n} note${n === 1 ? "" : "s"}`,
  })[severity];

/** A barred square: it cannot be. */
export const Barred = () => (
  <>
    <rect x="1" y="1" width="12" height="12" fill="var(--accent)" />
    <rect x="3" y="5.75" width="8" height="2.5" fill="var(--sheet)" />
  </>
);

/** A half-filled diamond: it may not be. */
export const HalfFilled = () => (
  <>
    <path d="M7 .8 13.2 7 7 13.2.8 7Z" fill="none" stroke="var(--ink)" strokeWidth="1.5" />
    <path d="M7 .8 13.2 7H.8Z" fill="var(--ink)" />
  </>
);

/** Severity as a shape: a barred square, a half-filled diamond, an open ring. Never by colour alone. */
export function SeverityMark({ severity, size = 14 }: { severity: Finding["severity"]; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 14 14" className="inline-block shrink-0" role="img">
      <title>{SEVERITY_WORDS[severity]}</title>
      {severity === "stops" && <Barred />}
      {severity === "risks" && <HalfFilled />}
      {severity === "note" && (
        <circle cx="7" cy="7" r="5" fill="none" stroke="var(--ink)" strokeWidth="1.5" />
      )}
    </svg>
  );
}
