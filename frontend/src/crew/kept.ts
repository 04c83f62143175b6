import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { Entry } from "../api/entries";

/** Entries that were written on this phone and that the server has not acknowledged: they outlive the page. */
interface Kept extends DBSchema {
  entries: { key: string; value: { plan: string; entry: Entry; typed: number } };
}

let opened: Promise<IDBPDatabase<Kept>> | null = null;

function database() {
  opened ??= openDB<Kept>("humble-relay-crew", 1, {
    upgrade: (db) => void db.createObjectStore("entries"),
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
