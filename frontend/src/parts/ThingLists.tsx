import { useFields } from "../api/fields";
import type { PickedNoun } from "../api/pick";
import { ThingFieldInput } from "./ThingFieldInput";

/** The lists of a thing, such as the forwards, rules and static routes of a router, open. */
export function ThingLists({ noun, id, name }: { noun: PickedNoun; id: string; name: string }) {
  const fields = useFields(noun, id, true);
  const lists = (fields ?? []).filter((field) => field.kind === "list" && (field.another ?? []).length);
  if (!lists.length) return null;
  return (
    <div className="border-rule mt-3 border-t pt-2">
      <h3>{name}</h3>
      <div className="space-y-2">
        {lists.map((field) => (
          <ThingFieldInput key={field.path} noun={noun} id={id} field={field} within={name} />
        ))}
      </div>
    </div>
  );
}
