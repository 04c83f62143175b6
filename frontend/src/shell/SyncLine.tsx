import { usePlan } from "../api/plan";

/** Whether what was typed is kept, said in words. */
export function SyncLine() {
  const { sync, standing } = usePlan();
  const words = {
    saved: `Saved, version ${standing.version}`,
    saving: "Saving",
    offline: "Server not reached",
    conflict: "Changed elsewhere",
    refused: "Not taken",
  }[sync.state];
  return (
    <span role="status" className="margin-note whitespace-nowrap">
      {words}
    </span>
  );
}

/** What went wrong with a change, and what can be done; nothing typed is lost meanwhile. */
export function SyncTrouble() {
  const { sync, settleConflict, dismiss } = usePlan();
  if (sync.state === "saved" || sync.state === "saving") return null;
  return (
    <div
      role="alert"
      className="no-print border-ink bg-wash flex flex-wrap items-center gap-3 border-b px-4 py-2"
    >
      {sync.state === "offline" && (
        <p>The server cannot be reached. Your change is kept here and sent again until it arrives.</p>
      )}
      {sync.state === "refused" && (
        <>
          <p>This cannot be done: {sync.problem.detail}</p>
          <button type="button" className="button" onClick={dismiss}>
            Close
          </button>
        </>
      )}
      {sync.state === "conflict" && (
        <>
          <p>{sync.problem.detail}</p>
          <button type="button" className="button button-main" onClick={() => settleConflict(true)}>
            Make my change on the new version
          </button>
          <button type="button" className="button" onClick={() => settleConflict(false)}>
            Drop my change
          </button>
        </>
      )}
    </div>
  );
}
