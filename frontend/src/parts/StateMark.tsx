import type { Schemas } from "../api/client";
import { Barred, HalfFilled } from "./Severity";

export type State = Schemas["ProofLine"]["state"] | "holds";

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
      {state === "fails" && <Barred />}
      {state === "doubtful" && <HalfFilled />}
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
