import type { Schemas, Standing } from "./client";

type Changes = Schemas["StandingChanges"];
/** A plan as it stands; `unjudged` where the report is still the one from before its last change. */
export type Known = Standing & { unjudged?: boolean };
type Row = { id: string };

/** The document with what is different in it: its other fields, the rows that are new or others, in the order that is told. What
 * stays is the same object as before. */
function changed<D extends object>(document: D, { fields, rows, order }: Schemas["FieldChanges"]): D {
  const lists = Object.entries(rows).map(([name, told]) => {
    const there = document[name as keyof D] as readonly Row[];
    const others = new Map((told as Row[]).map((row) => [row.id, row]));
    const placed = order[name];
    if (!placed) return [name, there.map((row) => others.get(row.id) ?? row)];
    const known = new Map(there.map((row) => [row.id, row]));
    return [name, placed.map((id) => others.get(id) ?? known.get(id))];
  });
  return { ...document, ...fields, ...Object.fromEntries(lists) };
}

/** The plan as it stands after what was told of it; nothing where it was told to who knew another one. */
export function laidOver(known: Known | undefined, told: Standing | Changes): Known | undefined {
  if (!("since" in told)) return told;
  if (known?.told !== told.since) return undefined;
  return {
    ...known,
    version: told.version,
    told: told.told,
    undoes: told.undoes,
    redoes: told.redoes,
    plan: changed(known.plan, told.plan),
    survey: changed(known.survey, told.survey),
    report: told.report ? changed(known.report, told.report) : known.report,
    unjudged: !told.report,
  };
}
