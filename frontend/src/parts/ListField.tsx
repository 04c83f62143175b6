import { useState } from "react";
import type { Edit, Schemas } from "../api/client";
import { useEdits } from "../api/plan";
import { TypedField } from "./TypedField";
import { TypedInput } from "./TypedInput";
import { typedAs } from "./typedAs";
import { Wrong } from "./Wrong";

type Item = Record<string, unknown>;
interface Given {
  field: Schemas["ThingField"];
  /** In a table: of which thing. */
  within?: string | undefined;
  put: (to: unknown) => Edit[];
}

/** A list of items that have fields of their own, such as the forwards of a router: typed in place, taken out, added to. */
export function ListField({ field, within, put }: Given) {
  const { edit } = useEdits();
  const items = field.items as Item[] | null;
  const known = items ?? [];
  const of = `${field.label.toLowerCase()}${within ? ` of ${within}` : ""}`;
  const change = (n: number, part: Item) =>
    put(known.map((item, at) => (at === n ? { ...item, ...part } : item)));
  return (
    <div role="group" aria-label={`${field.label}${within ? ` of ${within}` : ""}`}>
      <div className="flex flex-wrap items-baseline gap-x-3 text-small">
        <span className={known.length ? "" : "text-faint"}>
          {field.label}
          {!known.length && `: ${items ? "none" : field.empty}`}
        </span>
        {!known.length && field.may_be_empty && (
          <button type="button" className="link" onClick={() => void edit(put(items ? null : []))}>
            {items ? "Not known" : "It has none"}
            <span className="sr-only">: {of}</span>
          </button>
        )}
        <AnotherItem field={field} of={of} add={(made) => edit(put([...known, made]))} />
      </div>
      {(field.rows ?? []).map((row, n) => (
        <div
          key={JSON.stringify([n, known[n]])}
          role="group"
          aria-label={`Entry ${n + 1} of ${of}`}
          className="quiet flex flex-wrap items-end gap-x-3 gap-y-1"
        >
          {row.map((part) => (
            <div key={part.path} className="max-w-44">
              <TypedField field={part} put={(to) => change(n, { [part.path]: to })} />
            </div>
          ))}
          <button
            type="button"
            className="link pb-1 text-small"
            onClick={() => void edit(put(known.filter((_, at) => at !== n)))}
          >
            Take out
            <span className="sr-only">
              {" "}
              entry {n + 1} of {of}
            </span>
          </button>
        </div>
      ))}
    </div>
  );
}

/** One more item, opened when it is asked for: its fields in a line, kept together. */
function AnotherItem({
  field,
  of,
  add,
}: {
  field: Given["field"];
  of: string;
  add: (made: Item) => Promise<boolean>;
}) {
  const parts = field.another ?? [];
  const [typed, setTyped] = useState<Record<string, string> | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  if (!parts.length) return null;
  const now = (part: Schemas["ThingField"]) => typed?.[part.path] ?? part.value;
  const keep = async () => {
    const made = Object.fromEntries(parts.map((part) => [part.path, typedAs(part, now(part))]));
    const missing = parts.find((part) => made[part.path] === undefined || made[part.path] === "");
    const what = missing?.label.toLowerCase();
    setWrong(missing ? (now(missing).trim() ? `Not understood: ${what}.` : `Say the ${what} first.`) : null);
    if (!missing && (await add(made))) setTyped(null);
  };
  if (!typed)
    return (
      <button type="button" className="link" onClick={() => setTyped({})}>
        Add<span className="sr-only"> to {of}</span>
      </button>
    );
  return (
    <form
      aria-label={`New entry of ${of}`}
      className="flex w-full flex-wrap items-end gap-2"
      data-not-kept={Object.keys(typed).length ? "" : undefined}
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      {parts.map((part) => (
        <TypedInput
          key={part.path}
          field={part}
          label={part.label}
          value={now(part)}
          write={(text) => setTyped({ ...typed, [part.path]: text })}
        />
      ))}
      <button type="submit" className="button">
        Add
      </button>
      <button type="button" className="link pb-1" onClick={() => setTyped(null)}>
        Leave it
      </button>
      <Wrong>{wrong}</Wrong>
    </form>
  );
}
