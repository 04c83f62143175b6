import { useState } from "react";
import type { Begun, FaultPlace } from "../api/faults";
import { SYMPTOMS } from "../api/vocabulary";

type Symptom = Begun["symptom"];

const CAME = [
  ["never", "It never came"],
  ["stopped", "It was there, and stopped"],
] as const;
const SPREAD = [
  ["this", "Only this picture"],
  ["device", "Everything of one device"],
  ["network", "Everything of one switch or uplink"],
] as const;

/** Two taps first: they cut most of the causes. What was seen today is filled in; what is seen in place of the picture is black at first. */
export function BeginFault(props: {
  place: FaultPlace;
  symptom?: Symptom | undefined;
  begin: (begun: Begun) => void;
  cancel: () => void;
}) {
  const { place } = props;
  const [came, setCame] = useState<Begun["came"]>(place.came);
  const [spread, setSpread] = useState<Begun["spread"]>(place.spread);
  const [symptom, setSymptom] = useState<Symptom>(props.symptom ?? "black");
  return (
    <section aria-label={`Not appearing: ${place.at}`} className="border-ink mb-4 border-l-4 py-1 pl-3">
      <h3 className="text-title leading-tight">{place.at}</h3>
      <Choice words="Was it there?" options={CAME} chosen={came} choose={setCame} />
      <Choice words="What else?" options={SPREAD} chosen={spread} choose={setSpread} />
      <label className="mt-2 block">
        <span className="text-faint block text-small">What is seen or heard</span>
        <select
          className="field min-h-11 max-w-96 text-head"
          value={symptom}
          onChange={(event) => setSymptom(event.target.value as Symptom)}
        >
          {SYMPTOMS.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <div className="mt-3 flex flex-wrap gap-3">
        <button
          type="button"
          className="button button-main min-h-11 px-4 text-head"
          onClick={() =>
            props.begin({ picture: place.picture, symptom, came: came ?? null, spread: spread ?? null })
          }
        >
          Find the fault
        </button>
        <button type="button" className="link min-h-11" onClick={props.cancel}>
          It is no fault
        </button>
      </div>
    </section>
  );
}

function Choice<T extends string>(props: {
  words: string;
  options: readonly (readonly [T, string])[];
  chosen: T | null | undefined;
  choose: (key: T) => void;
}) {
  return (
    <fieldset className="mt-2">
      <legend className="text-faint text-small">{props.words}</legend>
      <div className="flex flex-wrap gap-2">
        {props.options.map(([key, words]) => (
          <label
            key={key}
            className={`border-ink flex min-h-11 cursor-pointer items-center gap-2 border px-3 ${props.chosen === key ? "bg-sheet font-semibold" : "border-rule"}`}
          >
            <input
              type="radio"
              className="accent-accent"
              name={props.words}
              checked={props.chosen === key}
              onChange={() => props.choose(key)}
            />
            {words}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
