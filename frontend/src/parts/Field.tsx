import type { KeyboardEvent } from "react";
import type { Edit, Schemas } from "../api/client";
import { type Labelling, LongInput, type Options, Select, TextInput } from "./inputs";
import { typedAmount } from "./numbers";
import { useKept, useRested } from "./useKept";

/** Inputs of the kit that change the plan. */

interface FieldProps extends Labelling {
  value: string;
  /** The edits that set the typed value, or a sentence on what is wrong with it. */
  edits: (typed: string) => Edit[] | string;
  unit?: string;
  type?: "text" | "password";
  mono?: boolean;
  placeholder?: string;
  suggested?: Options<string>;
}

/** Enter keeps what is typed, Escape takes it back. */
function keys(event: KeyboardEvent, { drafted, keep, drop }: ReturnType<typeof useKept>) {
  if (event.key === "Enter") void keep(true);
  if (event.key === "Escape" && drafted) {
    event.stopPropagation();
    drop();
  }
}

/** A text field whose effect is tried while typing and kept on Enter or on leaving; Escape takes it back. */
export function Field({ value, edits, type = "text", ...rest }: FieldProps) {
  const kept = useKept(value, edits);
  const { typed, unsaved, wrong, change, keep } = kept;
  return (
    <TextInput
      {...rest}
      type={type}
      value={typed}
      unsaved={unsaved}
      wrong={wrong}
      write={change}
      onBlur={() => void keep()}
      onKeyDown={(event) => keys(event, kept)}
    />
  );
}

/** A text that may be long: it grows with what is typed and is read whole, also on a phone. */
export function LongField({
  value,
  edits,
  label,
  width,
}: Pick<FieldProps, "value" | "edits" | "label" | "width">) {
  const kept = useKept(value, edits);
  const { typed, unsaved, wrong, change, keep } = kept;
  return (
    <LongInput
      label={label}
      width={width}
      value={typed}
      unsaved={unsaved}
      wrong={wrong}
      write={change}
      onBlur={() => void keep()}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.preventDefault(); // no line of its own
        keys(event, kept);
      }}
    />
  );
}

interface NumberFieldProps extends Omit<FieldProps, "value" | "edits" | "type"> {
  value: number | null | undefined;
  edits: (typed: number | null) => Edit[];
  least?: number;
  optional?: boolean;
  /** Its unit, where a heading says it. */
  measured?: string | undefined;
}

/** A field for a number with its unit. */
export function NumberField({ value, edits, least = 0, optional, measured, ...rest }: NumberFieldProps) {
  return (
    <Field
      {...rest}
      mono
      value={value === null || value === undefined ? "" : String(value)}
      edits={(text) => {
        if (!text.trim() && optional) return edits(null);
        const unit = rest.unit || measured;
        const number = typedAmount(text, unit);
        if (number === null) return `Write a number${unit ? ` in ${unit}` : ""}, such as 5.5.`;
        return number < least ? `Write ${least} or more.` : edits(number);
      }}
    />
  );
}

interface ChoiceProps<T extends string> extends Labelling {
  value: T | "";
  options: Options<T>;
  edits: (chosen: T) => Edit[];
  none?: string;
}

/** A choice among a few; kept once it rests, or on leaving. */
export function Choice<T extends string>({ value, options, edits, none, ...rest }: ChoiceProps<T>) {
  const { chosen, unsaved, choose, leave } = useRested(value, edits);
  const unchosen = value === "" && !options.some(([key]) => key === "") ? "choose" : undefined;
  return (
    <Select
      {...rest}
      value={chosen}
      unsaved={unsaved}
      options={options}
      none={none ?? unchosen}
      choose={(key) => choose(key as T)}
      onBlur={leave}
    />
  );
}

/** A choice whose values, words and edits all come from the core. */
export function Chosen({ field, width }: { field: Schemas["Options"]; width?: string }) {
  return (
    <Choice
      hideLabel
      label={field.what}
      width={width}
      value={field.now}
      options={field.choices.map((c) => [c.key, c.words] as const)}
      edits={(key) => field.choices.find((c) => c.key === key)?.edits ?? []}
    />
  );
}
