import { useState } from "react";
import type { Schemas } from "../../api/client";
import { type Entry, inPlaceOf } from "../../api/entries";
import { useEdits } from "../../api/plan";
import { TextInput } from "../../parts/inputs";

type Line = Schemas["LoggedLine"];
type Body = NonNullable<Line["body"]>;
type Part = { field: string; label: string; unit?: string };

const OF_A_MEASUREMENT: readonly Part[] = [
  { field: "up_mbps", label: "Up", unit: "Mb/s" },
  { field: "down_mbps", label: "Down", unit: "Mb/s" },
  { field: "rtt_ms", label: "RTT", unit: "ms" },
  { field: "jitter_ms", label: "Jitter", unit: "ms" },
  { field: "loss_pct", label: "Loss", unit: "%" },
  { field: "note", label: "Note" },
];

/** What may be said in place of an entry: its figures, its value, its words. */
function partsOf(body: Body): readonly Part[] {
  if ("up_mbps" in body) return OF_A_MEASUREMENT;
  if ("value" in body) {
    const value =
      typeof body.value === "boolean" ? [] : [{ field: "value", label: "Value", unit: body.unit ?? "" }];
    return [...value, { field: "conditions", label: "Conditions" }, { field: "note", label: "Note" }];
  }
  return [{ field: "text", label: "Line" }];
}

/** An entry of the log, to be corrected by another that stands in its place: both are in the log. */
export function CorrectedLine({ line, done }: { line: Line; done: () => void }) {
  const { write } = useEdits();
  const was = line.body as Body;
  const [body, setBody] = useState<Record<string, unknown>>({ ...was });
  const parts = partsOf(was);
  const typed = (field: string) => {
    const value = body[field];
    return value === null || value === undefined ? "" : String(value);
  };
  const isNumber = (field: string) =>
    field !== "note" && field !== "text" && typeof originally(was, field) !== "string";
  const wrong = parts.find(
    ({ field }) => isNumber(field) && typed(field).trim() !== "" && !Number.isFinite(number(typed(field))),
  );
  const empty = ["up_mbps", "value", "text"].some((field) => field in was && !typed(field).trim());
  const keep = async () => {
    const said = Object.fromEntries(
      parts.map(({ field }) => {
        const text = typed(field).trim();
        return [field, !isNumber(field) ? text : text === "" ? null : number(text)];
      }),
    );
    const entry = { kind: line.kind, body: { ...was, ...said, id: undefined } } as Pick<
      Entry,
      "kind" | "body"
    >;
    if (await write([inPlaceOf(line.id, entry)])) done();
  };
  return (
    <form
      className="flex flex-wrap items-end gap-3"
      aria-label={`In place of: ${line.says}`}
      onSubmit={(event) => {
        event.preventDefault();
        if (!wrong && !empty) void keep();
      }}
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        event.stopPropagation();
        done();
      }}
    >
      {parts.map(({ field, label, unit }) => (
        <div key={field} className={isNumber(field) ? "w-28" : "w-60"}>
          <TextInput
            label={label}
            {...(unit ? { unit } : {})}
            mono={isNumber(field)}
            value={typed(field)}
            write={(text) => setBody((now) => ({ ...now, [field]: text }))}
          />
        </div>
      ))}
      <button type="submit" className="button" disabled={!!wrong || empty}>
        Correct it
      </button>
      <button type="button" className="link" onClick={done}>
        Leave it
      </button>
      {wrong && (
        <p role="alert" className="text-accent w-full font-semibold">
          {wrong.label} takes a number{wrong.unit && ` in ${wrong.unit}`}.
        </p>
      )}
    </form>
  );
}

const number = (text: string) => Number(text.trim().replace(",", "."));
const originally = (body: Body, field: string) => (body as unknown as Record<string, unknown>)[field];
