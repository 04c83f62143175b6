import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { memo, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, type Finding, type Schemas, taken } from "../api/client";
import { accept, reopen } from "../api/edits";
import { useEdits, usePlan, useSelection, useTrial } from "../api/plan";
import { Sum } from "../parts/Figure";
import { SeenWorking } from "../parts/SeenWorking";
import { SEVERITY_WORDS, SeverityMark } from "../parts/Severity";
import { StateMark } from "../parts/StateMark";

/** Every finding of the plan, worst first; what a trial would end or bring is marked as such. */
export const Docket = memo(function Docket({
  folded,
  onFold,
}: {
  folded: boolean;
  onFold: (folded: boolean) => void;
}) {
  const { standing } = usePlan();
  const { trial, report } = useTrial();
  const now = standing.report.findings;
  const going = new Set(trial?.gone.map((f) => f.id));
  const coming = trial?.come ?? [];
  const [most, setMost] = useState(40);
  const unknown = report.stages.reduce((sum, stage) => sum + stage.not_known, 0);
  if (folded)
    return (
      <aside
        id="docket"
        tabIndex={-1}
        aria-label="Docket"
        className="no-print border-ink bg-sheet shrink-0 border-t lg:border-t-0 lg:border-l"
      >
        <button
          type="button"
          className="flex cursor-pointer items-center gap-2 px-2 py-3 lg:[writing-mode:vertical-rl]"
          aria-expanded={false}
          onClick={() => onFold(false)}
        >
          {now[0] && <SeverityMark severity={now[0].severity} />}
          <span>
            <strong>Docket</strong>,{" "}
            {now.length ? `${now.length} finding${now.length > 1 ? "s" : ""}` : "no findings"}
          </span>
        </button>
      </aside>
    );
  return (
    <aside
      id="docket"
      tabIndex={-1}
      aria-label="Docket"
      className="no-print border-ink bg-sheet flex w-full shrink-0 flex-col border-t lg:w-[340px] lg:border-t-0 lg:border-l"
    >
      <div className="border-ink flex items-baseline justify-between border-b px-4 pt-3 pb-1">
        <h2>Docket</h2>
        <span className="margin-note flex gap-3">
          {now.length ? `${now.length} finding${now.length > 1 ? "s" : ""}` : "no findings"}
          <button type="button" className="link" aria-expanded onClick={() => onFold(true)}>
            Fold<span className="sr-only"> the docket</span> <kbd className="key">f</kbd>
          </button>
        </span>
      </div>
      <p aria-live="polite" className="margin-note px-4 pt-1 empty:hidden">
        {trial &&
          (trial.gone.length + coming.length
            ? `As typed: ${trial.gone.length} would go, ${coming.length} would come.`
            : "As typed: the findings stay the same.")}
      </p>
      <ul className="relative overflow-y-auto">
        {coming.map((finding) => (
          <Entry key={`come-${finding.id}`} finding={finding} mark="would come" />
        ))}
        {now.slice(0, most).map((finding, i) => (
          <Entry
            key={finding.id}
            finding={report.findings.find((f) => f.id === finding.id) ?? finding}
            mark={going.has(finding.id) ? "would go" : null}
            first={i === 0}
          />
        ))}
        {now.length > most && (
          <li className="px-4 py-2">
            <button type="button" className="button" onClick={() => setMost(most + 100)}>
              Show more of the {now.length - most} others
            </button>
          </li>
        )}
        {unknown > 0 && (
          <li className="border-rule flex items-start gap-2 border-b px-4 py-2">
            <span className="pt-[3px]">
              <StateMark state="not known" />
            </span>
            <span>
              <span className="text-faint block text-[12px]">Not known</span>
              {unknown === 1 ? "One question wants a fact" : `${unknown} questions want a fact`} before it can
              be answered.{" "}
              <Link className="link" to={`/plans/${standing.id}/survey`}>
                Facts wanted
              </Link>
            </span>
          </li>
        )}
      </ul>
      {!now.length && !coming.length && !unknown && (
        <p className="text-faint px-4 py-3">
          {standing.plan.aims.length
            ? "Nothing found against this plan as it stands. Rehearse it all the same."
            : "Nothing is asked of this plan yet: say in Brief which picture must arrive where."}
        </p>
      )}
      <p className="margin-note mt-auto px-4 py-2">
        Judged as of{" "}
        {new Date(report.as_of).toLocaleString("en-GB", {
          dateStyle: "medium",
          timeStyle: "short",
          timeZone: standing.plan.show.zone || undefined,
        })}
      </p>
    </aside>
  );
});

