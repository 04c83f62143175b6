import type { Schemas } from "./client";

/** What is picked, as the address of the page says it: `device:camera`, or `finding:` and the finding's id. */
export type PickedNoun = Schemas["PickedThing"]["noun"];
export type Picked = { noun: PickedNoun; id: string } | { finding: string };

export const keyOf = (picked: Picked): string =>
  "finding" in picked ? `finding:${picked.finding}` : `${picked.noun}:${picked.id}`;

/** What a key means; nothing of one that means nothing. */
export function pickedBy(key: string | null): Picked | null {
  const at = key?.indexOf(":") ?? -1;
  if (!key || at < 1) return null;
  const [noun, id] = [key.slice(0, at), key.slice(at + 1)];
  return noun === "finding" ? { finding: id } : { noun: noun as PickedNoun, id };
}

/** The noun of a thing that the signal map draws. */
export const drawnNoun = (plan: Schemas["Plan"], id: string): PickedNoun =>
  plan.links.some((l) => l.id === id) ? "link" : plan.devices.some((d) => d.id === id) ? "device" : "place";
