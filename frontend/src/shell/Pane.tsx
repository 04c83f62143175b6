import { useEffect, useRef } from "react";
import { Link, useParams } from "react-router";
import { useOtherPicks } from "../api/otherDesks";
import { type Picked, type PickedNoun, pickedBy } from "../api/pick";
import { usePlan, useSelection, useTrial } from "../api/plan";
import { moment } from "../parts/numbers";
import { countOf, SeverityMark } from "../parts/Severity";
import { DeviceSetup } from "../stages/set-up/DeviceSetup";
import { FindingList, OfTrial } from "./FindingList";
import { Key } from "./Key";
import { type Mark, OpenedFinding } from "./OpenedFinding";
import { ThingBody } from "./ThingBody";

/** What is picked at other desks, each a step there. */
function OtherDesks() {
  const { plan } = usePlan().standing;
  const { pick } = useSelection();
  const picks = useOtherPicks();
  const named = new Map(
    [plan.sites, plan.places, plan.uplinks, plan.networks, plan.devices, plan.routers]
      .flat()
      .map((thing) => [thing.id, thing.name]),
  );
  return picks.map((key) => {
    const what = pickedBy(key);
    const name = what && ("finding" in what ? "a finding" : (named.get(what.id) ?? `a ${what.noun}`));
    return (
      <p key={key} className="margin-note border-rule bg-sheet sticky bottom-0 border-t px-3 py-1">
        Another desk is at{" "}
        <button type="button" className="link" onClick={() => pick(what)}>
          {name}
        </button>
      </p>
    );
  });
}

/** The one pane at the side: what is picked, wherever it was picked; nothing picked, the findings. */
export function Pane({ folded, onFold }: { folded: boolean; onFold: (folded: boolean) => void }) {
  const { standing } = usePlan();
  const { picked, pick } = useSelection();
  const found = standing.report.findings;
  useFocusBack(picked);
  if (folded)
    return (
      <aside
        id="pane"
        tabIndex={-1}
        aria-label="Findings"
        className="no-print border-ink bg-sheet order-first shrink-0 border-b max-sm:hidden lg:order-none lg:border-b-0 lg:border-l"
      >
        <button
          type="button"
          className="flex w-full cursor-pointer items-center gap-2 px-2 py-3 lg:[writing-mode:vertical-rl]"
          aria-expanded={false}
          onClick={() => onFold(false)}
        >
          {found[0] && <SeverityMark severity={found[0].severity} />}
          <span>
            <strong>Findings</strong>, {found.length ? <Counts marks={false} /> : "no findings"}
          </span>
        </button>
      </aside>
    );
  return (
    <aside
      id="pane"
      tabIndex={-1}
      aria-label="Findings"
      className="no-print border-ink bg-sheet order-first flex max-h-[60vh] w-full shrink-0 flex-col overflow-y-auto border-b max-sm:fixed max-sm:inset-x-0 max-sm:top-14 max-sm:bottom-11 max-sm:z-20 max-sm:max-h-none lg:absolute lg:inset-y-0 lg:right-0 lg:z-20 lg:order-none lg:max-h-none lg:w-[340px] lg:border-b-0 lg:border-l xl:static xl:z-auto"
    >
      <div className="border-ink bg-sheet sticky top-0 z-10 border-b px-3 pt-2 pb-1">
        <div className="flex items-baseline justify-between">
          {picked ? (
            <button id="let-go" type="button" className="link" onClick={() => pick(null)}>
              All findings
            </button>
          ) : (
            <h2>Findings</h2>
          )}
          <button type="button" className="link text-small" aria-expanded onClick={() => onFold(true)}>
            <span className="sm:hidden">Back to the page</span>
            <span className="max-sm:hidden">
              Fold<span className="sr-only"> the pane</span>
            </span>{" "}
            <span className="max-sm:hidden">
              <Key of="fold" />
            </span>
          </button>
        </div>
        <p className="margin-note">{found.length ? <Counts marks /> : "no findings"}</p>
      </div>
      {picked ? (
        <>
          <OfTrial />
          <PickedBody picked={picked} />
        </>
      ) : (
        <FindingList />
      )}
      <OtherDesks />
      <p className="margin-note mt-auto px-3 py-2 text-note">
        Judged as of {moment(standing.report.as_of, standing.plan.show.zone)} ·{" "}
        <Link className="link" to="/glossary">
          Glossary
        </Link>
      </p>
    </aside>
  );
}

const SEVERITIES = ["stops", "risks", "note"] as const;

/** How many findings of each kind there are, and how many doubts were accepted. */
function Counts({ marks }: { marks: boolean }) {
  const found = usePlan().standing.report.findings;
  const accepted = found.filter((f) => f.accepted).length;
  return (
    <span className={`inline-flex flex-wrap ${marks ? "gap-x-3" : "gap-2"}`}>
      {SEVERITIES.map((severity) => {
        const these = found.filter((f) => f.severity === severity && !f.accepted).length;
        return (
          these > 0 && (
            <span key={severity} className="inline-flex items-center gap-1 whitespace-nowrap">
              {marks && <SeverityMark severity={severity} size={12} />} {countOf(these, severity)}
            </span>
          )
        );
      })}
      {accepted > 0 && <span className="whitespace-nowrap">{accepted} accepted</span>}
    </span>
  );
}

/** A finding that is picked, and the thing that it is of; or a thing alone. */
function PickedBody({ picked }: { picked: Picked }) {
  const { standing } = usePlan();
  const { report, trial } = useTrial();
  const { stage } = useParams();
  if (!("finding" in picked))
    return stage === "set-up" && picked.noun === "device" ? (
      <DeviceSetup id={picked.id} />
    ) : (
      <ThingBody noun={picked.noun} id={picked.id} />
    );
  const coming = trial?.come.find((f) => f.id === picked.finding);
  const finding = report.findings.find((f) => f.id === picked.finding) ?? coming ?? trial?.gone.find((f) => f.id === picked.finding); // biome-ignore format: one look
  if (!finding)
    return (
      <>
        <p className="px-3 py-2" role="status">
          The finding that was picked is no more.
        </p>
        <FindingList />
      </>
    );
  const stands = standing.report.findings.some((f) => f.id === finding.id);
  const mark: Mark = !stands
    ? "would come"
    : trial?.gone.some((f) => f.id === finding.id)
      ? "would go"
      : null;
  return (
    <>
      <OpenedFinding finding={finding} mark={mark} />
      {finding.noun !== "show" && finding.noun !== "settings" && (
        <ThingBody noun={finding.noun as PickedNoun} id={finding.subject} under />
      )}
    </>
  );
}

/** Who opens a finding in the list is in the pane, and comes back to where it was opened. */
function useFocusBack(picked: Picked | null) {
  const before = useRef(picked);
  useEffect(() => {
    const was = before.current;
    before.current = picked;
    if (was === picked) return;
    if (picked && document.activeElement === document.body) document.getElementById("let-go")?.focus();
    if (!picked && was && "finding" in was)
      document.querySelector<HTMLElement>(`[data-finding="${CSS.escape(was.finding)}"]`)?.focus();
  }, [picked]);
}
