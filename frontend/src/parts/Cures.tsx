import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Schemas, taken } from "../api/client";
import { useEdits, usePlan, useTrial } from "../api/plan";
import { SEVERITY_WORDS } from "./Severity";
import { Waiting } from "./Waiting";

/** What may mend a finding: made and tried when it is opened. */
export function Cures({ finding }: { finding: string }) {
  const { standing, stamp } = usePlan();
  const query = ["cures", standing.id, stamp, finding];
  const { data, isFetching } = useQuery({
    queryKey: query,
    queryFn: async ({ signal }) =>
      taken(
        await api.GET("/api/plans/{id}/cures/{finding}", {
          params: { path: { id: standing.id, finding } },
          signal,
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
  if (!data && isFetching) return <Waiting on="Trying what may mend it" query={query} />;
  const [best, ...others] = data ?? [];
  return (
    <ul className="space-y-2">
      {best && <CureLine key={`${best.cure.title} ${best.cure.how}`} cure={best.cure} />}
      {others.length > 0 && (
        <li>
          <details>
            <summary className="link">
              {others.length} other {others.length > 1 ? "ways" : "way"}
            </summary>
            <ul className="mt-2 space-y-2">
              {others.map(({ cure }) => (
                <CureLine key={`${cure.title} ${cure.how}`} cure={cure} />
              ))}
            </ul>
          </details>
        </li>
      )}
    </ul>
  );
}

/** A cure: looked at first, then applied. */
function CureLine({ cure: fix }: { cure: Schemas["Cure"] }) {
  const { edit, preview } = useEdits();
  const { trial } = useTrial();
  const [looked, setLooked] = useState(false);
  const shownNow = looked && trial !== null;
  return (
    <li className="border-rule border-l-2 pl-2">
      <div>
        {fix.title}
        {fix.how && (
          <details>
            <summary className="link text-[13px]">How</summary>
            <span className="text-[13px]">{fix.how}</span>
          </details>
        )}
        {fix.needs && <span className="text-faint block text-[13px]">Needs {fix.needs}</span>}
      </div>
      {shownNow && (
        <ul className="my-1 text-[13px]">
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
              preview(fix.edits);
            }}
          >
            See what changes
          </button>
        )}
        {shownNow && (
          <>
            <button
              type="button"
              className="button button-main"
              onClick={() => void edit(fix.edits, [fix.title, fix.how].filter(Boolean).join(": "))}
            >
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
    </li>
  );
}
