import { useEffect, useState } from "react";
import { api, type Schemas, taken } from "../../api/client";
import { usePlan, useSync } from "../../api/plan";
import { shown } from "../../parts/numbers";
import { Section } from "../../parts/Section";
import { TryThenApply } from "../../parts/TryThenApply";
import { Wrong } from "../../parts/Wrong";

type Found = Schemas["Allocation"];
type Option = NonNullable<Found["best"]>;

/** The best that fits, asked for in one action: shown as differences, and applied as edits. */
export function Allocate() {
  const { standing } = usePlan();
  const { sync } = useSync();
  const [found, setFound] = useState<{ of: number; allocation: Found } | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [asked, setAsked] = useState<"no" | "once saved" | "now">("no");
  const { id, version } = standing;
  const saving = sync.state === "saving" || sync.state === "offline";
  // What was typed just before is part of the question: it is asked once that is kept.
  useEffect(() => {
    if (asked !== "once saved" || saving) return;
    setAsked("now");
    api
      .POST("/api/plans/{id}/asked/allocation", { params: { path: { id } } })
      .then((answer) => setFound({ of: version, allocation: taken(answer) }))
      .catch((error) => setWrong(error instanceof Error ? error.message : "It could not be worked out."))
      .finally(() => setAsked("no"));
  }, [asked, saving, id, version]);
  const ask = () => {
    setWrong(null);
    setAsked("once saved");
  };
  const busy = asked !== "no";
  const shownNow = found?.of === version ? found.allocation : null;
  return (
    <Section
      title="The best that fits"
      aside="pictures, bitrates, lines and relays together; the more important picture first"
    >
      <p>
        <button type="button" className="button" disabled={busy} onClick={ask}>
          {asked === "now" ? "Working it out" : busy ? "Once the change is saved" : "Find the best that fits"}
        </button>
        {found && !shownNow && (
          <span className="text-faint ml-3 text-small">The plan has changed since: ask again.</span>
        )}
      </p>
      {wrong && <Wrong>{wrong}</Wrong>}
      {shownNow && <Shown found={shownNow} />}
    </Section>
  );
}

function Shown({ found }: { found: Found }) {
  if (!found.best) return <p>{found.nothing}</p>;
  return (
    <div className="mt-3 space-y-4">
      {found.doubt && <p className="font-semibold">{found.doubt}</p>}
      <OptionTable option={found.best} title="Best" />
      {found.gap_pct > 0 && (
        <p>
          Not all was tried: a choice better by {shown(found.gap_pct)} % at most may still be there. Ask for
          fewer pictures at once to be sure.
        </p>
      )}
      {found.unpriced && (
        <p className="text-faint text-small">
          Not everything that binds it was priced: the plan is too large for that.
        </p>
      )}
      {found.prices.length > 0 && (
        <ul className="list-disc space-y-0.5 pl-5" aria-label="What a little more would bring">
          {found.prices.map((price) => (
            <li key={price}>{price}</li>
          ))}
        </ul>
      )}
      {found.runner_up && (
        <details>
          <summary className="link">The next best, another way</summary>
          <OptionTable option={found.runner_up} title="Next best" />
        </details>
      )}
    </div>
  );
}

function OptionTable({ option, title }: { option: Option; title: string }) {
  return (
    <div role="group" aria-label={title}>
      <div className="overflow-x-auto">
        <table>
          <thead>
            <tr>
              <th>Goes to</th>
              <th>Now</th>
              <th>{title}</th>
              <th>By</th>
            </tr>
          </thead>
          <tbody>
            {option.pictures.map((line) => (
              <tr key={line.stream}>
                <td className="pr-6">{line.name}</td>
                <td className="pr-6 font-mono">{line.now}</td>
                <td className={`pr-6 font-mono ${line.then === line.now ? "" : "font-semibold"}`}>
                  {line.then}
                </td>
                <td>
                  {line.left_out ? "" : line.by ? `once to ${line.by}` : "straight"}
                  {line.line && `, out by ${line.line}`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-1">
        {option.rooms.map((room) => (
          <span key={room.uplink} className="mr-4">
            {room.name}: asked <span className="font-mono">{shown(room.asked_mbps)}</span> of{" "}
            <span className="font-mono">{shown(room.may_mbps)}</span> Mb/s
          </span>
        ))}
      </p>
      {option.edits.length ? (
        <TryThenApply edits={option.edits} why={`${title} that fits the lines`} />
      ) : (
        <p className="text-faint">The plan sends so already.</p>
      )}
    </div>
  );
}
