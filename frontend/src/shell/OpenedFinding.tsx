import { useState } from "react";
import { useLocation, useNavigate, useParams } from "react-router";
import type { Finding } from "../api/client";
import { accept, reopen } from "../api/edits";
import { useEdits, usePlan } from "../api/plan";
import { Cures } from "../parts/Cures";
import { Sum } from "../parts/Figure";
import { SeenWorking } from "../parts/SeenWorking";
import { SEVERITY_WORDS } from "../parts/Severity";

/** What a trial would make of a finding. */
export type Mark = "would go" | "would come" | null;

/** What is wrong, what it means, the best fix; the sum and other ways folded. */
export function OpenedFinding({ finding, mark }: { finding: Finding; mark: Mark }) {
  const { standing } = usePlan();
  const { stage } = useParams();
  const { search } = useLocation();
  const navigate = useNavigate();
  return (
    <section aria-label={finding.wrong} className="space-y-2 px-3 py-2">
      <h3>
        <span className="text-faint block text-note font-normal">
          {SEVERITY_WORDS[finding.severity]} · {finding.stage}
        </span>
        {finding.wrong}
      </h3>
      <p>{finding.means}</p>
      <p>
        <span className="font-semibold">To do: </span>
        {finding.do}
      </p>
      {finding.working && (
        <details>
          <summary className="link">Show the sum</summary>
          <div className="border-rule mt-1 border-l-2 pl-2">
            <Sum working={finding.working} />
          </div>
        </details>
      )}
      {mark !== "would come" && <Cures finding={finding.id} />}
      {finding.tried && !finding.accepted && !mark && (
        <SeenWorking
          noun={finding.noun as "link"}
          thing={finding.subject}
          label="Or it was tried, under these conditions"
        />
      )}
      {finding.severity === "risks" && !mark && <Acceptance finding={finding} />}
      {stage !== finding.stage && (
        <button
          type="button"
          className="link"
          onClick={() => navigate(`/plans/${standing.id}/${finding.stage}${search}`)}
        >
          Show in {finding.stage}
        </button>
      )}
    </section>
  );
}

/** A doubt may be taken on, with a reason; it stays listed, and opens again when what was compared changes. */
function Acceptance({ finding }: { finding: Finding }) {
  const { edit } = useEdits();
  const [reason, setReason] = useState("");
  if (finding.accepted)
    return (
      <p>
        <span className="font-semibold">Accepted: </span>
        {finding.accepted}{" "}
        <button type="button" className="link" onClick={() => void edit([reopen(finding.id)])}>
          Take it up again
        </button>
      </p>
    );
  return (
    <form
      className="flex items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (reason.trim()) void edit([accept(finding.id, finding.compared, reason.trim())]);
      }}
    >
      <label className="min-w-0 flex-1">
        <span className="text-faint block text-note">Accept this doubt, because</span>
        <input className="field" value={reason} onChange={(event) => setReason(event.target.value)} />
      </label>
      <button type="submit" className="button" disabled={!reason.trim()}>
        Accept
      </button>
    </form>
  );
}
