import type { Schemas } from "../api/client";

export type State = Schemas["Proof"]["state"] | "holds";

export const STATE_WORDS: Record<State, string> = {
  fails: "fails",
  "not known": "not known",
  doubtful: "doubtful",
  holds: "holds",
  "not asked yet": "holds as far as it was asked",
  proven: "proven",
};

/** The state of an answer as a shape: barred square, broken ring, half-filled diamond, dot. Never by colour alone. */
export function StateMark({ state }: { state: State }) {
  return (
    <svg width={14} height={14} viewBox="0 0 14 14" className="inline-block shrink-0" role="img">
      <title>{STATE_WORDS[state]}</title>
      {state === "fails" && (
        <>
          <rect x="1" y="1" width="12" height="12" fill="var(--accent)" />
          <rect x="3" y="5.75" width="8" height="2.5" fill="var(--sheet)" />
        </>
      )}
      {state === "doubtful" && (
        <>
          <path d="M7 .8 13.2 7 7 13.2.8 7Z" fill="none" stroke="var(--ink)" strokeWidth="1.5" />
          <path d="M7 .8 13.2 7H.8Z" fill="var(--ink)" />
        </>
      )}
      {state === "not known" && (
        <rect
          x="1.75"
          y="1.75"
          width="10.5"
          height="10.5"
          fill="none"
          stroke="var(--ink)"
          strokeWidth="1.5"
          strokeDasharray="3 2.25"
        />
      )}
      {state === "not asked yet" && (
        <circle cx="7" cy="7" r="4" fill="none" stroke="var(--ink)" strokeWidth="1.5" />
      )}
      {(state === "holds" || state === "proven") && <circle cx="7" cy="7" r="3" fill="var(--ink)" />}
    </svg>
  );
}
