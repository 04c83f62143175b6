import { Link } from "react-router";
import { usePlan } from "../../api/plan";
import { useProofs } from "../../api/proofs";
import { Section } from "../../parts/Section";

/** What to find out next: each fact once, those that most pictures wait for first, with where to type it. */
export function FactsWanted() {
  const { standing } = usePlan();
  const { data } = useProofs();
  const wanted = data?.wanted ?? [];
  if (!wanted.length) return null;
  return (
    <Section title="Facts wanted" aside="what to find out next, by how many pictures wait for it">
      <table className="w-full">
        <thead>
          <tr>
            <th>What to find out</th>
            <th>Pictures that wait</th>
            <th>Typed in</th>
          </tr>
        </thead>
        <tbody>
          {wanted.map((fact) => (
            <tr key={fact.id}>
              <td>{fact.question}</td>
              <td className="font-mono">{fact.aims.length}</td>
              <td>
                <Link className="link capitalize" to={`/plans/${standing.id}/${fact.stage}`}>
                  {fact.stage}
                </Link>
                {fact.things.length > 1 && (
                  <span className="text-faint"> for {fact.things.length} boxes of this model</span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  );
}
