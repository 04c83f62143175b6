import { useState } from "react";
import { noted } from "../api/entries";
import { TakePhotograph } from "./TakePhotograph";
import type { Log, Written } from "./useLog";

/** A line for the log, and those that were written on this phone. */
export function Lines(props: { zone: string; written: readonly Written[]; write: Log["write"] }) {
  const { zone, written, write } = props;
  const clock = new Intl.DateTimeFormat("en-GB", {
    hour: "2-digit",
    minute: "2-digit",
    timeZone: zone || "UTC",
  });
  const [text, setText] = useState("");
  const put = () => {
    if (!text.trim()) return;
    void write([noted(text.trim())]);
    setText("");
  };
  return (
    <>
      <label className="block">
        <span className="text-faint block text-small">
          A line for the log. No keys, no passwords: everybody reads it.
        </span>
        <textarea
          className="field min-h-24 text-head"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <button type="button" className="button button-main mt-2 min-h-14 w-full text-head" onClick={put}>
        Write it down
      </button>
      <TakePhotograph text={text.trim()} write={write} taken={() => setText("")} />
      {written
        .filter((one) => one.entry.kind === "line" || one.entry.kind === "photograph")
        .toReversed()
        .map(({ entry, sent }) => (
          <p key={entry.id} className="border-rule border-b py-2">
            <span className="font-mono text-small">{entry.at && clock.format(new Date(entry.at))}</span>{" "}
            {entry.kind === "line" && entry.body.text}
            {entry.kind === "photograph" && `photograph${entry.body.text && `: ${entry.body.text}`}`}
            {!sent && <span className="text-faint"> (kept on this phone)</span>}
          </p>
        ))}
    </>
  );
}
