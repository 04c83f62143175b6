import type { Edit, Schemas } from "./client";
import type { Entry } from "./entries";
import { SECRET_FIELDS, SECRETS } from "./form";

/** Changes on their way to the server: kept in the browser, one entry each, until the server has them. */

export type Change =
  | { edits: Edit[]; why: string; form: number }
  | { go: "undo" | "redo" }
  | { restore: number }
  | { entries: Entry[]; zone: string };

export interface Pending {
  /** The change's own id: sent again under it, it is made once. */
  id: string;
  change: Change;
  /** The version it was made on; null when it follows the change before it in the queue. */
  base: number | null;
  /** Orders the entries of all tabs. */
  typed: number;
  /** Whether it is written down, and not only in memory. */
  written: boolean;
}

/** Something typed before a reload that could not be written down here: which field, of what. */
export interface Lost {
  what: string;
  noun: string;
  id: string;
}

interface Written {
  id: string;
  typed: number;
  base: number | null;
  change?: Change | Older;
  held?: Lost[];
}

const prefix = (plan: string) => `humble-relay:unsent:${plan}:`;

/** Whatever may be a key or a password stays in memory: the browser's storage is no place for it. */
const NAMES = SECRET_FIELDS.join("|");
const MAY_BE_SECRET = new RegExp(
  `://|@|"(${SECRETS.join("|")})":"[^"]|"(${NAMES})":"[^"]*[/?#]|"field":"([a-z_]+\\.)*(${NAMES})"`,
);

/** An id of its own, also where the page is not served from this machine. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
}

/** Writes the change down, but for what may be a secret. False where it is now in memory only. */
export function writeDown(plan: string, pending: Omit<Pending, "written">): boolean {
  const { id, typed, base, change } = pending;
  const secret = MAY_BE_SECRET.test(JSON.stringify(change));
  const entry: Written = secret
    ? { id, typed, base, held: withoutValues(change) }
    : { id, typed, base, change };
  try {
    localStorage.setItem(prefix(plan) + id, JSON.stringify(entry));
    return !secret;
  } catch {
    return false; // the browser's storage is full, or switched off
  }
}

export function forget(plan: string, id: string): void {
  localStorage.removeItem(prefix(plan) + id);
}

/** What was written down and not acknowledged, in the order it was typed, and what was not written down. */
export function unsent(plan: string): { pending: Pending[]; lost: Lost[] } {
  const entries: Written[] = [];
  for (const key of Object.keys(localStorage)) {
    if (!key.startsWith(prefix(plan))) continue;
    try {
      entries.push(JSON.parse(localStorage.getItem(key) ?? "") as Written);
    } catch {
      localStorage.removeItem(key);
    }
  }
  entries.sort((a, b) => a.typed - b.typed);
  return {
    pending: entries.flatMap(({ id, typed, base, change }) =>
      change ? [{ id, typed, base, change: inSomeForm(id, change), written: true }] : [],
    ),
    lost: entries.flatMap(({ held }) => held ?? []),
  };
}

export function forgetLost(plan: string): void {
  for (const key of Object.keys(localStorage)) {
    if (key.startsWith(prefix(plan)) && localStorage.getItem(key)?.includes('"held":')) {
      localStorage.removeItem(key);
    }
  }
}

/** Calls back with the id of an entry that another tab has finished with. */
export function whenForgotten(plan: string, then: (id: string) => void): () => void {
  const listen = (event: StorageEvent) => {
    if (event.key?.startsWith(prefix(plan)) && event.newValue === null)
      then(event.key.slice(prefix(plan).length));
  };
  window.addEventListener("storage", listen);
  return () => window.removeEventListener("storage", listen);
}

/** What pages of older versions wrote down: edits before they said their form, in the third; findings before there was a log. */
type Older = { measurements: Schemas["Measurement"][]; zone?: string } | { facts: Schemas["Fact"][] };

function inSomeForm(id: string, change: Change | Older): Change {
  const named = (n: number) => ({ id: `${id}-${n}`, role: "" });
  if ("measurements" in change) {
    const of = (body: Schemas["Measurement"], n: number): Entry => ({
      ...named(n),
      at: body.at,
      kind: "measurement",
      body,
    });
    return { entries: change.measurements.map(of), zone: change.zone ?? "" };
  }
  if ("facts" in change) {
    const of = (body: Schemas["Fact"], n: number): Entry => ({
      ...named(n),
      at: body.at,
      kind: "fact",
      body,
    });
    return { entries: change.facts.map(of), zone: "" };
  }
  return "edits" in change && !change.form ? { ...change, form: 3 } : change;
}

/** Which things a change is about, without any of its values. */
function withoutValues(change: Change): Lost[] {
  if (!("edits" in change)) return [{ what: "entry", noun: "log", id: "" }];
  return change.edits.map((edit) =>
    edit.kind === "set"
      ? { what: edit.field.replaceAll(/[._]/g, " "), noun: edit.noun, id: edit.id ?? "" }
      : { what: edit.kind.replaceAll("-", " "), noun: "", id: "" },
  );
}
