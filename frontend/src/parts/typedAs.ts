import type { Schemas } from "../api/client";
import { typedAmount } from "./numbers";

/** The value that a text stands for in a field, as an edit writes it; undefined where it stands for none. */
export function typedAs(field: Schemas["ThingField"], text: string): unknown {
  const typed = text.trim();
  const choices = field.choices ?? [];
  const among = (words: string) =>
    choices.find((c) => [c.words, c.key].some((known) => known.toLowerCase() === words.trim().toLowerCase()));
  if (!typed && field.may_be_empty && field.kind !== "text") return field.kind === "several" ? [] : null;
  switch (field.kind) {
    case "text":
      return typed;
    case "number":
    case "whole":
      return typedAmount(typed, field.unit) ?? undefined;
    case "choice":
    case "yes or no":
      return among(typed)?.value;
    case "several": {
      const parts = typed.split(",").flatMap((each) => each.trim() || []);
      const found = parts.map((each) => (choices.length ? among(each)?.value : each));
      return found.includes(undefined) ? undefined : found;
    }
    default:
      return undefined;
  }
}
