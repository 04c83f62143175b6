import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { useParams } from "react-router";
import { api, type Edit, type Schemas, taken } from "../api/client";
import { remove } from "../api/edits";
import type { PickedNoun } from "../api/pick";
import { useEdits, usePlan, useSelection } from "../api/plan";
import { LongRows } from "./LongList";
import { PickButton } from "./PickButton";
import { Section } from "./Section";
import { fieldEdit, ThingFieldInput } from "./ThingFieldInput";
import { typedAs } from "./typedAs";
import { Wrong } from "./Wrong";

type Column = Schemas["TableColumn"];
type Row = Schemas["TableRow"];
/** A field is no narrower than what stands in it. */
const WIDTHS: Partial<Record<Column["kind"], string>> = {
  number: "min-w-20",
  whole: "min-w-20",
  "yes or no": "min-w-18",
  choice: "min-w-24",
  several: "min-w-40",
  format: "min-w-80",
};
/** Tables longer than this are searched. */
const SEARCHED = 12;
type TableKind = "cable" | "radio" | "stream" | "socket" | "destination";

interface Given {
  noun: PickedNoun;
  kind?: TableKind;
  title: string;
  /** What the page tells of each row besides, before its fields, under the heads. */
  told?: { heads: string[]; cells: (id: string) => ReactNode };
  /** Whether what is worked on in a row is picked. */
  follow?: boolean;
  children?: ReactNode;
}

/** All things of one noun, to change many at once: columns to choose, ticked rows that take what is typed in one of them, and what is
 * pasted from a spreadsheet. */
export function ThingTable({ noun, kind, title, told, follow, children }: Given) {
  const [columns, setColumns] = useColumns(`${noun} ${kind ?? ""}`);
  const table = useTable(noun, kind, columns);
  const [ticked, setTicked] = useState<readonly string[]>([]);
  const [find, setFind] = useState("");
  const { paste, refused } = usePaste(noun, table);
  if (!table) return null;
  const chosen = table.chosen.flatMap((path) => table.columns.find((c) => c.path === path) ?? []);
  const words = find.trim().toLowerCase();
  const rows = table.rows.filter((row) => row.name.toLowerCase().includes(words));
  return (
    <Section title={title} aside={aside(table.rows.length, ticked.length)}>
      {table.rows.length > 0 && (
        <div className="mb-2 flex flex-wrap items-baseline gap-x-4">
          {table.rows.length > SEARCHED && (
            <input
              className="field max-w-64"
              aria-label={`Find in ${title.toLowerCase()}`}
              placeholder="find by name"
              value={find}
              onChange={(e) => setFind(e.target.value)}
            />
          )}
          <Columns table={table} chosen={columns.length ? columns : table.chosen} onChoose={setColumns} />
        </div>
      )}
      {table.rows.length > 0 && (
        <div className="relative overflow-x-auto">
          <table className="quiet w-full">
            <Head
              chosen={chosen}
              told={told?.heads ?? []}
              all={ticked.length > 0 && ticked.length === rows.length}
              onTickAll={(on) => setTicked(on ? rows.map((r) => r.id) : [])}
            />
            <Rows {...{ noun, kind, chosen, rows, ticked, setTicked, told, follow, paste }} />
          </table>
        </div>
      )}
      <Wrong>{refused}</Wrong>
      {children}
    </Section>
  );
}

const aside = (rows: number, ticked: number) =>
  ticked
    ? `${ticked} ticked: typed in one, all take it`
    : rows > 1
      ? "a column is pasted from a spreadsheet"
      : undefined;

function Head(props: {
  chosen: Column[];
  told: readonly string[];
  all: boolean;
  onTickAll: (on: boolean) => void;
}) {
  return (
    <thead>
      <tr>
        <th>
          <input
            type="checkbox"
            className="accent-accent"
            aria-label="Tick every row"
            checked={props.all}
            onChange={(event) => props.onTickAll(event.target.checked)}
          />
        </th>
        <th>
          <span className="sr-only">Which</span>
        </th>
        {props.told.map((head) => (
          <th key={head}>{head}</th>
        ))}
        {props.chosen.map((column) => (
          <th key={column.path} className="whitespace-nowrap">
            {column.group && `${column.group}: `}
            {column.label}
            {column.unit && `, ${column.unit}`}
          </th>
        ))}
        <th />
      </tr>
    </thead>
  );
}

interface RowsGiven extends Pick<Given, "noun" | "kind" | "told" | "follow"> {
  chosen: Column[];
  rows: Row[];
  ticked: readonly string[];
  setTicked: (change: (now: readonly string[]) => readonly string[]) => void;
  paste: (event: React.ClipboardEvent, row: string, column: number) => void;
}

function Rows(given: RowsGiven) {
  const { selected, pick } = useSelection();
  const { noun, follow, rows, setTicked } = given;
  const tick = (id: string) =>
    setTicked((now) => (now.includes(id) ? now.filter((t) => t !== id) : [...now, id]));
  return (
    <LongRows
      items={rows}
      id={(row) => row.id}
      about={42}
      show={(row) => thingOf(row) === selected}
      {...(follow ? { onLook: (row: Row) => pick({ noun, id: thingOf(row) }) } : {})}
    >
      {(row) => <TableCells {...given} row={row} onTick={() => tick(row.id)} />}
    </LongRows>
  );
}

