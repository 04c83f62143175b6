import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { useNavigate } from "react-router";
import { api, Refused, type Schemas, taken } from "../api/client";
import { useEdits, usePlan } from "../api/plan";

type Alternative = Schemas["Alternative"];

/** One line of typing: what it may mean is shown first, and done only when chosen. */
export default function CommandBar({
  open,
  onClose,
  line,
  onLine: setLine,
  onOpen,
}: {
  open: boolean;
  onClose: () => void;
  /** Opens another dialog in its place. */
  onOpen: (name: "keys" | "history") => void;
  line: string;
  onLine: (line: string) => void;
}) {
  const { standing } = usePlan();
  const { edit, undo, redo } = useEdits();
  const navigate = useNavigate();
  const { found, stale, isPending, error, refetch } = useAlternatives(open, line);
  const waiting = useRef<string | null>(null);
  const close = () => {
    waiting.current = null;
    setLine("");
    onClose();
  };
  const choose = (chosen: Alternative | null) => {
    if (!chosen) return;
    // What is shown still answers an earlier, shorter line: it is done once the answer to this one has it too.
    if (stale) {
      waiting.current = chosen.title;
      return;
    }
    close();
    if (chosen.go) navigate(`/plans/${standing.id}/${chosen.go}`);
    else if (chosen.do === "undo") undo();
    else if (chosen.do === "redo") redo();
    else if (chosen.do) onOpen(chosen.do);
    else void edit(chosen.edits ?? [], `typed: ${line}`);
  };
  useEffect(() => {
    if (stale || !waiting.current) return;
    const still = found.find((alternative) => alternative.title === waiting.current);
    waiting.current = null;
    if (still) choose(still);
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
      onKeyDown={(event) => {
        if (event.key === "Escape") close();
        // One field and its list: there is nowhere else to go before it is left.
        if (event.key === "Tab") event.preventDefault();
      }}
    >
      <div className="border-ink bg-sheet w-[46rem] max-w-full border-2 p-3 shadow-[4px_4px_0_var(--rule)]">
        <Combobox<Alternative | null> value={null} onChange={choose} immediate>
          <ComboboxOptions static modal={false} as="ul" className="mb-2 max-h-72 overflow-y-auto">
            {found.map((alternative) => (
              <ComboboxOption
                as="li"
                key={alternative.title}
                value={alternative}
                className="data-focus:bg-wash data-focus:border-accent cursor-pointer border-l-4 border-transparent px-2 py-1"
              >
                {alternative.title}
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
              setLine(event.target.value);
            }}
          />
        </Combobox>
        <Examples open={open} />
      </div>
    </div>
  );
}

/** What the typed line may mean; stale while that of an earlier line is still shown. */
function useAlternatives(open: boolean, line: string) {
  const { standing } = usePlan();
  const {
    data: found = [],
    isPlaceholderData: stale,
    ...rest
  } = useQuery({
    queryKey: ["command", standing.id, standing.version, line],
    enabled: open && line.trim() !== "",
    queryFn: async () =>
      taken(
        await api.POST("/api/plans/{id}/command", { params: { path: { id: standing.id } }, body: { line } }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
  return { found, stale, ...rest };
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
