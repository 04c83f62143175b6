import { useState } from "react";
import type { Schemas } from "../api/client";
import { useProofs } from "../api/proofs";
import { ProofBody } from "./ProofBody";
import { Section } from "./Section";
import { STATE_WORDS, StateMark } from "./StateMark";

/** What must arrive and how far it is proven, a line each, to be read where the work is done. */
export function Proofs() {
  const { data } = useProofs();
  const proofs = data?.proofs ?? [];
  if (!proofs.length) return null;
  return (
    <Section title="What must arrive" aside="asked for in the brief">
      <ul>
        {proofs.map((proof) => (
          <ProofLine key={proof.aim} proof={proof} />
        ))}
      </ul>
    </Section>
  );
}

/** One proof: a line, and all of it once it is opened. */
function ProofLine({ proof }: { proof: Schemas["ProofLine"] }) {
  const [open, setOpen] = useState(false);
  return (
    <li className="border-rule border-b py-1">
      <details onToggle={(event) => setOpen(event.currentTarget.open)}>
        <summary className="flex cursor-pointer items-baseline gap-2">
          <StateMark state={proof.state} />
          <span className="min-w-0 flex-1">
            <span className="font-semibold">{proof.title}</span>: {STATE_WORDS[proof.state]}
          </span>
          <span className="margin-note">{proof.summary}</span>
        </summary>
        {open && (
          <div className="mb-3 pl-[22px]">
            <ProofBody aim={proof.aim} />
          </div>
        )}
      </details>
    </li>
  );
}
