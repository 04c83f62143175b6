import type { Edit, Schemas, VideoFormat } from "../api/client";
import { set, setPort } from "../api/edits";
import type { PickedNoun } from "../api/pick";
import { useEdits } from "../api/plan";
import { Choice, Field, NumberField } from "./Field";
import { FormatField } from "./FormatField";
import { Ticks } from "./inputs";

/** Whether a field is short enough to stand beside another. */
export const isShort = ({ kind, choices = [] }: Schemas["ThingField"]): boolean =>
  ["number", "whole", "yes or no"].includes(kind) ||
  (kind === "choice" && choices.every((c) => c.words.length < 16));

interface Given {
  noun: PickedNoun;
  id: string;
  field: Schemas["ThingField"];
  /** In a table: of which thing, and which others take what is typed. */
  within?: string;
  also?: readonly string[];
}

/** The edit that sets a field of a thing, or of one of its ports. */
export const fieldEdit = (
  noun: PickedNoun,
  id: string,
  field: Schemas["ThingField"],
  to: unknown,
  part = "",
): Edit => (field.port ? setPort(field.port, field.path + part, to) : set(noun, id, field.path + part, to));

/** A field of a thing, typed as the core says that it is. */
export function ThingFieldInput({ noun, id, field, within, also = [id] }: Given) {
  const { kind, value, choices = [] } = field;
  const label = within ? `${field.label} of ${within}` : field.label;
  const hide = within ? { hideLabel: true } : {};
  const unit = field.unit && !within ? { unit: field.unit } : {};
  const put = (to: unknown, part = ""): Edit[] => also.map((each) => fieldEdit(noun, each, field, to, part));
  const none = field.may_be_empty ? { none: field.empty ?? "" } : {};
  switch (kind) {
    case "format":
      return (
        <div>
          {!within && <p className="text-faint text-[12px]">{label}</p>}
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
          {...unit}
          placeholder={field.empty ?? ""}
          least={-Infinity}
          value={value === "" ? null : Number(value)}
          {...(field.may_be_empty ? { optional: true } : {})}
          edits={put}
        />
      );
    case "list":
      return (
        <p>
          <span className={within ? "sr-only" : "text-faint block text-[12px]"}>{label}</span>
          {value || "none"}
        </p>
      );
    default:
      return (
        <Field
          label={label}
          {...hide}
          type={field.secret ? "password" : "text"}
          value={value}
          edits={(to) => put(to)}
        />
      );
  }
}

/** Several values: ticked where they are known, else with commas between. */
function Several({
  field,
  hide,
  put,
}: {
  field: Schemas["ThingField"];
  hide: boolean;
  put: (to: unknown) => Edit[];
}) {
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
  return (
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
}
