import { Suspense, useEffect, useMemo, useState } from "react";
import { flushSync } from "react-dom";
import { Link, useLocation, useNavigate, useParams } from "react-router";
import { useEdits, usePlan, useSelection } from "../api/plan";
import { useUnanswered } from "../api/views";
import { SeverityMark } from "../parts/Severity";
import { useStageAhead } from "./ahead";
import { type DialogName, Dialogs } from "./dialogs";
import { Key } from "./Key";
import { type Action, actionOf, stageOf } from "./keys";
import { loadTheRest } from "./loading";
import { Pane } from "./Pane";
import { StageTrack } from "./StageTrack";
import { SyncLine, SyncTrouble } from "./SyncLine";
import { STAGES, type Stage, type StageId } from "./stages";
import { switchTheme } from "./theme";

/** From how wide a window the pane stands beside the page, in px; narrower, over it. */
const PANE_BESIDE = 1280;

/** The frame around every stage of a plan. */
export function PlanFrame() {
  const { standing } = usePlan();
  const { stage } = useParams();
  const [folded, setFolded] = useState(
    () =>
      (localStorage.getItem("humble-relay:pane") ?? (window.innerWidth < PANE_BESIDE ? "folded" : "")) ===
      "folded",
  );
  useEffect(() => localStorage.setItem("humble-relay:pane", folded ? "folded" : "open"), [folded]);
  const { picked, pick } = useSelection();
  // Where there is no room beside the page, the pane comes with what is picked, and goes with it.
  useEffect(() => {
    if (window.innerWidth < PANE_BESIDE) setFolded(picked === null);
  }, [picked]);
  const [open, setOpen] = useState<DialogName | null>(null);
  const [line, setLine] = useState("");
  const current: StageId = STAGES.find((s) => s.id === stage)?.id ?? "brief";
  const Page = (STAGES.find((s) => s.id === current) ?? STAGES[0])?.Page;

  // The stage is not drawn again for what the frame does around it.
  const page = useMemo(
    () =>
      Page && (
        <Suspense fallback={<p className="text-faint">Opening the stage.</p>}>
          <Page />
        </Suspense>
      ),
    [Page],
  );

  useEffect(loadTheRest, []);
  useEffect(() => {
    document.title = `${standing.plan.show.name} · ${current} · Humble Relay`;
  }, [standing.plan.show.name, current]);

  useKeys({
    open,
    show: setOpen,
    type: (key) => setLine((before) => before + key),
    fold: setFolded,
  });

  return (
    <div className="flex min-h-screen flex-col lg:h-screen print:h-auto">
      <Header show={setOpen} onFindings={() => setFolded(false)} />
      <SyncTrouble />
      <StageTrack current={current} />
      <div className="relative flex min-h-0 flex-1 flex-col lg:flex-row">
        <main
          className="relative min-w-0 flex-1 overflow-y-auto px-5 pt-3 max-sm:pb-14 print:overflow-visible"
          tabIndex={-1}
        >
          {page}
          <Unanswered stage={current} />
        </main>
        <Pane folded={folded} onFold={setFolded} />
      </div>
      <Dialogs
        open={open}
        onClose={() => setOpen(null)}
        onOpen={setOpen}
        onFindings={() => {
          pick(null);
          toFindings(setFolded);
        }}
        line={line}
        onLine={setLine}
      />
    </div>
  );
}

/** Unfolds the pane, and puts the hand on the first finding. */
function toFindings(fold: (change: (now: boolean) => boolean) => void) {
  fold(() => false);
  requestAnimationFrame(() => document.querySelector<HTMLElement>("#pane li button")?.focus());
}