function Entry({
  finding,
  mark,
  first = false,
}: {
  finding: Finding;
  mark: "would go" | "would come" | null;
  first?: boolean;
}) {
  const { standing } = usePlan();
  const { selected, select } = useSelection();
  const navigate = useNavigate();
  const here = selected === finding.subject;
  return (
    <Disclosure
      as="li"
      defaultOpen={first}
      className={`border-rule border-b px-4 py-2 ${here ? "bg-wash" : ""}`}
    >
      {({ open }) => (
        <>
          <DisclosureButton
            className="flex w-full cursor-pointer items-start gap-2 text-left"
            onClick={() => select(open ? null : finding.subject)}
          >
            <span className="pt-[3px]">
              <SeverityMark severity={finding.severity} />
            </span>
            <span>
              <span className="text-faint block text-[12px]">
                {SEVERITY_WORDS[finding.severity]} · {finding.stage}
                {finding.accepted && " · accepted"}
                {mark && <strong className="text-ink"> · {mark}</strong>}
              </span>
              <span className={mark === "would go" ? "line-through" : ""}>{finding.wrong}</span>
            </span>
          </DisclosureButton>
          <DisclosurePanel className="mt-1 space-y-2 pl-[22px]">
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
            <button
              type="button"
              className="link"
              onClick={() => navigate(`/plans/${standing.id}/${finding.stage}`)}
            >
              Show in {finding.stage}
            </button>
          </DisclosurePanel>
        </>
      )}
    </Disclosure>
  );
}

/** What may mend a finding: made and tried when it is opened. */
function Cures({ finding }: { finding: string }) {
  const { standing, stamp } = usePlan();
  const { data, isLoading } = useQuery({
    queryKey: ["cures", standing.id, stamp, finding],
    queryFn: async ({ signal }) =>
      taken(
        await api.GET("/api/plans/{id}/cures/{finding}", {
          params: { path: { id: standing.id, finding } },
          signal,
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
  if (isLoading) return <p className="text-faint">Trying what may mend it …</p>;
  const [best, ...others] = data ?? [];
  return (
    <ul className="space-y-2">
      {best && <CureLine key={best.cure.title} cure={best.cure} />}
      {others.length > 0 && (
        <li>
          <details>
            <summary className="link">
              {others.length} other {others.length > 1 ? "ways" : "way"}
            </summary>
            <ul className="mt-2 space-y-2">
              {others.map(({ cure }) => (
                <CureLine key={cure.title} cure={cure} />
              ))}
            </ul>
          </details>
        </li>
      )}
    </ul>
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
        <span className="text-faint block text-[12px]">Accept this doubt, because</span>
        <input className="field" value={reason} onChange={(event) => setReason(event.target.value)} />
      </label>
      <button type="submit" className="button" disabled={!reason.trim()}>
        Accept
      </button>
    </form>
  );
}

/** A cure: looked at first, then applied. */
function CureLine({ cure: fix }: { cure: Schemas["Cure"] }) {
  const { edit, preview } = useEdits();
  const { trial } = useTrial();
  const [looked, setLooked] = useState(false);
  const shownNow = looked && trial !== null;
  return (
    <li className="border-rule border-l-2 pl-2">
      <p>
        {fix.title}
        {fix.needs && <span className="text-faint block text-[13px]">Needs {fix.needs}</span>}
      </p>
      {shownNow && (
        <ul className="my-1 text-[13px]">
          {trial.gone.map((f) => (
            <li key={f.id}>Ends: {f.wrong}</li>
          ))}
          {trial.come.map((f) => (
            <li key={f.id}>
              Brings ({SEVERITY_WORDS[f.severity].toLowerCase()}): {f.wrong}
            </li>
          ))}
          {!trial.gone.length && !trial.come.length && <li>No finding changes.</li>}
        </ul>
      )}
      <span className="flex gap-2 pt-1">
        {!shownNow && (
          <button
            type="button"
            className="button"
            onClick={() => {
              setLooked(true);
              preview(fix.edits);
            }}
          >
            See what changes
          </button>
        )}
        {shownNow && (
          <>
            <button
              type="button"
              className="button button-main"
              onClick={() => void edit(fix.edits, fix.title)}
            >
              Apply
            </button>
            <button
              type="button"
              className="button"
              onClick={() => {
                setLooked(false);
                preview(null);
              }}
            >
              Leave it
            </button>
          </>
        )}
      </span>
    </li>
  );
}
