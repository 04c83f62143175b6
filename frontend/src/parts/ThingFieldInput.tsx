import type { Edit, Schemas } from "../api/client";
import { set, setPort } from "../api/edits";
import type { PickedNoun } from "../api/pick";
import { ListField } from "./ListField";
import { TypedField } from "./TypedField";

/** Whether a field is short enough to stand beside another. */
export const isShort = ({ kind, choices = [] }: Schemas["ThingField"]): boolean =>
  ["number", "whole", "yes or no"].includes(kind) ||
  (kind === "choice" && choices.every((c) => c.words.length < 16));

/** The edit that sets a field of a thing, or of one of its ports; a port is named by its device too (`device/port`). */
export const fieldEdit = (
  noun: PickedNoun,
  id: string,
  field: Schemas["ThingField"],
  to: unknown,
  part = "",
): Edit => {
  const port = field.port || (id.includes("/") ? id : "");
  return port ? setPort(port, field.path + part, to) : set(noun, id, field.path + part, to);
};

/** A field of a thing; in a table, also of the others that take what is typed in it. */
export function ThingFieldInput(props: {
  noun: PickedNoun;
  id: string;
  field: Schemas["ThingField"];
  within?: string;
  also?: readonly string[];
}) {
  const { noun, id, field, within, also = [id] } = props;
  const put = (to: unknown, part = "") => also.map((each) => fieldEdit(noun, each, field, to, part));
  if (field.kind === "list") return <ListField field={field} within={within} put={put} />;
  const typed = <TypedField field={field} within={within} put={put} />;
  if (!field.found) return typed;
  return (
    <div>
      {typed}
      <p className="margin-note">{field.found}</p>
    </div>
  );
}
