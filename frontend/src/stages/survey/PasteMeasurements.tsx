import { useState } from "react";
import { api, Refused, type Schemas, taken } from "../../api/client";
import { measured } from "../../api/entries";
import { useEdits, usePlan } from "../../api/plan";
import { FileButton } from "../../parts/FileButton";
import { Select, TextInput } from "../../parts/inputs";
import { HERE, typedNumber } from "../../parts/numbers";
import { Section } from "../../parts/Section";

type Draft = Schemas["ReadRow"];
type Conditions = Draft["conditions"];
interface Row {
  at: string;
  up: string;
  conditions: Conditions;
  draft: Draft;
}

const BUILDING = [
  ["unknown", "not known"],
  ["busy", "in use"],
  ["empty", "empty"],
] as const;

/** Measurements as they were read off a screen: pasted, looked over, completed, added. */
export function PasteMeasurements({ uplink, name }: { uplink: string; name: string }) {
  const { write } = useEdits();
  const zone = usePlan().standing.plan.show.zone || HERE;
  const [text, setText] = useState("");
  const [rows, setRows] = useState<Row[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [said, setSaid] = useState("");

  const attempt = async (work: () => Promise<void>) => {
    setTrouble(null);
    setSaid("");
    try {
      await work();
    } catch (error) {
      setTrouble(
        error instanceof Refused ? error.message : "The server cannot be reached. What you pasted is kept.",
      );
    }
  };
  const read = (pasted: string) =>
    attempt(async () => {
      const reading = taken(await api.POST("/api/measurements/read", { body: { text: pasted, zone } }));
      setRows(
        (reading.drafts ?? []).map((draft) => ({
          at: draft.wall,
          up: draft.up_mbps === null || draft.up_mbps === undefined ? "" : String(draft.up_mbps),
          conditions: draft.conditions,
          draft,
        })),
      );
      if (reading.skipped?.length) setSaid(`Left out: ${reading.skipped.join(" · ")}`);
    });
  const ready = rows.every((row) => typedNumber(row.up) !== null && row.at);
  const add = () =>
    attempt(async () => {
      const measurements = rows.map(({ at, up, conditions, draft: { wall, line, ...draft } }) => ({
        ...draft,
        at,
        up_mbps: typedNumber(up) ?? 0,
        conditions,
        uplink,
        note: "",
      }));
      if (!(await write(measurements.map(measured), zone))) return;
      setSaid(`${measurements.length} added.`);
      setRows([]);
      setText("");
    });
  const change = (i: number, part: Partial<Row>) =>
    setRows(rows.map((row, j) => (i === j ? { ...row, ...part } : row)));

  return (
    <Section
      title="Add measurements"
      aside="typed, ping's own text, CSV with a heading, or the output of iperf3 -J or mtr --json"
    >
      <PasteBox
        name={name}
        text={text}
        write={setText}
        read={read}
        notKept={text.trim() !== "" || rows.length > 0}
      />
      {trouble && (
        <p role="alert" className="text-accent mt-1 font-semibold">
          {trouble}
        </p>
      )}
      <p role="status" className="margin-note mt-1">
        {said}
      </p>
      {rows.length > 0 && (
        <>
          <ReadRows rows={rows} zone={zone} change={change} />
          <button
            type="button"
            className="button button-main mt-2"
            disabled={!ready}
            onClick={() => void add()}
          >
            Add {rows.length} to {name}
          </button>
        </>
      )}
    </Section>
  );
}

/** What is pasted, or read from a file. */
function PasteBox(props: {
  name: string;
  text: string;
  write: (text: string) => void;
  read: (text: string) => Promise<void>;
  notKept: boolean;
}) {
  const { name, text, write, read } = props;
  return (
    <div className="flex items-end gap-3" data-not-kept={props.notKept ? "" : undefined}>
      <textarea
        className="field h-20 max-w-2xl font-mono"
        aria-label={`Measurements of ${name}`}
        placeholder={"18.2 up 94 down 23 ms\n19:45 6.1 up, 68 ms, busy"}
        value={text}
        onChange={(event) => write(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) void read(text);
        }}
      />
      <div className="flex flex-col gap-2">
        <button type="button" className="button" disabled={!text.trim()} onClick={() => void read(text)}>
          Read it
        </button>
        <FileButton
          label="Measurement file"
          words="From a file"
          onFile={async (chosen) => void read((await chosen.text()).slice(0, 1_500_000))}
        />
      </div>
    </div>
  );
}

/** What was read, line by line: looked over, and completed. */
function ReadRows(props: { rows: Row[]; zone: string; change: (i: number, part: Partial<Row>) => void }) {
  return (
    <table className="mt-2">
      <thead>
        <tr>
          <th>As read</th>
          <th>When, {props.zone}</th>
          <th>Up, Mb/s</th>
          <th>Down, Mb/s</th>
          <th>Round trip, ms</th>
          <th>Jitter, ms</th>
          <th>Loss, %</th>
          <th>Building</th>
        </tr>
      </thead>
      <tbody>
        {props.rows.map((row, i) => (
          <tr key={i}>
            <ReadCells row={row} n={i + 1} change={(part) => props.change(i, part)} />
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function ReadCells({ row, n, change }: { row: Row; n: number; change: (part: Partial<Row>) => void }) {
  return (
    <>
      <td className="max-w-56 truncate font-mono text-small" title={row.draft.line}>
        {row.draft.line}
      </td>
      <td className="w-52">
        <TextInput hideLabel label={`When, row ${n}`} value={row.at} write={(at) => change({ at })} />
      </td>
      <td className="w-24">
        <TextInput
          hideLabel
          mono
          label={`Upload in Mb/s, row ${n}`}
          wrong={row.up.trim() && typedNumber(row.up) === null ? "Write a number." : null}
          placeholder="needed"
          value={row.up}
          write={(up) => change({ up })}
        />
      </td>
      {(["down_mbps", "rtt_ms", "jitter_ms", "loss_pct"] as const).map((field) => (
        <td key={field} className="font-mono">
          {row.draft[field] ?? "–"}
        </td>
      ))}
      <td className="w-32">
        <Select
          hideLabel
          label={`Building, row ${n}`}
          value={row.conditions}
          options={BUILDING}
          choose={(is) => is && change({ conditions: is })}
        />
      </td>
    </>
  );
}