/** The keys of the page: they do what the buttons do, and open the stages. */
function useKeys({
  open,
  show,
  type,
  fold,
}: {
  open: DialogName | null;
  show: (name: DialogName) => void;
  /** Takes what is typed while the command bar is asked for and not on the screen yet. */
  type: (key: string) => void;
  fold: (change: (now: boolean) => boolean) => void;
}) {
  const { id } = usePlan().standing;
  const { undo, redo } = useEdits();
  const { pick } = useSelection();
  const ahead = useStageAhead();
  const navigate = useNavigate();
  const { search } = useLocation();
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const typing = (event.target as HTMLElement).closest("input, textarea, select, [role=dialog]");
      const combined = event.ctrlKey || event.metaKey;
      if (combined && event.key.toLowerCase() === "z" && !typing) {
        event.preventDefault();
        if (event.shiftKey) redo();
        else undo();
        return;
      }
      if (combined && event.key.toLowerCase() === "k") {
        event.preventDefault();
        flushSync(() => show("command"));
        return;
      }
      if (typing || combined || event.altKey) return;
      if (open) {
        // Asked for and not on the screen yet: what is typed meanwhile is not lost, and does nothing else.
        if (open === "command" && event.key.length === 1) {
          event.preventDefault();
          flushSync(() => type(event.key));
        }
        return;
      }
      if (event.key === "Escape") {
        pick(null);
        return;
      }
      const chosen = STAGES[stageOf(event.key) - 1];
      const actions: Record<Action, () => void> = {
        command: () => flushSync(() => show("command")),
        keys: () => show("keys"),
        history: () => show("history"),
        findings: () => toFindings(fold),
        undo,
        redo,
        fold: () => fold((now) => !now),
        light: switchTheme,
      };
      const named = actionOf(event.key);
      const go = (stage: Stage) => {
        ahead(stage);
        navigate(`/plans/${id}/${stage.id}${search}`);
      };
      const action = chosen ? () => go(chosen) : named && actions[named];
      if (!action) return;
      event.preventDefault();
      action();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [open, show, type, fold, ahead, navigate, pick, redo, search, id, undo]);
}

function Header({ show, onFindings }: { show: (name: DialogName) => void; onFindings: () => void }) {
  const { standing } = usePlan();
  const { undo, redo } = useEdits();
  return (
    <header className="no-print flex items-center gap-x-4 px-4 py-1 max-sm:px-2 max-sm:py-0 sm:flex-wrap sm:gap-y-1">
      <Link to="/" className="text-faint max-sm:sr-only">
        Humble Relay
      </Link>
      <h1 className="min-w-0 truncate text-head font-semibold max-sm:text-body">{standing.plan.show.name}</h1>
      <SyncLine />
      <span className="border-ink max-sm:bg-sheet ml-auto flex flex-wrap justify-end gap-2 max-sm:fixed max-sm:inset-x-0 max-sm:bottom-0 max-sm:z-30 max-sm:flex-nowrap max-sm:justify-around max-sm:gap-1 max-sm:border-t max-sm:p-1 max-sm:[&_.key]:hidden [&>.button]:px-2 [&>.button]:py-0.5 [&>.button]:text-small max-sm:[&>.button]:min-h-9">
        <button type="button" className="button" onClick={() => show("command")}>
          <span className="max-sm:sr-only">Type a command</span>
          <span aria-hidden className="sm:hidden">
            Command
          </span>{" "}
          <Key of="command" />
        </button>
        <button type="button" className="button sm:hidden" onClick={onFindings}>
          Findings <Worst />
        </button>
        <button type="button" className="button" onClick={undo} {...does("Takes back", standing.undoes)}>
          Undo <Key of="undo" />
        </button>
        <button
          type="button"
          className="button max-sm:hidden"
          onClick={redo}
          {...does("Does again", standing.redoes)}
        >
          Redo <Key of="redo" />
        </button>
        <button type="button" className="button" onClick={() => show("history")}>
          History <Key of="history" />
        </button>
        <button type="button" className="button" onClick={switchTheme}>
          Light <Key of="light" />
        </button>
        <button type="button" className="button max-sm:hidden" onClick={() => show("keys")} aria-label="Keys">
          <Key of="keys" always />
        </button>
      </span>
    </header>
  );
}

/** What a step through the history would do, said where the pointer or the focus is; off where there is none. */
function does(verb: string, what: readonly string[] | null) {
  const says = what && `${verb}: ${what.join("; ")}`;
  return { disabled: !what, title: says ?? undefined, "aria-description": says ?? undefined };
}

/** How many findings are of the worst kind, for where there is no room for more. */
function Worst() {
  const found = usePlan().standing.report.findings.filter((f) => !f.accepted);
  const worst = found[0]?.severity;
  if (!worst) return null;
  return (
    <span className="inline-flex items-center gap-1">
      <SeverityMark severity={worst} size={12} />
      {found.filter((f) => f.severity === worst).length}
    </span>
  );
}

/** Where a stage cannot draw its view, why. */
function Unanswered({ stage }: { stage: StageId }) {
  const why = useUnanswered(stage);
  return why ? (
    <p role="alert" className="text-accent font-semibold">
      {why}
    </p>
  ) : null;
}
