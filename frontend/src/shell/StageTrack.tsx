import { memo, useLayoutEffect, useRef } from "react";
import { Link, useLocation } from "react-router";
import type { Schemas } from "../api/client";
import { usePlan, useTrial } from "../api/plan";
import { useSetupCount } from "../api/setup";
import { countOf, SeverityMark } from "../parts/Severity";
import { StateMark } from "../parts/StateMark";
import { useStageAhead } from "./ahead";
import { STAGES, type StageId } from "./stages";

/** The order of the work as a line with a stop for each stage: its state and its worst finding. */
export const StageTrack = memo(function StageTrack({ current }: { current: StageId }) {
  const { report } = useTrial();
  const { standing } = usePlan();
  const { search } = useLocation();
  const ahead = useStageAhead();
  const list = useRef<HTMLOListElement>(null);
  // On a phone the track is wider than the screen: where one is stays in sight.
  useLayoutEffect(() => {
    const [all, here] = [list.current, list.current?.querySelector<HTMLElement>(`[data-stage=${current}]`)];
    if (all && here) all.scrollLeft = here.offsetLeft - (all.clientWidth - here.clientWidth) / 2;
  }, [current]);
  return (
    <nav aria-label="Stages" className="no-print border-ink bg-sheet border-b">
      <ol ref={list} className="relative flex overflow-x-auto px-4 max-sm:px-2 max-sm:[scrollbar-width:none]">
        {STAGES.map((stage, i) => {
          const { id, name } = stage;
          const state = report.stages.find((s) => s.stage === id);
          const here = id === current;
          return (
            <li
              key={id}
              data-stage={id}
              className="relative min-w-28 flex-1 max-sm:min-w-max max-sm:whitespace-nowrap"
            >
              <span
                aria-hidden
                className={`absolute top-[13px] right-0 left-0 border-t ${i === 0 ? "ml-[7px]" : ""} border-faint`}
              />
              <Link
                to={`/plans/${standing.id}/${id}${search}`}
                onClick={() => ahead(stage)}
                aria-current={here ? "page" : undefined}
                className={`relative flex items-start gap-1.5 py-1 leading-tight max-sm:py-1.5 ${here ? "font-semibold" : ""}`}
              >
                <span className="bg-sheet inline-flex h-[18px] shrink-0 items-center">
                  {state?.worst ? (
                    <SeverityMark severity={state.worst} />
                  ) : state?.not_known ? (
                    <StateMark state="not known" />
                  ) : (
                    <span
                      aria-hidden
                      className={`border-ink block h-[11px] w-[11px] rotate-45 border ${state?.state === "begun" ? "bg-ink" : "bg-sheet border-dashed"}`}
                    />
                  )}
                </span>
                <span className="bg-sheet min-w-0 pr-2">
                  <span
                    className={`block whitespace-nowrap ${here ? "decoration-accent underline decoration-2 underline-offset-4" : ""}`}
                  >
                    {i + 1} {name}
                  </span>
                  <span className="text-faint block text-note font-normal max-sm:sr-only">
                    {id === "set-up" ? <SeenToday /> : state && said(state)}
                  </span>
                </span>
              </Link>
            </li>
          );
        })}
      </ol>
    </nav>
  );
});

/** How much of the set-up was seen: a count of the day, and no judgement of the plan. */
function SeenToday() {
  const count = useSetupCount();
  if (!count?.of) return "not begun";
  return count.seen === count.of ? "all seen today" : `${count.seen} of ${count.of} seen`;
}

/** What is said of a stage: its findings, what is not known there, or that nothing is against it. */
function said({ worst, worst_count, findings, not_known, state }: Schemas["StageState"]): string {
  const parts = [
    worst && (worst_count ? countOf(worst_count, worst) : `${findings} accepted`),
    not_known > 0 && `${not_known} not known`,
  ].filter(Boolean);
  if (parts.length) return parts.join(", ");
  return state === "begun" ? "no findings" : "not begun";
}
