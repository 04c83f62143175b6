import type { Schemas } from "../api/client";
import { useProof } from "../api/proofs";
import { StateMark } from "./StateMark";

/** A proof from its trunk to its sources: each hop one line, its questions inside, open at the weakest. */
export function ProofBody({ aim }: { aim: string }) {
  const { data: proof } = useProof(aim);
  if (!proof) return <p className="text-faint">Reading the proof …</p>;
  return (
    <>
      {proof.parts.map((part) => (
        <div key={part.title} className="mt-1">
          <h3>{part.title}</h3>
          <ul>
            {part.hops.map((hop) => (
              <HopLine key={hop.id} hop={hop} open={hop.id === proof.opens_at && hop.state !== "holds"} />
            ))}
          </ul>
        </div>
      ))}
      {proof.evidence && <p className="margin-note mt-1">Rests at its weakest on: {proof.evidence}.</p>}
      {proof.not_asked.length > 0 && (
        <details className="mt-1">
          <summary className="link">Not asked yet: {proof.not_asked.length} questions</summary>
          <ul className="text-faint list-disc pl-5 text-small">
            {proof.not_asked.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

function HopLine({ hop, open }: { hop: Schemas["HopProof"]; open: boolean }) {
  return (
    <li>
      <details open={open}>
        <summary className="cursor-pointer">
          <span className="inline-flex items-baseline gap-2">
            <StateMark state={hop.asked ? hop.state : "not asked yet"} />
            <span>
              {hop.what}: {hop.asked ? `${hop.holds} of ${hop.asked}` : "no question of its own"}
            </span>
          </span>
        </summary>
        <ul className="border-rule mb-1 ml-[7px] border-l-2 pl-3 text-small">
          {hop.questions.map((asked) => (
            <li key={asked.id} className="flex items-baseline gap-2">
              <StateMark state={asked.state} />
              <span>
                {asked.question} <span className="text-faint">{asked.words}</span>
                {asked.accepted && <em> Accepted: {asked.accepted}</em>}
              </span>
            </li>
          ))}
        </ul>
      </details>
    </li>
  );
}
