import { useEffect, useId, useRef, useState } from "react";
import type { Edit, Schemas } from "../api/client";
import { useEdits } from "../api/plan";
import { typedNumber } from "./numbers";

/** Does it when the page is left or the field goes: what was typed is kept all the same. */
function useOnLeaving(act: () => void) {
  const latest = useRef(act);
  useEffect(() => {
    latest.current = act;
  });
  useEffect(() => {
    const leave = () => latest.current();
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      leave();
    };
  }, []);
}

interface FieldProps {
  label: string;
  value: string;
  /** The edits that set the typed value, or a sentence on what is wrong with it. */
  edits: (typed: string) => Edit[] | string;
  unit?: string;
  type?: "text" | "password";
  hideLabel?: boolean;
  mono?: boolean;
  width?: string;
  placeholder?: string;
}

/** A text field whose effect is tried while typing and kept on Enter or on leaving; Escape takes it back. */
export function Field({
  label,
  value,
  edits,
  unit,
  type = "text",
  hideLabel,
  mono,
  width,
  placeholder,
}: FieldProps) {
  const { edit, preview } = useEdits();
  const [draft, setDraft] = useState<string | null>(null);
  const timer = useRef<number>(undefined);
  const sending = useRef<string | null>(null);
  /** What the server refused: it stays in the field, and is sent again only when it is meant. */
  const refused = useRef<string | null>(null);
  const id = useId();
  const typed = draft ?? value;
  const found = draft === null || draft === value ? [] : edits(draft);
  const wrong = typeof found === "string" ? found : null;

  const change = (text: string) => {
    setDraft(text);
    refused.current = null;
    clearTimeout(timer.current);
    const made = text === value ? [] : edits(text);
    timer.current = window.setTimeout(
      () => preview(typeof made === "string" || !made.length ? null : made),
      90,
    );
  };
  const keep = async (meant = false) => {
    clearTimeout(timer.current);
    if (draft === null || wrong || sending.current === draft) return;
    if (draft === refused.current && !meant) return;
    if (draft !== value && typeof found !== "string" && found.length) {
      sending.current = draft;
      const kept = await edit(found);
      sending.current = null;
      refused.current = kept ? null : draft;
      if (!kept) return;
    }
    setDraft((now) => (now === draft ? null : now));
  };
  useOnLeaving(() => void keep());
  const drop = () => {
    clearTimeout(timer.current);
    setDraft(null);
    preview(null);
  };
  return (
    <div className={width} data-unsaved={draft !== null && draft !== value ? "" : undefined}>
      <label htmlFor={id} className={hideLabel ? "sr-only" : "text-faint block text-[12px]"}>
        {label}
      </label>
      <span className="flex items-baseline gap-1">
        <input
          id={id}
          type={type}
          className={`field ${mono ? "font-mono" : ""}`}
          value={typed}
          placeholder={placeholder}
          autoComplete="off"
          spellCheck={false}
          aria-invalid={wrong ? true : undefined}
          aria-describedby={wrong ? `${id}-wrong` : undefined}
          onChange={(event) => change(event.target.value)}
          onBlur={() => void keep()}
          onKeyDown={(event) => {
            if (event.key === "Enter") void keep(true);
            if (event.key === "Escape" && draft !== null) {
              event.stopPropagation();
              drop();
            }
          }}
        />
        {unit && <span className="unit text-faint whitespace-nowrap text-[13px]">{unit}</span>}
      </span>
      {wrong && (
        <span id={`${id}-wrong`} role="alert" className="text-accent block text-[13px] font-semibold">
          {wrong}
        </span>
      )}
    </div>
  );
}

interface NumberFieldProps extends Omit<FieldProps, "value" | "edits" | "type"> {
  value: number | null | undefined;
  edits: (typed: number | null) => Edit[];
  least?: number;
  optional?: boolean;
}

/** A field for a number with its unit. */
export function NumberField({ value, edits, least = 0, optional, ...rest }: NumberFieldProps) {
  return (
    <Field
      {...rest}
      mono
      value={value === null || value === undefined ? "" : String(value)}
      edits={(text) => {
        if (!text.trim() && optional) return edits(null);
        const number = typedNumber(text);
        if (number === null) return `Write a number${rest.unit ? ` in ${rest.unit}` : ""}, such as 5.5.`;
        return number < least ? `Write ${least} or more.` : edits(number);
      }}
    />
  );
}

interface ChoiceProps<T extends string> {
  label: string;
  value: T | "";
  options: readonly (readonly [T, string])[];
  edits: (chosen: T) => Edit[];
  none?: string;
  hideLabel?: boolean;
  width?: string;
}

/** How long a choice rests before it is kept: passing over options by key is one change, not many. */
const RESTS_MS = 350;

/** A choice among a few; kept once it rests, or on leaving. */
export function Choice<T extends string>({
  label,
  value,
  options,
  edits,
  none,
  hideLabel,
  width,
}: ChoiceProps<T>) {
  const { edit } = useEdits();
  const [draft, setDraft] = useState<T | null>(null);
  const timer = useRef<number>(undefined);
  const id = useId();
  const sending = useRef<T | null>(null);
  const keep = async (chosen: T) => {
    clearTimeout(timer.current);
    if (sending.current === chosen) return;
    if (chosen !== value) {
      sending.current = chosen;
      await edit(edits(chosen));
      sending.current = null;
    }
    setDraft((now) => (now === chosen ? null : now));
  };
  useOnLeaving(() => draft !== null && void keep(draft));
  return (
    <div className={width}>
      <label htmlFor={id} className={hideLabel ? "sr-only" : "text-faint block text-[12px]"}>
        {label}
      </label>
      <select
        id={id}
        className="field"
        value={draft ?? value}
        onChange={(event) => {
          const chosen = event.target.value as T;
          setDraft(chosen);
          clearTimeout(timer.current);
          timer.current = window.setTimeout(() => void keep(chosen), RESTS_MS);
        }}
        onBlur={() => draft !== null && void keep(draft)}
      >
        {(none !== undefined || (value === "" && !options.some(([key]) => key === ""))) && (
          <option value="">{none ?? "choose"}</option>
        )}
        {options.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </div>
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
