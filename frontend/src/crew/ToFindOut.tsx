import { useMemo, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { found } from "../api/entries";
import { type Answer, AskedFact } from "./AskedFact";
import type { Log, View, Written } from "./useLog";

/** What is to be found out where one stands, one question under the other; then the next place. */
export function ToFindOut(props: {
  view: View;
  asked: Asked;
  here: Schemas["WalkPlace"];
  role: string;
  log: Log;
  goTo: (id: string) => void;
}) {
  const { view, asked, here, role, log, goTo } = props;
  const [again, setAgain] = useState<string | null>(null);
  const answered = useMemo(() => answersHere(log.written), [log.written]);
  const corrected = again ? asked.get(again) : undefined;
  const open = here.facts.filter((fact) => !answered.has(keyOf(fact)));
  const rest = view.places.slice(view.places.indexOf(here) + 1).find((place) => place.facts.length > 0);
  const answer = (fact: Schemas["WalkFact"], { value, note }: Answer) => {
    const corrects = answered.get(keyOf(fact))?.entry.id ?? null;
    const at = new Date().toISOString();
    void log.write(
      fact.facts.map((where, n) => ({
        ...found({
          ...where,
          at,
          value,
          method: "",
          by: role,
          conditions: fact.typed === "trial" ? note : "",
          note: fact.typed === "trial" ? "" : note,
        }),
        corrects: n === 0 ? corrects : null,
      })),
    );
    setAgain(null);
  };
  return (
    <>
      {corrected && (
        <AskedFact
          key={again}
          fact={corrected}
          answer={(said) => answer(corrected, said)}
          write={log.write}
        />
      )}
      {open.map((fact) => (
        <AskedFact key={fact.id} fact={fact} answer={(said) => answer(fact, said)} write={log.write} />
      ))}
      {!open.length && <p className="py-2 text-head">Nothing more to find out here.</p>}
      {rest && (
        <button type="button" className="button mt-4 min-h-14 w-full text-head" onClick={() => goTo(rest.id)}>
          Next: {rest.name}
          {rest.walk_m ? `, ${Math.round(rest.walk_m)} m on` : ""}
        </button>
      )}
      <Answered
        asked={asked}
        answered={[...answered.values()]}
        onCorrect={(key) => {
          setAgain(key);
          window.scrollTo(0, 0);
        }}
      />
      {view.at_the_desk.length > 0 && (
        <details className="mt-4">
          <summary className="link min-h-11">
            {view.at_the_desk.length === 1 ? "One more is" : `${view.at_the_desk.length} more are`} answered
            at the desk
          </summary>
          {view.at_the_desk.map((question) => (
            <p key={question} className="border-rule border-t py-2">
              {question}
            </p>
          ))}
        </details>
      )}
    </>
  );
}

/** Every question that was asked since the page was opened: one that is answered is asked no more, and may be answered again. */
export function useAsked(view: View | undefined): Asked {
  const asked = useRef(new Map<string, Schemas["WalkFact"]>());
  for (const fact of view?.places.flatMap((place) => place.facts) ?? []) asked.current.set(keyOf(fact), fact);
  return asked.current;
}

export type Asked = ReadonlyMap<string, Schemas["WalkFact"]>;

/** One answer a fact: the last that was written on this phone. */
function answersHere(written: readonly Written[]): Map<string, Written> {
  const last = new Map<string, Written>();
  for (const one of written) {
    if (one.entry.kind === "fact" && !one.why) last.set(factKey(one.entry.body), one);
  }
  return last;
}

export const factKey = ({
  noun,
  thing,
  part,
  quantity,
}: {
  noun: string;
  thing: string;
  part: string;
  quantity: string;
}) => [noun, thing, part, quantity].join(":");
export const keyOf = (fact: Schemas["WalkFact"]) => (fact.facts[0] ? factKey(fact.facts[0]) : fact.id);

/** What was answered on this phone, each to be corrected while it is still asked or not. */
function Answered(props: { asked: Asked; answered: Written[]; onCorrect: (key: string) => void }) {
  const { asked, answered, onCorrect } = props;
  if (!answered.length) return null;
  return (
    <section className="mt-6" aria-label="Answered on this phone">
      <h2 className="border-ink border-b pb-1">Answered on this phone</h2>
      {answered.map(({ entry, sent }) => {
        if (entry.kind !== "fact") return null;
        const key = factKey(entry.body);
        const question = asked.get(key);
        return (
          <p key={entry.id} className="border-rule flex items-center justify-between gap-3 border-b py-2">
            <span>
              {question?.question ?? `${entry.body.thing}, ${entry.body.quantity.replaceAll(/[._]/g, " ")}`}{" "}
              <strong className="font-mono whitespace-nowrap">
                {said(entry.body.value)} {entry.body.unit}
              </strong>
              <span className="text-faint block text-small">{sent ? "sent" : "kept on this phone"}</span>
            </span>
            {question && (
              <button type="button" className="button min-h-11" onClick={() => onCorrect(key)}>
                Correct
              </button>
            )}
          </p>
        );
      })}
    </section>
  );
}

const said = (value: unknown) => (value === true ? "yes" : value === false ? "no" : String(value));
