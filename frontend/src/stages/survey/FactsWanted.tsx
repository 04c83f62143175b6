import { Link } from "react-router";
import type { Edit, Schemas } from "../../api/client";
import { usePlan } from "../../api/plan";
import { useProofs } from "../../api/proofs";
import { Choice, Field, NumberField } from "../../parts/Field";
import { FoundOut } from "../../parts/FoundOut";
import { Section } from "../../parts/Section";
import { SeenWorking } from "../../parts/SeenWorking";
import { StateMark } from "../../parts/StateMark";

type Wanted = Schemas["Wanted"];

/** What to find out next: each fact once, those that most pictures wait for first, each with where it is typed. */
export function FactsWanted() {
  const { data } = useProofs();
  const wanted = data?.wanted ?? [];
  if (!wanted.length) return null;
  return (
    <Section title="To find out" aside="what to find out next, by how many pictures wait for it">
      <table className="w-full max-sm:block max-sm:[&_td]:block max-sm:[&_tbody]:block max-sm:[&_tr]:block max-sm:[&_tr]:pb-3">
        <thead className="max-sm:hidden">
          <tr>
            <th>What to find out</th>
            <th>Pictures that wait</th>
            <th>Write it down</th>
          </tr>
        </thead>
        <tbody>
          {wanted.map((fact) => (
            <tr key={fact.id}>
              <td>
                <StateMark state="not known" /> {fact.question}
                {fact.things.length > 1 && (
                  <span className="text-faint"> Of {fact.things.length} devices of this model.</span>
                )}
              </td>
              <td className="max-sm:border-t-0">
                <span className="font-mono">{fact.aims.length}</span>
                <span className="text-faint sm:hidden">
                  {" "}
                  {fact.aims.length === 1 ? "picture waits" : "pictures wait"} for it
                </span>
              </td>
              <td className="max-sm:border-t-0 sm:w-88 [&_.unit]:w-10">
                <FoundOut as={fact.facts}>
                  <AnswerField fact={fact} />
                </FoundOut>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  );
}

/** The edits of a fact with the value that was typed, in each that sets one. */
const filled = (fact: Wanted, value: unknown): Edit[] =>
  fact.edits.map((edit) => ("value" in edit ? ({ ...edit, value } as Edit) : edit));

function AnswerField({ fact }: { fact: Wanted }) {
  const { standing } = usePlan();
  const [thing] = fact.things;
  if (fact.kept_in === "survey" && thing)
    return <SeenWorking noun={thing.noun as "link"} thing={thing.id} label="Tried under these conditions" />;
  if (fact.typed === "number")
    return (
      <NumberField
        hideLabel
        optional
        label={fact.question}
        value={null}
        unit={fact.unit}
        edits={(value) => (value === null ? [] : filled(fact, value))}
      />
    );
  if (fact.typed === "text")
    return (
      <Field
        hideLabel
        width="pr-11"
        label={fact.question}
        value=""
        edits={(text) => (text.trim() ? filled(fact, text.trim()) : [])}
      />
    );
  if (fact.typed === "choice")
    return (
      <Choice
        hideLabel
        width="pr-11"
        label={fact.question}
        none="not known"
        value=""
        options={fact.choices.map(({ value, words }) => [JSON.stringify(value), words] as const)}
        edits={(picked) =>
          filled(fact, fact.choices.find(({ value }) => JSON.stringify(value) === picked)?.value ?? null)
        }
      />
    );
  if (fact.stage === "survey")
    return (
      <Link className="link" to={`/plans/${standing.id}/survey/measure?pick=uplink:${fact.things[0]?.id}`}>
        as a measurement
      </Link>
    );
  return (
    <Link className="link capitalize" to={`/plans/${standing.id}/${fact.stage}`}>
      in {fact.stage}
    </Link>
  );
}
