import { useState } from "react";
import { api, type Edit, taken } from "../../api/client";
import { useEdits, usePlan, useTrial } from "../../api/plan";
import { Section } from "../../parts/Section";
import { Wrong } from "../../parts/Wrong";

/** A settings file from the other side of a stream: read, looked at, and put into the plan at one of its boxes. */
export function ReadSettings() {
  const { standing } = usePlan();
  const { edit, preview } = useEdits();
  const { trial } = useTrial();
  const boxes = standing.plan.devices.filter((d) => d.encoding || d.decoding);
  const [text, setText] = useState("");
  const [device, setDevice] = useState("");
  const [edits, setEdits] = useState<Edit[] | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const ask = async (file: string, at: string) => {
    setEdits(null);
    setWrong(null);
    preview(null);
    if (!file) return;
    try {
      const path = { id: standing.id };
      const found = taken(
        await api.POST("/api/plans/{id}/asked/join", {
          params: { path },
          body: { text: file, ...(at ? { device: at } : {}) },
        }),
      );
      setDevice(found.device);
      setEdits(found.edits);
      preview(found.edits);
    } catch (error) {
      setWrong(error instanceof Error ? error.message : String(error));
    }
  };
  if (!boxes.length) return null;
  return (
    <Section title="Read a settings file" aside="made by Humble Relay at the other end, with its join card">
      <div className="flex flex-wrap items-end gap-3">
        <label>
          <span className="text-faint block text-note">For which device here</span>
          <select
            className="field w-56"
            value={device}
            onChange={(event) => {
              setDevice(event.target.value);
              void ask(text, event.target.value);
            }}
          >
            <option value="">whichever fits</option>
            {boxes.map((d) => (
              <option key={d.id} value={d.id}>
                {d.name}
              </option>
            ))}
          </select>
        </label>
        <label>
          <span className="text-faint block text-note">The file</span>
          <input
            type="file"
            accept=".json,application/json"
            onChange={async (event) => {
              const read = (await event.target.files?.[0]?.text()) ?? "";
              setText(read);
              void ask(read, device);
            }}
          />
        </label>
        {edits && (
          <button
            type="button"
            className="button button-main"
            onClick={() => {
              void edit(edits, "read a settings file");
              setEdits(null);
              setText("");
            }}
          >
            Put it into the plan
          </button>
        )}
      </div>
      <Wrong>{wrong}</Wrong>
      {edits && (
        <p aria-live="polite" className="mt-2">
          It brings{" "}
          {edits
            .flatMap((e) =>
              e.kind === "add-link" && e.item.kind === "stream"
                ? [`the stream ${e.item.name}, to ${e.item.address || "an address still to be typed"}`]
                : e.kind === "add-device"
                  ? [e.item.name]
                  : e.kind === "add-site"
                    ? [`the site ${e.item.name}`]
                    : [],
            )
            .join("; ")}
          .{trial && trial.come.length > 0 && ` ${trial.come.length} findings would come.`}
        </p>
      )}
    </Section>
  );
}
