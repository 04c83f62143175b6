import { memo, useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import type { Finding } from "../api/client";
import { usePlan, useSelection, useTrial } from "../api/plan";
import { SeverityMark } from "../parts/Severity";
import { StateMark } from "../parts/StateMark";
import type { Mark } from "./OpenedFinding";

/** Every finding of the plan, one line each: this stage's first, then worst first. What a trial would end or bring is marked. */
export const FindingList = memo(function FindingList() {
  const { standing } = usePlan();
  const { trial, report } = useTrial();
  const { stage } = useParams();
  const [most, setMost] = useState(40);
  const found = standing.report.findings;
  const now = useMemo(() => {
    const here = (f: Finding) => f.stage === stage;
    return [...found.filter(here), ...found.filter((f) => !here(f))];
  }, [found, stage]);
  const going = new Set(trial?.gone.map((f) => f.id));
  const unknown = report.stages.reduce((sum, each) => sum + each.not_known, 0);
  return (
    <>
      <TrialInWords />
      <ul>
        {trial?.come.map((finding) => (
          <Entry key={`come-${finding.id}`} finding={finding} mark="would come" />
        ))}
        {now.slice(0, most).map((finding) => (
          <Entry
            key={finding.id}
            finding={report.findings.find((f) => f.id === finding.id) ?? finding}
            mark={going.has(finding.id) ? "would go" : null}
          />
        ))}
        {now.length > most && (
          <li className="px-3 py-2">
            <button type="button" className="button whitespace-normal" onClick={() => setMost(most + 100)}>
              Show more of the {now.length - most} others
            </button>
          </li>
        )}
        {unknown > 0 && (
          <li className="border-rule flex items-start gap-2 border-b px-3 py-2 text-small">
            <span className="pt-[2px]">
              <StateMark state="not known" />
            </span>
            <span>
              {unknown === 1 ? "One question wants a fact" : `${unknown} questions want a fact`} before it can
              be answered.{" "}
              <Link className="link" to={`/plans/${standing.id}/survey`}>
                To find out
              </Link>
            </span>
          </li>
        )}
      </ul>
      {!now.length && !trial?.come.length && !unknown && (
        <p className="text-faint px-3 py-3">
          {standing.plan.aims.length
            ? "Nothing found against this plan as it stands. Rehearse it all the same."
            : "No picture is required of this plan yet: say in Brief which picture must arrive where."}
        </p>
      )}
    </>
  );
});

/** What the edits in view would change, in words. */
function TrialInWords() {
  const { trial } = useTrial();
  return (
    <p aria-live="polite" className="margin-note px-3 pt-1 empty:hidden">
      {trial &&
        (trial.gone.length + trial.come.length
          ? `As typed: ${trial.gone.length} would go, ${trial.come.length} would come.`
          : "As typed: the findings stay the same.")}
    </p>
  );
}

/** What the edits in view would change, above what is picked. */
export function OfTrial() {
  const { trial } = useTrial();
  return (
    <>
      <TrialInWords />
      <ul className="empty:hidden">
        {trial?.come.map((f) => (
          <Entry key={`come-${f.id}`} finding={f} mark="would come" />
        ))}
        {trial?.gone.map((f) => (
          <Entry key={f.id} finding={f} mark="would go" />
        ))}
      </ul>
    </>
  );
}

/** A finding in one line; picked, the pane says the rest of it. */
function Entry({ finding, mark }: { finding: Finding; mark: Mark }) {
  const { pick } = useSelection();
  return (
    <li className="border-rule border-b">
      <button
        type="button"
        className="hover:bg-wash flex w-full cursor-pointer items-start gap-2 px-3 py-2 text-left text-small leading-tight"
        title={finding.wrong}
        data-finding={finding.id}
        onClick={() => pick({ finding: finding.id })}
      >
        <span className="pt-px">
          <SeverityMark severity={finding.severity} />
        </span>
        <span className="min-w-0">
          <span className="text-faint block text-note">
            {finding.stage}
            {finding.accepted && " · accepted"}
            {mark && <strong className="text-ink"> · {mark}</strong>}
          </span>
          <span className={`line-clamp-3 ${mark === "would go" ? "line-through" : ""}`}>{finding.wrong}</span>
        </span>
      </button>
    </li>
  );
}
