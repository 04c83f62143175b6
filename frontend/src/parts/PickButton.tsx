import type { ReactNode } from "react";
import type { PickedNoun } from "../api/pick";
import { useSelection } from "../api/plan";

/** What picks a thing: its name, or a word for it. */
export function PickButton(props: { noun: PickedNoun; id: string; name: string; children?: ReactNode }) {
  const { noun, id, name, children } = props;
  const { picked, pick } = useSelection();
  const on = picked !== null && "noun" in picked && picked.noun === noun && picked.id === id;
  return (
    <button
      type="button"
      className={`text-left ${on ? "cursor-pointer font-semibold" : "link"}`}
      aria-pressed={on}
      onClick={() => pick(on ? null : { noun, id })}
    >
      {children ?? name}
      {children && <span className="sr-only"> {name}</span>}
    </button>
  );
}
