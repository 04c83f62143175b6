import { useQuery } from "@tanstack/react-query";
import { api, type Edit, type Schemas, taken } from "../../api/client";
import { marked } from "../../api/entries";
import { usePlan, useSelection } from "../../api/plan";
import { setupKey, useTick } from "../../api/setup";
import { LongRows } from "../../parts/LongList";
import { shown } from "../../parts/numbers";
import { printPage } from "../../parts/printing";
import { FirstThing, Section } from "../../parts/Section";
import { TryThenApply } from "../../parts/TryThenApply";

type Line = Schemas["RunLine"];

/** The run sheet: every task at the moment at which it is begun, by when at the latest, and what is then to be seen. */
export function RunSheet() {
  const { standing } = usePlan();
  const { data: sheet } = useQuery({
    queryKey: [...setupKey(standing.id), "run", standing.version],
    queryFn: async () =>
      taken(await api.GET("/api/plans/{id}/run-sheet", { params: { path: { id: standing.id } } })),
    placeholderData: (before) => before,
  });
  if (!sheet) return <p className="text-faint">Reckoning the run sheet.</p>;
  if (!sheet.tasks.length) return <FirstThing>Plug the gear together in Signal first.</FirstThing>;
  return (
    <Section
      title="Run sheet"
      aside={
        <span className="no-print flex gap-4">
          <a className="link" href={`/api/plans/${standing.id}/papers/order.csv`} download>
            CSV
          </a>
          <a className="link" href={`/api/plans/${standing.id}/run-sheet.ics`} download>
            Calendar
          </a>
          <button type="button" className="link" onClick={() => printPage()}>
            Print
          </button>
        </span>
      }
    >
      <p className="mb-2">
        <strong className={sheet.short ? "text-accent" : ""}>{sheet.spare}</strong>{" "}
        <span className="text-faint">
          For {sheet.people} {sheet.people === 1 ? "person" : "people"}; minutes and people are figures of the
          plan.
        </span>
      </p>
      {sheet.proposed.map((line) => (
        <div key={line.figure} className="no-print border-rule mb-2 border-l-2 pl-2">
          {line.name}: <span className="font-mono">{shown(line.planned)} min</span> planned,{" "}
          <span className="font-mono">{shown(line.logged)} min</span> in the log (median of {line.times}).
          <TryThenApply edits={line.edits as Edit[]} why={`${line.name}: as the log shows`} />
        </div>
      ))}
      <table className="w-full">
        <thead>
          <tr>
            <th>Begin</th>
            <th className="max-sm:hidden">Latest</th>
            <th className="max-sm:hidden">min</th>
            <th className="max-sm:hidden">At</th>
            <th>What, and what is then to be seen</th>
            <th>Done</th>
          </tr>
        </thead>
        <LongRows items={sheet.tasks} id={(line) => line.id} about={44}>
          {(line) => <Cells line={line} />}
        </LongRows>
      </table>
    </Section>
  );
}

function Cells({ line }: { line: Line }) {
  const tick = useTick();
  const { pick } = useSelection();
  return (
    <>
      <td className="font-mono text-small sm:whitespace-nowrap max-sm:w-24">{line.at}</td>
      <td className="text-faint font-mono text-small whitespace-nowrap max-sm:hidden">
        {timeOf(line.latest)}
      </td>
      <td className="text-right font-mono text-small max-sm:hidden">
        {line.takes_min ? Math.round(line.takes_min) : ""}
      </td>
      <td className="max-sm:hidden">{line.place}</td>
      <td className={line.done ? "text-faint" : ""}>
        {line.device ? (
          <button
            type="button"
            className="link text-left"
            onClick={() => pick({ noun: "device", id: line.device })}
          >
            {line.what.split(":")[0]}
          </button>
        ) : (
          line.what
        )}
        {line.seen && <span className="text-faint block text-small">{line.seen}</span>}
        {line.place && (
          <span className="text-faint block text-small sm:hidden">
            {line.place}, {Math.round(line.takes_min)} min
          </span>
        )}
      </td>
      <td>
        <input
          type="checkbox"
          className="accent-accent h-4 w-4"
          aria-label={`Done: ${line.what}`}
          checked={line.done}
          onChange={(event) => void tick([marked(line.id, event.target.checked)])}
        />
      </td>
    </>
  );
}

/** The time of a moment in words, without its day. */
const timeOf = (moment: string) => moment.split(", ")[1] ?? moment;
