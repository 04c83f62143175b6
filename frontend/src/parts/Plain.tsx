import { useEffect, useId, useState } from "react";
import { typedNumber } from "./numbers";
import { Wrong } from "./Wrong";

/** Inputs of something that is still being written: nothing of the plan changes by them. */

interface Common {
  label: string;
  hideLabel?: boolean;
  width?: string;
}

function Labelled({
  id,
  label,
  hideLabel,
  width,
  children,
}: Common & { id: string; children: React.ReactNode }) {
  return (
    <div className={width}>
      <label htmlFor={id} className={hideLabel ? "sr-only" : "text-faint block text-[12px]"}>
        {label}
      </label>
      {children}
    </div>
  );
}

export function Written(
  props: Common & {
    value: string;
    write: (text: string) => void;
    placeholder?: string;
    mono?: boolean;
    wrong?: string | null;
  },
) {
  const id = useId();
  return (
    <Labelled id={id} {...props}>
      <input
        id={id}
        className={`field ${props.mono ? "font-mono" : ""}`}
        value={props.value}
        placeholder={props.placeholder}
        autoComplete="off"
        spellCheck={false}
        aria-invalid={props.wrong ? true : undefined}
        onChange={(event) => props.write(event.target.value)}
      />
      <Wrong>{props.wrong}</Wrong>
    </Labelled>
  );
}

/** A number with its unit; empty is nothing. What is no number stays as it was typed, and says so. */
export function Counted(
  props: Common & { value: number | null | undefined; write: (value: number | null) => void; unit?: string },
) {
  const id = useId();
  const { value } = props;
  const [text, setText] = useState(value == null ? "" : String(value));
  useEffect(() => {
    setText((now) => (typedNumber(now) === (value ?? null) ? now : value == null ? "" : String(value)));
  }, [value]);
  const wrong = text.trim() !== "" && typedNumber(text) === null;
  return (
    <Labelled id={id} {...props}>
      <span className="flex items-baseline gap-1">
        <input
          id={id}
          className="field font-mono"
          inputMode="decimal"
          value={text}
          aria-invalid={wrong || undefined}
          onChange={(event) => {
            setText(event.target.value);
            const number = typedNumber(event.target.value);
            if (number !== null || !event.target.value.trim()) props.write(number);
          }}
        />
        {props.unit && <span className="text-faint text-[13px] whitespace-nowrap">{props.unit}</span>}
      </span>
      <Wrong>{wrong ? "Write a number." : null}</Wrong>
    </Labelled>
  );
}

export function Pick<T extends string>(
  props: Common & {
    value: T | "";
    choose: (value: T | "") => void;
    options: readonly (readonly [T, string])[];
    none?: string;
  },
) {
  const id = useId();
  return (
    <Labelled id={id} {...props}>
      <select
        id={id}
        className="field"
        value={props.value}
        onChange={(event) => props.choose(event.target.value as T | "")}
      >
        {props.none !== undefined && <option value="">{props.none}</option>}
        {props.options.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </Labelled>
  );
}

/** Any of a few, ticked. */
export function Ticks<T extends string>(props: {
  label: string;
  value: readonly T[];
  options: readonly (readonly [T, string])[];
  change: (value: T[]) => void;
}) {
  return (
    <fieldset className="flex flex-wrap items-baseline gap-x-3">
      <legend className="text-faint float-left pr-3 text-[13px] leading-[21px]">{props.label}</legend>
      {props.options.map(([key, words]) => (
        <label key={key} className="inline-flex items-center gap-1 whitespace-nowrap">
          <input
            type="checkbox"
            className="accent-accent"
            checked={props.value.includes(key)}
            onChange={(event) =>
              props.change(
                event.target.checked ? [...props.value, key] : props.value.filter((one) => one !== key),
              )
            }
          />
          {words}
        </label>
      ))}
    </fieldset>
  );
}
