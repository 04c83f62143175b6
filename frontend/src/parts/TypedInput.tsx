import type { Schemas } from "../api/client";
import { Select, TextInput } from "./inputs";

interface Held {
  field: Schemas["ThingField"];
  label: string;
  value: string;
  write: (text: string) => void;
}

/** A field that is held until it is sent with others, such as one of an item to be added: a choice, or what is typed. */
export function TypedInput(props: Held) {
  return (
    <div>
      <ByKind {...props} />
      {props.field.first && <p className="margin-note max-w-44">{props.field.first}</p>}
    </div>
  );
}

function ByKind(props: Held) {
  const { field, label, value, write } = props;
  const { choices = [], empty = "" } = field;
  const options = choices.map((c) => [c.key, c.words] as const);
  if (field.kind === "choice" || field.kind === "yes or no")
    return (
      <Select
        label={label}
        value={value}
        options={options}
        none={field.may_be_empty ? empty : value ? undefined : "choose"}
        choose={write}
      />
    );
  return (
    <TextInput
      label={label}
      mono
      width={field.kind === "text" ? "w-44" : "w-28"}
      value={value}
      suggested={options}
      placeholder={field.may_be_empty ? empty : ""}
      write={write}
    />
  );
}
