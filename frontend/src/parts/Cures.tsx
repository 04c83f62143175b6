import { useQuery } from "@tanstack/react-query";
import { api, type Schemas, taken } from "../api/client";
import { usePlan } from "../api/plan";
import { TryThenApply } from "./TryThenApply";
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
  if (!data) return null;
  const [best, ...others] = data.cures;
  if (!best)
    return data.decides ? (
      <p>
        <span className="font-semibold">Who decides: </span>
        {data.decides}.
      </p>
    ) : null;
  return (
    <ul className="space-y-2">
      <CureLine key={`${best.cure.title} ${best.cure.how}`} cure={best.cure} />
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
export function CureLine({ cure: fix }: { cure: Schemas["Cure"] }) {
  return (
    <li className="border-rule border-l-2 pl-2">
      <div>
        {fix.title}
        {fix.how && (
          <details>
            <summary className="link text-small">How</summary>
            <span className="text-small">{fix.how}</span>
          </details>
        )}
        {fix.needs && <span className="text-faint block text-small">Needs {fix.needs}</span>}
      </div>
      <TryThenApply edits={fix.edits} why={[fix.title, fix.how].filter(Boolean).join(": ")} />
    </li>
  );
}
