import type { Schemas } from "./client";
import { newId } from "./outbox";

/** Entries of the log: what was found or done. Each has an id of its own from the start: sent again, it is there once. */
export type Entry = Schemas["NewEntries"]["entries"][number];

/** Kinds of entries that change the set-up of the day. */
export const OF_THE_DAY: ReadonlySet<string> = new Set([
  "seen",
  "lost",
  "task",
  "fault",
  "tried",
  "mended",
  "withdrawal",
]);

const SENT = new Set<string>();

/** Notes what this page sends itself: what is told of it again is no news here. */
export function sentHere(entries: Entry[]): void {
  for (const { id } of entries) SENT.add(id);
}

export const wasSentHere = (id: string): boolean => SENT.has(id);

const made = () => ({ id: newId(), role: "" });

/** What was measured; a time without an offset is of the zone that it is sent with. */
export const measured = (body: Schemas["Measurement"]): Entry => ({
  ...made(),
  at: body.at,
  kind: "measurement",
  body,
});
/** What was found out, or tested. */
export const found = (body: Schemas["Fact"]): Entry => ({ ...made(), at: body.at, kind: "fact", body });
/** A task that was seen to, or is open again. */
export const marked = (task: string, done: boolean): Entry => ({
  ...made(),
  at: new Date().toISOString(),
  kind: "task",
  body: { task, done },
});
/** Settings of a device that were looked at, or a picture with all that it proves. */
export const seen = (
  device: string,
  steps: readonly Schemas["SeenStep"][],
  { picture = false, right = true } = {},
): Entry => ({
  ...made(),
  at: new Date().toISOString(),
  kind: "seen",
  body: { device, steps: [...steps], picture, right },
});
/** A device that may have lost settings: its power was off, it was reset. */
export const lost = (device: string, how: NonNullable<Schemas["SettingsLost"]["how"]>): Entry => ({
  ...made(),
  at: new Date().toISOString(),
  kind: "lost",
  body: { device, how },
});
/** A line that somebody writes down, with its time. */
export const noted = (text: string): Entry => ({
  ...made(),
  at: new Date().toISOString(),
  kind: "line",
  body: { text, noun: "show", thing: "show" },
});
/** The thing that a line or a photograph is of. */
export type Of = Pick<Schemas["Photograph"], "noun" | "thing">;

/** A photograph, by the id that its file is sent under. */
export const photographed = (
  photo: string,
  text: string,
  of: Of = { noun: "show", thing: "show" },
): Entry => ({
  ...made(),
  at: new Date().toISOString(),
  kind: "photograph",
  body: { photo, text, ...of },
});
/** An entry in place of another of its kind. */
export const inPlaceOf = (corrects: string, entry: Pick<Entry, "kind" | "body">): Entry =>
  ({ ...made(), at: new Date().toISOString(), ...entry, corrects }) as Entry;
/** An entry that counts no more, or again. */
export const withdrawn = (of: string, out: boolean): Entry => ({
  ...made(),
  at: new Date().toISOString(),
  kind: "withdrawal",
  body: { of, withdrawn: out },
});
