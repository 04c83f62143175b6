import type { Lost } from "../api/outbox";
import { usePlan, useSync } from "../api/plan";

/** Whether what was typed is kept, said in words. */
export function SyncLine() {
  const { sync } = useSync();
  const { standing } = usePlan();
  const words = {
    saved: `Saved, version ${standing.version}${standing.unjudged ? ", judging" : ""}`,
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
  const { sync, settleConflict, dismiss, lost, dismissLost } = useSync();
  const { standing } = usePlan();
  const { sites, places, uplinks, networks, devices, links } = standing.plan;
  const things = [...sites, ...places, ...uplinks, ...networks, ...devices, ...links];
  const inWords = ({ what, noun, id }: Lost) => {
    const thing = things.find((t) => t.id === id);
    return noun ? `${what} of ${thing && "name" in thing ? thing.name : noun}` : what;
  };
  if (lost.length > 0) {
    return (
      <div
        role="alert"
        className="no-print border-ink bg-wash fixed inset-x-0 bottom-0 z-20 max-sm:bottom-12 flex flex-wrap items-center gap-3 border-t px-4 py-2"
      >
        <p>
          Typed before this page was left, and not kept, since it may hold a key and keys are never written to
          the browser: {lost.map(inWords).join("; ")}. Type it again.
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
      className="no-print border-ink bg-wash fixed inset-x-0 bottom-0 z-20 max-sm:bottom-12 flex flex-wrap items-center gap-3 border-t px-4 py-2"
    >
      {sync.state === "offline" && (
        <p>
          The server cannot be reached.{" "}
          {sync.here
            ? "Your change is kept here and sent again until it arrives."
            : "Your change may hold a key, or the browser keeps nothing: it is in this tab only. Leave it open, it is sent again until it arrives."}
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
