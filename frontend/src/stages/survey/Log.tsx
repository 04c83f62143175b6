import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Schemas, taken } from "../../api/client";
import { noted, withdrawn } from "../../api/entries";
import { useEdits, usePlan } from "../../api/plan";
import { Select } from "../../parts/inputs";
import { LongRows } from "../../parts/LongList";
import { wall } from "../../parts/numbers";
import { printPage } from "../../parts/printing";
import { FirstThing, Section } from "../../parts/Section";
import { CorrectedLine } from "./CorrectedLine";

type Line = Schemas["LoggedLine"];

/** Everything that was found, done and noted, the last first: by kind, by role, by thing; what was wrong is withdrawn, and stays. */
export function Log() {
  const { id } = usePlan().standing;
  const { data: lines = [] } = useQuery({
    queryKey: ["log", id],
    queryFn: async () => taken(await api.GET("/api/plans/{id}/log", { params: { path: { id } } })),
  });
  const [kind, setKind] = useState("");
  const [role, setRole] = useState("");
  const [of, setOf] = useState("");
  const shown = lines.filter(
    (line) => (!kind || line.kind === kind) && (!role || line.role === role) && (!of || line.of === of),
  );
  return (
    <Section
      title="Log"
      aside={
        <span className="no-print flex gap-4">
          {lines.some((line) => line.photo) && <span>photographs are in backups, in no export</span>}
          <a className="link" href={`/api/plans/${id}/log.csv`} download>
            CSV
          </a>
          <button type="button" className="link" onClick={() => printPage()}>
            Print
          </button>
        </span>
      }
    >
      <WriteLine />
      {lines.length > 0 && (
        <div className="no-print mb-3 flex flex-wrap gap-4">
          <Only label="Kind" value={kind} of={lines.map((line) => line.kind)} choose={setKind} />
          <Only label="By" value={role} of={lines.map((line) => line.role)} choose={setRole} />
          <Only label="Of" value={of} of={lines.map((line) => line.of)} choose={setOf} />
        </div>
      )}
      {lines.length ? <Lines lines={shown} /> : <FirstThing>Nothing is written down yet.</FirstThing>}
    </Section>
  );
}

/** A line of the desk's own. */
function WriteLine() {
  const { write } = useEdits();
  const [text, setText] = useState("");
  return (
    <form
      className="no-print mb-3 flex items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (!text.trim()) return;
        void write([noted(text.trim())]).then((kept) => kept && setText(""));
      }}
    >
      <label className="grow">
        <span className="text-faint block text-note">A line for the log; no keys, no passwords</span>
        <input className="field" value={text} onChange={(event) => setText(event.target.value)} />
      </label>
      <button type="submit" className="button" disabled={!text.trim()}>
        Write it down
      </button>
    </form>
  );
}

function Only(props: { label: string; value: string; of: string[]; choose: (value: string) => void }) {
  const values = [...new Set(props.of)].filter(Boolean).sort();
  if (values.length < 2) return null;
  return (
    <div className="w-48">
      <Select
        label={props.label}
        value={props.value}
        none="all"
        options={values.map((value) => [value, value] as const)}
        choose={props.choose}
      />
    </div>
  );
}

function Lines({ lines }: { lines: readonly Line[] }) {
  const { write } = useEdits();
  const { id } = usePlan().standing;
  const [opened, setOpened] = useState<string | null>(null);
  return (
    <table className="w-full">
      <thead>
        <tr>
          <th>Written</th>
          <th>By</th>
          <th>Of</th>
          <th>What</th>
          <th />
        </tr>
      </thead>
      <LongRows items={lines} id={(line) => line.id} about={30}>
        {(line) => (
          <>
            <td className="whitespace-nowrap">
              {line.at ? (
                `${wall(line.at).day}, ${wall(line.at).time}`
              ) : (
                <span className="text-faint">not noted</span>
              )}
            </td>
            <td>{line.role}</td>
            <td>{line.of}</td>
            <td className={line.state === "stands" ? "" : "text-faint"}>
              {line.id === opened ? (
                <CorrectedLine line={line} done={() => setOpened(null)} />
              ) : line.photo ? (
                <a
                  className="link"
                  href={`/api/plans/${id}/photographs/${line.photo}`}
                  target="_blank"
                  rel="noreferrer"
                >
                  {line.says}
                </a>
              ) : (
                line.says
              )}
              {line.state !== "stands" && ` (${line.state})`}
            </td>
            <td className="no-print">
              <span className="flex justify-end gap-4">
                {line.body && line.state === "stands" && (
                  <button type="button" className="link" onClick={() => setOpened(line.id)}>
                    Correct
                    <span className="sr-only">
                      : {line.of}, {line.says}
                    </span>
                  </button>
                )}
                {line.body && line.state !== "corrected" && (
                  <button
                    type="button"
                    className="link whitespace-nowrap"
                    onClick={() => void write([withdrawn(line.id, line.state === "stands")])}
                  >
                    {line.state === "stands" ? "Withdraw" : "Let it count"}
                    <span className="sr-only">
                      : {line.of}, {line.says}
                    </span>
                  </button>
                )}
              </span>
            </td>
          </>
        )}
      </LongRows>
    </table>
  );
}
