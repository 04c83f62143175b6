import { type ComponentProps, type ReactNode, useEffect, useId, useState } from "react";
import { typedAmount } from "./numbers";
import { Wrong } from "./Wrong";

/** The kit of inputs. They hold what is typed; `Field.tsx` makes changes of the plan out of it. */

export interface Labelling {
  label: string;
  hideLabel?: boolean | undefined;
  width?: string | undefined;
}

export type Options<T extends string> = readonly (readonly [T, string])[];

interface LabelledProps extends Labelling {
  id: string;
  unit?: string | undefined;
  wrong?: string | null | undefined;
  unsaved?: boolean | undefined;
  children: ReactNode;
}

function Labelled({ id, label, hideLabel, width, unit, wrong, unsaved, children }: LabelledProps) {
  return (
    <div className={width} data-unsaved={unsaved ? "" : undefined}>
      <label htmlFor={id} className={hideLabel ? "sr-only" : "text-faint block text-note"}>
        {label}
      </label>
      <span className="flex items-baseline gap-1">
        {children}
        {unit && <span className="unit text-faint text-small whitespace-nowrap">{unit}</span>}
      </span>
      <span id={`${id}-wrong`}>
        <Wrong>{wrong}</Wrong>
      </span>
    </div>
  );
}

interface TextInputProps
  extends Labelling,
    Pick<ComponentProps<"input">, "type" | "placeholder" | "inputMode" | "ref" | "onBlur" | "onKeyDown"> {
  value: string;
  write: (text: string) => void;
  unit?: string | undefined;
  mono?: boolean | undefined;
  wrong?: string | null | undefined;
  unsaved?: boolean | undefined;
  /** What may be taken instead of typing it, each with its words. */
  suggested?: Options<string> | undefined;
}

/** A line of text, with its unit, and what is wrong with it. */
export function TextInput(props: TextInputProps) {
  const { label, hideLabel, width, write, unit, mono, wrong, unsaved, suggested, ...input } = props;
  const id = useId();
  return (
    <Labelled {...{ id, label, hideLabel, width, unit, wrong, unsaved }}>
      <input
        {...input}
        id={id}
        className={`field ${mono ? "font-mono" : ""}`}
        autoComplete="off"
        spellCheck={false}
        list={suggested?.length ? `${id}-suggested` : undefined}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={wrong ? `${id}-wrong` : undefined}
        onChange={(event) => write(event.target.value)}
      />
      {suggested && suggested.length > 0 && (
        <datalist id={`${id}-suggested`}>
          {suggested.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </datalist>
      )}
    </Labelled>
  );
}

/** A text as high as what stands in it. */
export function LongInput(
  props: Labelling &
    Pick<ComponentProps<"textarea">, "onBlur" | "onKeyDown"> &
    Pick<TextInputProps, "value" | "write" | "wrong" | "unsaved">,
) {
  const { label, hideLabel, width, write, wrong, unsaved, ...input } = props;
  const id = useId();
  return (
    <Labelled {...{ id, label, hideLabel, width, wrong, unsaved }}>
      <textarea
        {...input}
        id={id}
        rows={1}
        className="field [field-sizing:content] resize-none"
        spellCheck={false}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={wrong ? `${id}-wrong` : undefined}
        onChange={(event) => write(event.target.value)}
      />
    </Labelled>
  );
}

/** A number with its unit; empty is nothing. What is no number, or out of bounds, stays as it was typed, and says so. */
export function NumberInput(
  props: Labelling & {
    value: number | null | undefined;
    write: (value: number | null) => void;
    unit?: string;
    placeholder?: string;
    least?: number;
    most?: number;
  },
) {
  const { value, write, least = -Infinity, most = Infinity, ...rest } = props;
  const [text, setText] = useState(value == null ? "" : String(value));
  useEffect(() => {
    setText((now) =>
      typedAmount(now, rest.unit) === (value ?? null) ? now : value == null ? "" : String(value),
    );
  }, [value, rest.unit]);
  const typed = typedAmount(text, rest.unit);
  const outside = typed !== null && (typed < least || typed > most);
  const wrong = !text.trim()
    ? null
    : typed === null
      ? "Write a number."
      : outside
        ? `Write a number from ${least} to ${most}.`
        : null;
  return (
    <TextInput
      {...rest}
      mono
      inputMode="decimal"
      value={text}
      wrong={wrong}
      write={(now) => {
        setText(now);
        const number = typedAmount(now, rest.unit);
        if (number === null ? !now.trim() : number >= least && number <= most) write(number);
      }}
    />
  );
}

/** One of a few; `none` names the choice of nothing, where that can be chosen. */
export function Select<T extends string>(
  props: Labelling & {
    value: T | "";
    choose: (value: T | "") => void;
    options: Options<T>;
    none?: string | undefined;
    unsaved?: boolean;
    onBlur?: () => void;
  },
) {
  const { label, hideLabel, width, unsaved, value, choose, options, none, onBlur } = props;
  const id = useId();
  return (
    <Labelled {...{ id, label, hideLabel, width, unsaved }}>
      <select
        id={id}
        className="field"
        value={value}
        onChange={(event) => choose(event.target.value as T | "")}
        onBlur={onBlur}
      >
        {none !== undefined && <option value="">{none}</option>}
        {options.map(([key, words]) => (
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
  hideLabel?: boolean;
  value: readonly T[];
  options: Options<T>;
  change: (value: T[]) => void;
}) {
  return (
    <fieldset className="flex flex-wrap items-baseline gap-x-3">
      <legend
        className={props.hideLabel ? "sr-only" : "text-faint float-left pr-3 text-small leading-[21px]"}
      >
        {props.label}
      </legend>
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
