import type { Edit, Schemas, VideoFormat } from "../api/client";
import { useEdits } from "../api/plan";
import { Choice, Field, NumberField } from "./Field";
import { FormatField } from "./FormatField";
import { Ticks } from "./inputs";

interface Given {
  field: Schemas["ThingField"];
  /** In a table: of which thing; its label is then read and not seen. */
  within?: string | undefined;
  /** The edits that set the field, or that part of it. */
  put: (to: unknown, part?: string) => Edit[];
}

/** A field that is no list, typed as the core says that it is; where there is nothing to choose from, with what comes first. */
export function TypedField(given: Given) {
  return (
    <>
      <ByKind {...given} />
      {given.field.first && !given.within && <p className="margin-note">{given.field.first}</p>}
    </>
  );
}

function ByKind({ field, within, put }: Given) {
  const { kind, value, choices = [] } = field;
  const label = within ? `${field.label} of ${within}` : field.label;
  const hide = within ? { hideLabel: true } : {};
  const none = field.may_be_empty ? { none: field.empty ?? "" } : {};
  switch (kind) {
    case "format":
      return (
        <div>
          {!within && <p className="text-faint text-note">{label}</p>}
          <FormatField
            label={label}
            hideLabel
            narrow
            value={(field.parts as VideoFormat | null) ?? null}
            part={(name, to) => put(to, `.${name}`)}
          />
        </div>
      );
    case "choice":
    case "yes or no":
      return (
        <Choice
          label={label}
          {...hide}
          {...none}
          value={value}
          options={choices.map((c) => [c.key, c.words] as const)}
          edits={(key) => put(choices.find((c) => c.key === key)?.value ?? null)}
        />
      );
    case "several":
      return <Several field={{ ...field, label }} hide={within !== undefined} put={put} />;
    case "number":
    case "whole":
      return (
        <NumberField
          label={label}
          {...hide}
          {...(field.unit && !within ? { unit: field.unit } : {})}
          measured={field.unit}
          placeholder={field.may_be_empty ? (field.empty ?? "") : ""}
          least={-Infinity}
          value={value === "" ? null : Number(value)}
          {...(field.may_be_empty ? { optional: true } : {})}
          edits={(to) => put(to)}
        />
      );
    default:
      return (
        <Field
          label={label}
          {...hide}
          type={field.secret ? "password" : "text"}
          suggested={choices.map((c) => [c.key, c.words] as const)}
          value={value}
          edits={(to) => put(to)}
        />
      );
  }
}

/** Several values: ticked where they are known, else with commas between. */
function Several({ field, hide, put }: { field: Given["field"]; hide: boolean; put: Given["put"] }) {
  const { edit } = useEdits();
  const { choices = [], label, value } = field;
  const now = value.split(",").flatMap((each) => each.trim() || []);
  if (!choices.length)
    return (
      <Field
        label={`${label}, with commas between`}
        hideLabel={hide}
        value={value}
        edits={(text) => put(text.split(",").flatMap((each) => each.trim() || []))}
      />
    );
  const ticks = (
    <Ticks
      label={label}
      hideLabel={hide}
      value={now}
      options={choices.map((c) => [c.key, c.words] as const)}
      change={(keys) => {
        const values = choices.filter((c) => keys.includes(c.key)).map((c) => c.value);
        void edit(put(values.length || !field.may_be_empty ? values : null));
      }}
    />
  );
  if (!hide) return ticks;
  const said = choices.filter((c) => now.includes(c.key)).map((c) => c.words);
  return (
    <details>
      <summary className="cursor-pointer">
        {said.join(", ") || <span className="text-faint">{field.empty}</span>}
        <span className="sr-only">: {label}</span>
      </summary>
      {ticks}
    </details>
  );
}
