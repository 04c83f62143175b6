import type { ReactNode } from "react";
import { type Entry, withdrawn } from "../api/entries";
import { type Answer, answered, type FaultLine, type FaultStep, faultEnded } from "../api/faults";

type Write = (entries: Entry[]) => Promise<unknown>;

/** A fault as it is worked on: the next test large, with its answers; what was tried, and how the show goes on meanwhile. */
export function FaultCard(props: { fault: FaultLine; write: Write; children?: ReactNode }) {
  const { fault, write } = props;
  const [step, ...others] = fault.next;
  return (
    <article aria-label={`Fault: ${fault.at}`} className="border-ink mb-5 border-t-2 pt-2">
      <header>
        <h3 className="text-head leading-tight">
          {fault.at}: {fault.symptom_says}
        </h3>
        <p className="text-faint text-small">
          {[`since ${fault.since}`, fault.by].filter(Boolean).join(", ")}
          {fault.path.length > 0 && <span className="block">{fault.path.join(" → ")}</span>}
        </p>
      </header>
      {fault.gone && (
        <p className="mt-2">
          The plan no longer has this picture. End it here, and begin anew where it is looked at now.
        </p>
      )}
      {fault.workaround_first && <Meanwhile ways={fault.workarounds} />}
      {step && <NextStep key={step.id + fault.tried.length} fault={fault.id} step={step} write={write} />}
      {others.length > 0 && (
        <details className="mt-2">
          <summary className="link cursor-pointer py-1">Another test ({others.length})</summary>
          {others.map((other) => (
            <NextStep key={other.id + fault.tried.length} fault={fault.id} step={other} write={write} small />
          ))}
        </details>
      )}
      {!fault.workaround_first && fault.workarounds.length > 0 && (
        <details className="mt-1">
          <summary className="link cursor-pointer py-1">How the show goes on meanwhile</summary>
          <Ways ways={fault.workarounds} />
        </details>
      )}
      <Tried fault={fault} write={write} />
      <details className="mt-1" hidden={fault.likely.length === 0}>
        <summary className="link cursor-pointer py-1">What it may be</summary>
        <table className="w-full">
          <tbody>
            {fault.likely.map((cause) => (
              <tr key={cause.id}>
                <td className="w-14 text-right font-mono">{cause.percent} %</td>
                <td>
                  {cause.says}. <span className="text-faint">{cause.mend}.</span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
      {props.children}
      <button
        type="button"
        className="button mt-2 min-h-11"
        onClick={() => void write([faultEnded(fault.id)])}
      >
        It works again<span className="sr-only">: {fault.at}</span>
      </button>
    </article>
  );
}

/** A test: one sentence, where, how long, what it takes down; two answers, and that nobody can tell. */
export function NextStep(props: { fault: string; step: FaultStep; write: Write; small?: boolean }) {
  const { fault, step, write, small } = props;
  const say = (answer: Answer) => void write(answered(fault, step, answer));
  const [first, second, ...more] = step.interrupts;
  return (
    <section aria-label={step.says} className={small ? "border-rule border-b py-2" : "bg-sheet mt-2 p-3"}>
      <p className={small ? "" : "text-title leading-snug"}>{step.says}</p>
      <p className="text-faint text-small">
        {step.where && `${step.where}, `}
        about <span className="font-mono">{step.minutes}</span> min
      </p>
      {step.values.length > 0 && (
        <dl className="mt-1 flex flex-wrap gap-x-6">
          {step.values.map((value) => (
            <div key={value.label + value.value}>
              <dt className="text-faint text-note">{value.label}</dt>
              <dd className={`font-mono leading-tight wrap-anywhere ${small ? "" : "text-head"}`}>
                {value.value}
              </dd>
            </div>
          ))}
        </dl>
      )}
      {first && (
        <p className="text-accent font-semibold">
          <span aria-hidden>▲ </span>Takes down: {[first, second].filter(Boolean).join("; ")}
          {more.length > 0 && `, and ${more.length} more`}
        </p>
      )}
      <div className="mt-2 grid gap-2 sm:flex sm:flex-wrap">
        <button
          type="button"
          className="button button-main min-h-12 px-4 text-head"
          onClick={() => say("good")}
        >
          {step.good}
        </button>
        <button type="button" className="button min-h-12 px-4 text-head" onClick={() => say("bad")}>
          {step.bad}
        </button>
        {!step.mends && (
          <button type="button" className="link min-h-11 px-2" onClick={() => say("cannot-tell")}>
            Cannot tell
          </button>
        )}
      </div>
    </section>
  );
}

function Meanwhile({ ways }: { ways: readonly string[] }) {
  return (
    <section aria-label="Meanwhile" className="border-ink mt-2 border-l-4 pl-3">
      <p className="font-semibold">The show goes on meanwhile</p>
      <Ways ways={ways} />
    </section>
  );
}

function Ways({ ways }: { ways: readonly string[] }) {
  return (
    <ul className="list-disc pl-5">
      {ways.map((way) => (
        <li key={way}>{way}</li>
      ))}
    </ul>
  );
}

function Tried({ fault, write }: { fault: FaultLine; write: Write }) {
  if (!fault.tried.length) return null;
  return (
    <section aria-label="Tried" className="mt-2">
      <h4 className="text-faint text-small">Tried</h4>
      <ol>
        {fault.tried.map((test, n) => (
          <li key={fault.tried.length - n} className="border-rule border-b py-1 text-small">
            {test.says} <strong className="font-semibold">{test.answered}</strong>
            <span className="text-faint"> {[test.at, test.by].filter(Boolean).join(", ")}</span>{" "}
            <button
              type="button"
              className="link min-h-9"
              onClick={() => void write([withdrawn(test.entry, true)])}
            >
              Take back<span className="sr-only">: {test.says}</span>
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}
