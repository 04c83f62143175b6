import { memo, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Finding } from "../api/client";
import { accept, reopen } from "../api/edits";
import { useEdits, usePlan, useSelection, useTrial } from "../api/plan";
import { Cures } from "../parts/Cures";
import { Sum } from "../parts/Figure";
import { moment } from "../parts/numbers";
import { SeenWorking } from "../parts/SeenWorking";
import { SEVERITY_WORDS, SeverityMark } from "../parts/Severity";
import { StateMark } from "../parts/StateMark";
import { Key } from "./Key";

/** Every finding of the plan: one line each in the margin, this stage's first, then worst first. One opens at a time,
 * over the page and never in its way. What a trial would end or bring is marked as such. */
export const Docket = memo(function Docket({
  folded,
  onFold,
}: {
  folded: boolean;
  onFold: (folded: boolean) => void;
}) {
  const { standing } = usePlan();
  const { trial, report } = useTrial();
  const { stage } = useParams();
  const [opened, setOpened] = useState<string | null>(null);
  const [most, setMost] = useState(40);
  const found = standing.report.findings;
  const now = useMemo(() => {
    const here = (f: Finding) => f.stage === stage;
    return [...found.filter(here), ...found.filter((f) => !here(f))];
  }, [found, stage]);
  const going = new Set(trial?.gone.map((f) => f.id));
  const coming = trial?.come ?? [];
  const unknown = report.stages.reduce((sum, each) => sum + each.not_known, 0);
  const count = now.length ? `${now.length} finding${now.length > 1 ? "s" : ""}` : "no findings";
  if (folded)
    return (
      <aside
        id="docket"
        tabIndex={-1}
        aria-label="Docket"
        className="no-print border-ink bg-sheet order-first shrink-0 border-b lg:order-none lg:border-b-0 lg:border-l"
      >
        <button
          type="button"
          className="flex w-full cursor-pointer items-center gap-2 px-2 py-3 lg:[writing-mode:vertical-rl]"
          aria-expanded={false}
          onClick={() => onFold(false)}
        >
          {found[0] && <SeverityMark severity={found[0].severity} />}
          <span>
            <strong>Docket</strong>, {count}
          </span>
        </button>
      </aside>
    );
  return (
    <aside
      id="docket"
      tabIndex={-1}
      aria-label="Docket"
      className="no-print border-ink bg-sheet relative order-first flex w-full shrink-0 flex-col border-b lg:order-none lg:w-[200px] lg:border-b-0 lg:border-l"
    >
      <div className="border-ink border-b px-3 pt-3 pb-1">
        <div className="flex items-baseline justify-between">
          <h2>Docket</h2>
          <button type="button" className="link text-[13px]" aria-expanded onClick={() => onFold(true)}>
            Fold<span className="sr-only"> the docket</span> <Key of="fold" />
          </button>
        </div>
        <p className="margin-note">
          {now.length ? (
            <span className="flex flex-wrap gap-x-3">
              {SEVERITIES.map((severity) => {
                const these = now.filter((f) => f.severity === severity && !f.accepted).length;
                return (
                  these > 0 && (
                    <span key={severity} className="inline-flex items-center gap-1 whitespace-nowrap">
                      <SeverityMark severity={severity} size={12} /> {these}{" "}
                      {these > 1 && severity === "stops"
                        ? "stop the show"
                        : SEVERITY_WORDS[severity].toLowerCase()}
                    </span>
                  )
                );
              })}
              {now.some((f) => f.accepted) && (
                <span className="whitespace-nowrap">{now.filter((f) => f.accepted).length} accepted</span>
              )}
            </span>
          ) : (
            count
          )}
        </p>
      </div>
      <p aria-live="polite" className="margin-note px-3 pt-1 empty:hidden">
        {trial &&
          (trial.gone.length + coming.length
            ? `As typed: ${trial.gone.length} would go, ${coming.length} would come.`
            : "As typed: the findings stay the same.")}
      </p>
      <ul className="max-h-[50vh] overflow-y-auto lg:max-h-none">
        {coming.map((finding) => (
          <Entry
            key={`come-${finding.id}`}
            finding={finding}
            mark="would come"
            open={opened === finding.id}
            onOpen={setOpened}
          />
        ))}
        {now.slice(0, most).map((finding) => (
          <Entry
            key={finding.id}
            finding={report.findings.find((f) => f.id === finding.id) ?? finding}
            mark={going.has(finding.id) ? "would go" : null}
            open={opened === finding.id}
            onOpen={setOpened}
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
          <li className="border-rule flex items-start gap-2 border-b px-3 py-2 text-[13px]">
            <span className="pt-[2px]">
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
        <p className="text-faint px-3 py-3">
          {standing.plan.aims.length
            ? "Nothing found against this plan as it stands. Rehearse it all the same."
            : "No picture is required of this plan yet: say in Brief which picture must arrive where."}
        </p>
      )}
      <p className="margin-note mt-auto px-3 py-2 text-[12px]">
        Judged as of {moment(report.as_of, standing.plan.show.zone)}
      </p>
    </aside>
  );
});

const SEVERITIES: readonly Finding["severity"][] = ["stops", "risks", "note"];

/** A finding: its line in the margin, and beside it, over the page, all that is said of it once it is opened. */
function Entry({
  finding,
  mark,
  open,
  onOpen,
}: {
  finding: Finding;
  mark: "would go" | "would come" | null;
  open: boolean;
  onOpen: (id: string | null) => void;
}) {
  const { selected, select } = useSelection();
  const line = useRef<HTMLButtonElement>(null);
  const [away, setAway] = useState(false);
  const here = selected === finding.subject;
  const close = () => {
    onOpen(null);
    line.current?.focus();
  };
  return (
    <li
      className={`border-rule border-b ${open || here ? "bg-wash" : ""}`}
      onKeyDown={(event) => {
        if (event.key === "Escape" && open) {
          event.stopPropagation();
          close();
        }
      }}
    >
      <button
        ref={line}
        type="button"
        className="flex w-full cursor-pointer items-start gap-2 px-3 py-2 text-left text-[13px] leading-tight"
        aria-expanded={open}
        title={finding.wrong}
        onClick={() => {
          setAway(liesRight(finding.subject));
          onOpen(open ? null : finding.id);
          select(open ? null : finding.subject, true);
        }}
      >
        <span className="pt-px">
          <SeverityMark severity={finding.severity} />
        </span>
        <span className="min-w-0">
          <span className="text-faint block text-[12px]">
            {finding.stage}
            {finding.accepted && " · accepted"}
            {mark && <strong className="text-ink"> · {mark}</strong>}
          </span>
          <span className={`line-clamp-3 ${mark === "would go" ? "line-through" : ""}`}>{finding.wrong}</span>
        </span>
      </button>
      {open && (
        <section
          aria-label={finding.wrong}
          className={`border-ink bg-sheet space-y-2 border-t px-4 py-3 lg:absolute lg:inset-y-0 lg:z-20 lg:w-[400px] lg:overflow-y-auto lg:border-t-0 ${away ? "lg:right-[calc(100vw-400px)] lg:border-r" : "lg:right-full lg:border-l"}`}
        >
          <Opened finding={finding} mark={mark} onClose={close} />
        </section>
      )}
    </li>
  );
}

/** Whether a thing is drawn where an opened finding would hide it. */
function liesRight(subject: string): boolean {
  const at = document.querySelector(`main [data-of="${CSS.escape(subject)}"]`)?.getBoundingClientRect();
  return at !== undefined && at.right > window.innerWidth - 600;
}

/** What is wrong, what it means, the best fix; the sum and other ways folded. */
function Opened({
  finding,
  mark,
  onClose,
}: {
  finding: Finding;
  mark: "would go" | "would come" | null;
  onClose: () => void;
}) {
  const { standing } = usePlan();
  const { stage } = useParams();
  const navigate = useNavigate();
  return (
    <>
      <div className="flex items-start justify-between gap-3">
        <h3>
          <span className="text-faint block text-[12px] font-normal">
            {SEVERITY_WORDS[finding.severity]} · {finding.stage}
          </span>
          {finding.wrong}
        </h3>
        <button type="button" className="link text-[13px]" onClick={onClose}>
          Close
        </button>
      </div>
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
          onClick={() => navigate(`/plans/${standing.id}/${finding.stage}`)}
        >
          Show in {finding.stage}
        </button>
      )}
    </>
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
