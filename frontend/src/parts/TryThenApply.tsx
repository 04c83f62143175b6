import { useState } from "react";
import type { Edit } from "../api/client";
import { useEdits, useTrial } from "../api/plan";
import { SEVERITY_WORDS } from "./Severity";

/** Edits that are looked at first, with the findings that would go and come, and then applied. */
export function TryThenApply({ edits, why }: { edits: Edit[]; why: string }) {
  const { edit, preview } = useEdits();
  const { trial } = useTrial();
  const [looked, setLooked] = useState(false);
  const shownNow = looked && trial !== null;
  return (
    <>
      {shownNow && (
        <ul className="my-1 text-small">
          {trial.gone.map((f) => (
            <li key={f.id}>Ends: {f.wrong}</li>
          ))}
          {trial.come.map((f) => (
            <li key={f.id}>
              Brings ({SEVERITY_WORDS[f.severity].toLowerCase()}): {f.wrong}
            </li>
          ))}
          {!trial.gone.length && !trial.come.length && <li>No finding changes.</li>}
        </ul>
      )}
      <span className="flex gap-2 pt-1">
        {!shownNow && (
          <button
            type="button"
            className="button"
            onClick={() => {
              setLooked(true);
              preview(edits);
            }}
          >
            See what changes
          </button>
        )}
        {shownNow && (
          <>
            <button type="button" className="button button-main" onClick={() => void edit(edits, why)}>
              Apply
            </button>
            <button
              type="button"
              className="button"
              onClick={() => {
                setLooked(false);
                preview(null);
              }}
            >
              Leave it
            </button>
          </>
        )}
      </span>
    </>
  );
}
