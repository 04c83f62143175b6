import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { Entry } from "../api/entries";

/** Entries that were written on this phone and that the server has not acknowledged, with their photographs: they outlive the page. */
interface Kept extends DBSchema {
  entries: { key: string; value: { plan: string; entry: Entry; typed: number } };
  photographs: { key: string; value: string };
}

let opened: Promise<IDBPDatabase<Kept>> | null = null;

function database() {
  opened ??= openDB<Kept>("humble-relay-crew", 1, {
    upgrade: (db) => {
      db.createObjectStore("entries");
      db.createObjectStore("photographs");
    },
  });
  return opened;
}

export async function keep(plan: string, entry: Entry): Promise<void> {
  await (await database()).put("entries", { plan, entry, typed: Date.now() }, entry.id);
}

/** What waits of a plan, in the order it was written. */
export async function waiting(plan: string): Promise<Entry[]> {
  const all = await (await database()).getAll("entries");
  return all
    .filter((each) => each.plan === plan)
    .sort((a, b) => a.typed - b.typed)
    .map(({ entry }) => entry);
}

export async function acknowledged(ids: readonly string[]): Promise<void> {
  const change = (await database()).transaction("entries", "readwrite");
  await Promise.all([...ids.map((id) => change.store.delete(id)), change.done]);
}

/** Keeps the file of a photograph, in base64, until it is sent. */
export async function keepPhotograph(id: string, data: string): Promise<void> {
  await (await database()).put("photographs", data, id);
}

/** The file of a photograph that is not sent yet. */
export async function photograph(id: string): Promise<string | undefined> {
  return (await database()).get("photographs", id);
}

export async function photographSent(id: string): Promise<void> {
  await (await database()).delete("photographs", id);
}
