import { lazy, Suspense } from "react";

const CommandBar = lazy(() => import("./CommandBar"));
const KeysDialog = lazy(() => import("./KeysDialog"));
const HistoryDialog = lazy(() => import("./HistoryDialog"));

export type DialogName = "command" | "keys" | "history";

/** What opens over a plan: loaded beside the first page, and there before a hand can ask for it. */
export function Dialogs({ open, onClose }: { open: DialogName | null; onClose: () => void }) {
  return (
    <Suspense>
      <CommandBar open={open === "command"} onClose={onClose} />
      <KeysDialog open={open === "keys"} onClose={onClose} />
      <HistoryDialog open={open === "history"} onClose={onClose} />
    </Suspense>
  );
}
