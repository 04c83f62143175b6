import { lazy, Suspense } from "react";

const CommandBar = lazy(() => import("./CommandBar"));
const KeysDialog = lazy(() => import("./KeysDialog"));
const HistoryDialog = lazy(() => import("./HistoryDialog"));

export type DialogName = "command" | "keys" | "history";

/** What opens over a plan: loaded beside the first page, and there before a hand can ask for it. */
export function Dialogs({
  open,
  onClose,
  line,
  onLine,
}: {
  open: DialogName | null;
  onClose: () => void;
  /** What was typed into the command bar, also while it was not there yet. */
  line: string;
  onLine: (line: string) => void;
}) {
  return (
    <Suspense>
      <CommandBar open={open === "command"} onClose={onClose} line={line} onLine={onLine} />
      <KeysDialog open={open === "keys"} onClose={onClose} />
      <HistoryDialog open={open === "history"} onClose={onClose} />
    </Suspense>
  );
}
