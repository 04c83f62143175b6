import { withdrawn } from "../../api/entries";
import { useEdits } from "../../api/plan";
import { useView } from "../../api/views";
import { wall } from "../../parts/numbers";
import { FirstThing, Section } from "../../parts/Section";

/** What was found out so far, each fact with who found it and when; one that was wrong is taken back. */
export function FoundFacts() {
  const { write } = useEdits();
  const found = useView("survey")?.found ?? [];
  if (!found.length)
    return (
      <Section title="Found out">
        <FirstThing>
          Nothing is found out yet. Answer a question under “To find out”: it is listed here with who found it
          and when.
        </FirstThing>
      </Section>
    );
  return (
    <Section title="Found out" aside="a fact that is wrong is taken back, and asked for again">
      <table className="w-full">
        <thead>
          <tr>
            <th>Of</th>
            <th>What was found</th>
            <th>When, and by whom</th>
            <th>Conditions</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {found.map((fact) => (
            <tr key={fact.id} className={fact.counts ? "" : "text-faint"}>
              <td>{fact.of}</td>
              <td>
                {fact.says}
                {!fact.counts && (fact.taken_back ? " (taken back)" : " (for an earlier show)")}
              </td>
              <td className="whitespace-nowrap">
                {wall(fact.at).day}, {wall(fact.at).time}
                {fact.by && `, ${fact.by}`}
              </td>
              <td>{fact.conditions}</td>
              <td>
                <button
                  type="button"
                  className="link whitespace-nowrap"
                  onClick={() => void write([withdrawn(fact.id, !fact.taken_back)])}
                >
                  {fact.taken_back ? "Let it count" : "Take back"}
                  <span className="sr-only"> what was found of {fact.of}</span>
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  );
}
