import { usePlan } from "../api/plan";

/** Whether what was typed is kept, said in words. */
export function SyncLine() {
  const { sync, standing } = usePlan();
  const words = {
    saved: `Saved, version ${standing.version}`,
    saving: "Saving",
    offline: "Server not reached",
    held: "Not kept yet",
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
  const { sync, settleConflict, dismiss, lost, dismissLost } = usePlan();
  if (lost.length > 0) {
    return (
      <div
        role="alert"
        className="no-print border-ink bg-wash flex flex-wrap items-center gap-3 border-b px-4 py-2"
      >
        <p>
          Typed before this page was left, and not kept, since it may hold a key and keys are never written to
          the browser: {lost.join("; ")}. Type it again.
        </p>
        <button type="button" className="button" onClick={dismissLost}>
          I have seen it
        </button>
      </div>
    );
  }
  if (sync.state === "saved" || sync.state === "saving") return null;
  return (
    <div
      role="alert"
      className="no-print border-ink bg-wash flex flex-wrap items-center gap-3 border-b px-4 py-2"
    >
      {sync.state === "offline" && (
        <p>
          The server cannot be reached. Your change is kept{" "}
          {sync.here ? "here" : "in this tab only (it may hold a key): leave it open"} and sent again until it
          arrives.
        </p>
      )}
      {sync.state === "held" && (
        <>
          <p>Not kept yet, and tried again: {sync.problem.detail}</p>
          <button type="button" className="button" onClick={dismiss}>
            Drop my change
          </button>
        </>
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