/** The thing that a row is of: of a socket its device. */
const thingOf = (row: Row) => row.id.split("/")[0] as string;

function TableCells(props: RowsGiven & { row: Row; onTick: () => void }) {
  const { noun, row, chosen, ticked, rows, told, paste } = props;
  return (
    <>
      <td>
        <input
          type="checkbox"
          className="accent-accent"
          aria-label={`Tick ${row.name}`}
          checked={ticked.includes(row.id)}
          onChange={props.onTick}
        />
      </td>
      <td className="max-w-72 min-w-44">
        <PickButton noun={noun} id={thingOf(row)} name={row.name} />
      </td>
      {told?.cells(row.id)}
      {row.cells.map((cell, n) => {
        const column = chosen[n];
        if (!column) return null;
        const having = rows.filter((r) => ticked.includes(r.id) && r.cells[n]).map((r) => r.id);
        return (
          <td
            key={column.path}
            className={WIDTHS[column.kind] ?? "min-w-28"}
            onPasteCapture={(event) => paste(event, row.id, n)}
          >
            {cell ? (
              <ThingFieldInput
                noun={noun}
                id={row.id}
                field={{ ...column, value: cell.value, empty: cell.empty, parts: cell.parts ?? null }}
                within={row.name}
                {...(ticked.includes(row.id) ? { also: having } : {})}
              />
            ) : (
              <span className="text-faint">–</span>
            )}
          </td>
        );
      })}
      <td className="text-right">{props.kind !== "socket" && <TakeOut noun={noun} row={row} />}</td>
    </>
  );
}

function TakeOut({ noun, row }: { noun: PickedNoun; row: Row }) {
  const { edit } = useEdits();
  return (
    <button
      type="button"
      className="link whitespace-nowrap"
      onClick={() => void edit([remove(noun, row.id)])}
    >
      Take out<span className="sr-only"> {row.name}</span>
    </button>
  );
}

/** Which columns are shown: chosen by ticks, kept on this machine. */
function Columns({
  table,
  chosen,
  onChoose,
}: {
  table: Schemas["ThingTable"];
  chosen: readonly string[];
  onChoose: (paths: string[]) => void;
}) {
  return (
    <details>
      <summary className="link text-small">
        Columns: {chosen.length} of {table.columns.length}
      </summary>
      <div className="mt-1 columns-3 gap-4 text-small">
        {table.columns.map((column) => (
          <label key={column.path} className="block">
            <input
              type="checkbox"
              className="accent-accent"
              checked={chosen.includes(column.path)}
              onChange={(event) =>
                onChoose(
                  event.target.checked
                    ? [...chosen, column.path]
                    : chosen.filter((path) => path !== column.path),
                )
              }
            />{" "}
            {column.group && `${column.group}: `}
            {column.label}
          </label>
        ))}
      </div>
    </details>
  );
}

function useColumns(of: string) {
  const key = `humble-relay:columns:${of}`;
  const [columns, setColumns] = useState<string[]>(() => JSON.parse(localStorage.getItem(key) ?? "[]"));
  return [
    columns,
    (paths: string[]) => {
      localStorage.setItem(key, JSON.stringify(paths));
      setColumns(paths);
    },
  ] as const;
}

function useTable(noun: PickedNoun, kind: TableKind | undefined, columns: string[]) {
  const { standing, stamp } = usePlan();
  const stage = (useParams().stage ?? "brief") as Schemas["StageState"]["stage"];
  const { data } = useQuery({
    queryKey: ["table", standing.id, noun, kind, stage, columns, stamp],
    queryFn: async ({ signal }) =>
      taken(
        await api.GET("/api/plans/{id}/tables/{noun}", {
          params: { path: { id: standing.id, noun }, query: { stage, ...(kind ? { kind } : {}), columns } },
          signal,
        }),
      ),
    placeholderData: (before) => before,
  });
  return data;
}

/** Lines and columns out of a spreadsheet go into the cells from the one where they are pasted, in one change; what is not understood
 * is said, and then nothing is changed. */
function usePaste(noun: PickedNoun, table: Schemas["ThingTable"] | undefined) {
  const { edit } = useEdits();
  const [refused, setRefused] = useState<string | null>(null);
  const paste = (event: React.ClipboardEvent, first: string, column: number) => {
    const text = event.clipboardData.getData("text/plain").replace(/\r?\n$/, "");
    if (!table || !/[\t\n]/.test(text)) return;
    event.preventDefault();
    event.stopPropagation();
    const at = table.rows.findIndex((row) => row.id === first);
    const edits: Edit[] = [];
    const wrong: string[] = [];
    for (const [down, line] of text.split(/\r?\n/).entries())
      for (const [right, typed] of line.split("\t").entries()) {
        const row = table.rows[at + down];
        const field = table.columns.find((c) => c.path === table.chosen[column + right]);
        const where =
          row && field && row.cells[column + right] ? `${row.name}, ${field.label}` : "beside the table";
        const value = row?.cells[column + right] && field ? typedAs(field, typed) : undefined;
        if (value === undefined) wrong.push(`"${typed}" (${where})`);
        else if (row && field) edits.push(fieldEdit(noun, row.id, field, value));
      }
    setRefused(wrong.length ? `Nothing was pasted. Not understood: ${wrong.join(", ")}.` : null);
    if (!wrong.length && edits.length) void edit(edits);
  };
  return { paste, refused };
}
