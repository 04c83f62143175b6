import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { api, type Finding, Refused, type Schemas, type Standing, taken } from "../api/client";
import { measured as asEntry, lost as asLost, seen as asSeen } from "../api/entries";
import { SECRET_FIELDS } from "../api/form";
import { pickedBy } from "../api/pick";
import { useEdits, usePlan, useSelection } from "../api/plan";
import { SeverityMark } from "../parts/Severity";
import { switchTheme } from "./theme";

type Alternative = Schemas["Alternative"];
/** Chosen before anything was shown. */
const FIRST = "the first";

/** One line of typing: what it may mean is shown first, and done only when chosen. */
export default function CommandBar({
  open,
  onClose,
  line,
  onLine: setLine,
  onOpen,
  onFindings,
}: {
  open: boolean;
  onClose: () => void;
  /** Opens another dialog in its place. */
  onOpen: (name: "keys" | "history") => void;
  onFindings: () => void;
  line: string;
  onLine: (line: string) => void;
}) {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const { found, stale, isPending, error, refetch } = useAlternatives(open, line);
  const waiting = useRef<string | null>(null);
  /** Whether an answer was gone to by the arrows: else Enter means the first. */
  const moved = useRef(false);
  const [asked, setAsked] = useState<Asked | null>(null);
  const close = () => {
    waiting.current = null;
    moved.current = false;
    setAsked(null);
    setLine("");
    onClose();
  };
  const does = useDoing(onOpen, onFindings);
  const apply = (chosen: Alternative) => {
    close();
    const made = edit(chosen.edits ?? [], tellsKey(chosen) ? "typed" : `typed: ${line}`);
    // What has to be gone on with on another page leads there.
    if (chosen.page) void made.then((kept) => kept && does(chosen));
  };
  const choose = async (chosen: Alternative | null) => {
    if (!chosen) return;
    // What is shown still answers an earlier, shorter line: it is done once the answer to this one has it too.
    if (stale) {
      waiting.current = chosen.title;
      return;
    }
    if (!chosen.edits?.length) {
      const { go, pick, do: action, measured, seen, lost } = chosen;
      if (!go && !pick && !action && !measured && !seen.length && !lost) return; // it says why: the line stays, to be mended
      close();
      return does(chosen);
    }
    // What adds a finding, or has to be bought, is shown before it is done.
    const come = await comesOf(standing.id, chosen).catch(() => null);
    if (!come || come.some((f) => f.severity !== "note") || chosen.to_get?.length)
      setAsked({ of: chosen, come });
    else apply(chosen);
  };
  useEffect(() => {
    if (stale || !waiting.current || (isPending && line.trim())) return;
    const wanted = waiting.current;
    const still = wanted === FIRST ? found[0] : found.find(({ title }) => title === wanted);
    waiting.current = null;
    if (still) void choose(still);
  });
  useFocusBack(open);
  if (!open) return null;
  // No dialog that makes the page inert: that costs as much as the page is large, and a line is typed often.
  return (
    <div
      role="dialog"
      aria-label="Command bar"
      className="fixed inset-0 z-40 flex items-end justify-center p-4"
      onMouseDown={(event) => event.target === event.currentTarget && close()}
      onKeyDownCapture={(event) => {
        if (event.key.startsWith("Arrow")) {
          moved.current = true;
          setAsked(null);
        }
        if (event.key !== "Enter" || (!asked && moved.current)) return;
        event.preventDefault();
        event.stopPropagation();
        if (asked) apply(asked.of);
        else if (stale || !found[0])
          waiting.current = FIRST; // the answer is under way
        else void choose(found[0]);
      }}
      onKeyDown={(event) => {
        if (event.key === "Escape") close();
        // One field and its list: there is nowhere else to go before it is left.
        if (event.key === "Tab") event.preventDefault();
      }}
    >
      <div className="border-ink bg-sheet w-[46rem] max-w-full border-2 p-3 shadow-[4px_4px_0_var(--rule)]">
        <Combobox<Alternative | null> value={null} onChange={(chosen) => void choose(chosen)} immediate>
          <ComboboxOptions
            static
            modal={false}
            as="ul"
            aria-busy={stale}
            className="mb-2 max-h-72 overflow-y-auto"
          >
            {found.map((alternative) => (
              <ComboboxOption
                as="li"
                key={alternative.title}
                value={alternative}
                className="data-focus:bg-wash data-focus:border-accent cursor-pointer border-l-4 border-transparent px-2 py-1"
              >
                {alternative.title}
                {steps(alternative.do, standing)}
              </ComboboxOption>
            ))}
          </ComboboxOptions>
          {line && error && <NotLookedUp error={error} again={() => void refetch()} />}
          {line && !error && !isPending && !found.length && (
            <p className="margin-note px-2 pb-2">That means nothing here yet. Try the examples below.</p>
          )}
          <ComboboxInput
            autoFocus
            className="field font-mono"
            displayValue={() => line}
            aria-label="Command"
            placeholder="type a line"
            autoComplete="off"
            onChange={(event) => {
              waiting.current = null;
              moved.current = false;
              setAsked(null);
              setLine(event.target.value);
            }}
          />
        </Combobox>
        {asked && <BeforeItIsDone asked={asked} />}
        <Examples open={open} />
      </div>
    </div>
  );
}

/** An alternative that is chosen and not yet done, and the findings that it would add; null where that could not be looked up. */
interface Asked {
  of: Alternative;
  come: readonly Finding[] | null;
}

