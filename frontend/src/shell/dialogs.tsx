import { Suspense } from "react";
import { apart } from "./loading";

const CommandBar = apart(() => import("./CommandBar"));
const KeysDialog = apart(() => import("./KeysDialog"));
const HistoryDialog = apart(() => import("./HistoryDialog"));

export type DialogName = "command" | "keys" | "history";

/** What opens over a plan: loaded beside the first page, and there before a hand can ask for it. */
export function Dialogs({
  open,
  onClose,
  onOpen,
  onFindings,
  line,
  onLine,
}: {
  open: DialogName | null;
  onClose: () => void;
  onOpen: (name: DialogName) => void;
  onFindings: () => void;
  /** What was typed into the command bar, also while it was not there yet. */
  line: string;
  onLine: (line: string) => void;
}) {
  return (
    <Suspense>
      <CommandBar open={open === "command"} {...{ onClose, line, onLine, onOpen, onFindings }} />
      <KeysDialog open={open === "keys"} onClose={onClose} />
      <HistoryDialog open={open === "history"} onClose={onClose} />
    </Suspense>
  );
}
