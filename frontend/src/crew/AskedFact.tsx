import { useState } from "react";
import type { Schemas } from "../api/client";
import { TakePhotograph } from "./TakePhotograph";
import type { Log } from "./useLog";

type Value = string | number | boolean;
export type Answer = { value: Value; note: string };

/** A question to a person, and its answer by one hand: large to touch, and written down only when it is said so. Beside it, folded, a
 * note and a photograph. */
export function AskedFact(props: {
  fact: Schemas["WalkFact"];
  answer: (said: Answer) => void;
  write: Log["write"];
}) {
  const { fact, write } = props;
  const [note, setNote] = useState("");
  const [where] = fact.facts;
  const answer = (value: Value) => props.answer({ value, note: note.trim() });
  return (
    <section className="border-rule border-b py-4" aria-label={fact.question}>
      <p className="mb-3 text-head font-semibold">
        {fact.question}
        <span className="text-faint block text-small font-normal">
          {fact.waits === 1 ? "One picture waits for it." : `${fact.waits} pictures wait for it.`}
        </span>
      </p>
      {fact.typed === "choice" ? (
        <Buttons options={fact.choices.map(({ words, value }) => [words, value as Value])} answer={answer} />
      ) : fact.typed === "trial" ? (
        <Buttons
          options={[
            ["It worked", true],
            ["It did not", false],
          ]}
          answer={answer}
        />
      ) : (
        <Typed fact={fact} answer={answer} />
      )}
      <details className="mt-2">
        <summary className="link cursor-pointer py-3">
          {fact.typed === "trial" ? "Under what conditions; a photograph" : "A note, a photograph"}
        </summary>
        <input
          className="field min-h-12 text-head"
          aria-label={fact.typed === "trial" ? "Under what conditions" : "Note"}
          placeholder={fact.typed === "trial" ? "such as: rain, crowd there" : ""}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
        {where && (
          <TakePhotograph
            label="Photograph it"
            text={note.trim() || fact.question}
            of={{ noun: where.noun, thing: where.thing }}
            write={write}
          />
        )}
      </details>
    </section>
  );
}

function Buttons(props: { options: readonly (readonly [string, Value])[]; answer: (value: Value) => void }) {
  return (
    <div className="grid gap-2">
      {props.options.map(([words, value]) => (
        <button
          key={words}
          type="button"
          className="button min-h-14 text-left text-head whitespace-normal"
          onClick={() => props.answer(value)}
        >
          {words}
        </button>
      ))}
    </div>
  );
}

function Typed({ fact, answer }: { fact: Schemas["WalkFact"]; answer: (value: Value) => void }) {
  const [typed, setTyped] = useState("");
  const number = Number(typed.trim().replace(",", "."));
  const wrong = fact.typed === "number" && typed.trim() !== "" && !Number.isFinite(number);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (typed.trim() && !wrong) answer(fact.typed === "number" ? number : typed.trim());
      }}
    >
      <div className="flex items-end gap-3">
        <input
          className="field min-h-14 min-w-0 flex-1 font-mono text-figure"
          aria-label={`${fact.question} ${fact.unit}`.trim()}
          inputMode={fact.typed === "number" ? "decimal" : "text"}
          autoComplete="off"
          autoCapitalize="off"
          aria-invalid={wrong}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <span className="min-w-8 shrink-0 pb-3 text-head">{fact.unit}</span>
      </div>
      {wrong && (
        <p role="alert" className="text-accent mt-2 font-semibold">
          This takes a number in {fact.unit || "figures"}.
        </p>
      )}
      <button
        type="submit"
        className="button button-main mt-3 min-h-14 w-full text-head"
        disabled={!typed.trim() || wrong}
      >
        Write it down
      </button>
    </form>
  );
}
