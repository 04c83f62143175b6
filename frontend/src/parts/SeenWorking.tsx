import { useState } from "react";
import type { Schemas } from "../api/client";
import { found } from "../api/entries";
import { useEdits } from "../api/plan";

type Fact = Schemas["Fact"];

/** Somebody tried it: whether it worked, and under what conditions. Kept in the survey, with the time. */
export function SeenWorking({ noun, thing, label }: { noun: Fact["noun"]; thing: string; label: string }) {
  const { write } = useEdits();
  const [conditions, setConditions] = useState("");
  const seen = (value: boolean) =>
    void write([
      found({
        noun,
        thing,
        part: "",
        quantity: "works",
        value,
        at: new Date().toISOString(),
        conditions: conditions.trim(),
        unit: "",
        method: "",
        by: "",
        note: "",
      }),
    ]);
  return (
    <div className="flex flex-wrap items-end gap-2">
      <label className="min-w-32 flex-1">
        <span className="text-faint block text-note">{label}</span>
        <input
          className="field"
          placeholder="when, who was there"
          value={conditions}
          onChange={(event) => setConditions(event.target.value)}
        />
      </label>
      <button type="button" className="button" onClick={() => seen(true)}>
        It worked
      </button>
      <button type="button" className="button" onClick={() => seen(false)}>
        It did not
      </button>
    </div>
  );
}