async function comesOf(id: string, chosen: Alternative): Promise<readonly Finding[]> {
  const body = { edits: chosen.edits ?? [] };
  return taken(await api.POST("/api/plans/{id}/try", { params: { path: { id } }, body })).come;
}

const tellsKey = (chosen: Alternative) =>
  (chosen.edits ?? []).some((e) => "field" in e && SECRET_FIELDS.some((name) => e.field.endsWith(name)));

/** What a step through the history takes back or does again. */
function steps(action: Alternative["do"], { undoes, redoes }: Standing) {
  if (action !== "undo" && action !== "redo") return "";
  const what = action === "undo" ? undoes : redoes;
  return what ? `: ${what.join("; ")}` : `: there is nothing to ${action}`;
}

function BeforeItIsDone({ asked }: { asked: Asked }) {
  const { of, come } = asked;
  return (
    <div role="alert" className="border-accent bg-wash mt-2 border-l-4 px-3 py-1 text-small">
      {of.to_get?.length ? <p>To be got first: {of.to_get.join(", ")}.</p> : null}
      {!come && <p>What it would change could not be looked up.</p>}
      {come?.map((finding) => (
        <p key={finding.id} className="flex gap-1.5">
          <SeverityMark severity={finding.severity} />
          <span>would come: {finding.wrong}</span>
        </p>
      ))}
      <p className="font-semibold">Enter again does it all the same, Escape leaves.</p>
    </div>
  );
}

/** Does what is no edit: opens a page, picks a thing, adds a measurement, or what the frame does. */
function useDoing(onOpen: (name: "keys" | "history") => void, onFindings: () => void) {
  const { standing } = usePlan();
  const { undo, redo, write } = useEdits();
  const { pick } = useSelection();
  const navigate = useNavigate();
  const here = `/plans/${standing.id}`;
  return ({ go, page, pick: picked, do: action, measured, seen, lost, fault }: Alternative) => {
    const to = `${here}/${go}${page ? `/${page}` : ""}`;
    const acts: Record<NonNullable<Alternative["do"]>, () => void> = {
      undo,
      redo,
      history: () => onOpen("history"),
      keys: () => onOpen("keys"),
      light: switchTheme,
      findings: onFindings,
      plans: () => navigate("/"),
      glossary: () => navigate("/glossary"),
      export: () => window.location.assign(`/api${here}/export`),
      print: () => navigate(`${here}/papers#print`),
    };
    if (action) acts[action]();
    else if (fault) navigate(`${to}?dark=${encodeURIComponent(fault.picture)}&as=${fault.symptom}`);
    else if (go) navigate(picked ? `${to}?pick=${picked}` : to);
    else if (picked) pick(pickedBy(picked));
    if (seen.length)
      void write(seen.map((one) => asSeen(one.device, one.steps, { picture: one.picture ?? false })));
    if (lost) void write([asLost(lost.device, lost.how ?? "power-off")]);
    if (measured)
      void write([asEntry({ ...measured, at: new Date().toISOString() })], standing.plan.show.zone ?? "");
  };
}

/** A line is looked up once the hand rests, in ms: what is typed on is not asked for. */
const BETWEEN_KEYS_MS = 40;

/** What the typed line may mean; stale while that of an earlier line is still shown. */
function useAlternatives(open: boolean, line: string) {
  const { standing } = usePlan();
  const [rested, setRested] = useState(line);
  useEffect(() => {
    const wait = window.setTimeout(() => setRested(line), BETWEEN_KEYS_MS);
    return () => window.clearTimeout(wait);
  }, [line]);
  const {
    data: found = [],
    isPlaceholderData,
    ...rest
  } = useQuery({
    queryKey: ["command", standing.id, standing.version, rested],
    enabled: open && rested.trim() !== "",
    queryFn: async ({ signal }) =>
      taken(
        await api.POST("/api/plans/{id}/command", {
          params: { path: { id: standing.id } },
          body: { line: rested },
          signal,
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
  const stale = isPlaceholderData || rested !== line;
  return { found: line.trim() ? found : [], stale, ...rest };
}

/** Lines that mean something for this plan. */
function useExamples(open: boolean) {
  const { standing } = usePlan();
  return (
    useQuery({
      queryKey: ["command-examples", standing.id, standing.version],
      enabled: open,
      queryFn: async () =>
        taken(await api.GET("/api/plans/{id}/command/examples", { params: { path: { id: standing.id } } })),
      placeholderData: (before) => before,
    }).data ?? []
  );
}

/** The hand is back where it was once the bar is left. */
function useFocusBack(open: boolean) {
  useEffect(() => {
    if (!open) return;
    const before = document.activeElement;
    return () => (before instanceof HTMLElement ? before.focus() : undefined);
  }, [open]);
}

function Examples({ open }: { open: boolean }) {
  const examples = useExamples(open);
  return (
    <p className="margin-note mt-2">
      {examples.map((example) => (
        <span key={example}>
          <kbd>{example}</kbd> ·{" "}
        </span>
      ))}
      arrows choose, Enter does it, Escape leaves.
    </p>
  );
}

function NotLookedUp({ error, again }: { error: unknown; again: () => void }) {
  return (
    <p role="alert" className="px-2 pb-2">
      This line could not be looked up.{" "}
      {error instanceof Refused ? error.message : "The server cannot be reached."}{" "}
      <button type="button" className="link" onClick={again}>
        Look again
      </button>
    </p>
  );
}
