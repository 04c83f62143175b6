import { set } from "../../api/edits";
import { marked } from "../../api/entries";
import { useEdits, usePlan } from "../../api/plan";
import { useView } from "../../api/views";
import { CONTENTS } from "../../api/vocabulary";
import { Choice, Field, LongField } from "../../parts/Field";
import { Figure } from "../../parts/Figure";
import { FormatField } from "../../parts/FormatField";
import { HiddenParts } from "../../parts/HiddenParts";
import { asTyped, HERE, wall } from "../../parts/numbers";
import { Pages } from "../../parts/Pages";
import { FirstThing, Section } from "../../parts/Section";
import { ThingTable } from "../../parts/ThingTable";
import { TryThenApply } from "../../parts/TryThenApply";
import { Aims } from "./Aims";
import { Places } from "./Places";
import { Sessions } from "./Sessions";
import { Spans } from "./Spans";

/** The brief: the show and what must arrive; where its places are; what is asked in time. */
export default function Brief() {
  return (
    <Pages
      pages={[
        {
          id: "show",
          name: "The show",
          page: (
            <>
              <TheShow />
              <Aims />
            </>
          ),
        },
        {
          id: "places",
          name: "Places",
          page: (
            <>
              <Places />
              <Spans />
            </>
          ),
        },
        { id: "destinations", name: "Destinations", page: <Destinations /> },
        {
          id: "days",
          name: "Days and requests",
          page: (
            <>
              <Sessions />
              <AskInTime />
            </>
          ),
        },
      ]}
    />
  );
}

/** How the show is published on each platform: what can stop it, and who watches and reads along. */
function Destinations() {
  return (
    <ThingTable noun="device" kind="destination" title="Destinations">
      <FirstThing>
        Only what can stop the show is asked: where the link leads that was sent out, and what goes live or
        ends by itself. The rest is one note, which stands on the run sheet.
      </FirstThing>
    </ThingTable>
  );
}

function TheShow() {
  const { standing } = usePlan();
  const { show } = standing.plan;
  const typedOf = (iso: string | null | undefined) => (iso ? asTyped(iso) : "");
  const elsewhere = show.zone && show.zone !== HERE;
  const moment = (label: string, field: "starts_at" | "ends_at" | "judge_at") => (
    <Field
      label={label}
      width="w-48"
      placeholder="19 Sep 2026, 19:30"
      value={typedOf(show[field])}
      edits={(text) => [set("show", null, field, text.trim() || null)]}
    />
  );
  return (
    <Section
      title="The show"
      aside={elsewhere ? `times are of ${show.zone}; this machine's clock is of ${HERE}` : undefined}
    >
      <div className="flex flex-wrap gap-x-4 gap-y-3">
        <Field
          label="Name"
          width="w-60"
          value={show.name}
          edits={(text) => (text.trim() ? [set("show", null, "name", text)] : "A show needs a name.")}
        />
        {moment("Starts", "starts_at")}
        {moment("Ends", "ends_at")}
        <Field
          label="Time zone"
          width="w-44"
          value={show.zone ?? ""}
          placeholder="Europe/London"
          edits={(text) => [set("show", null, "zone", text.trim())]}
        />
      </div>
      <div className="mt-3 flex flex-wrap gap-x-4 gap-y-3">
        <FormatField
          label="Picture"
          value={show.format}
          part={(field, value) => set("show", null, `format.${field}`, value)}
        />
        <Choice
          label="Content"
          width="w-44"
          value={show.content}
          options={CONTENTS}
          edits={(chosen) => [set("show", null, "content", chosen)]}
        />
        <Choice
          label="Recorded"
          width="w-28"
          value={show.record ? "yes" : "no"}
          options={
            [
              ["no", "no"],
              ["yes", "yes"],
            ] as const
          }
          edits={(chosen) => [set("show", null, "record", chosen === "yes")]}
        />
        {moment("Judge as of (empty: now)", "judge_at")}
      </div>
      <OtherFormats />
      <div className="mt-3">
        <Field
          label="Whom to call on the day, and how (on every card that is handed out)"
          value={show.call ?? ""}
          placeholder="Maren at the desk, +00 0000 0000"
          edits={(text) => [set("show", null, "call", text)]}
        />
      </div>
      <div className="mt-3">
        <LongField
          label="Notes"
          value={show.notes ?? ""}
          edits={(text) => [set("show", null, "notes", text)]}
        />
        <HiddenParts text={show.notes} of="the notes" />
      </div>
    </Section>
  );
}

/** Gear that makes another picture than the brief asks for, set to it in one edit. */
function OtherFormats() {
  const other = useView("brief", "plan")?.other_formats;
  if (!other) return null;
  return (
    <details className="mt-2">
      <summary className="link">
        {other.devices.length} {other.devices.length > 1 ? "devices make" : "device makes"} another picture
        than {other.asked}
      </summary>
      <p className="mt-1">{other.devices.join(", ")}.</p>
      <TryThenApply edits={other.edits} why={`Set to ${other.asked}, as the brief asks`} />
    </details>
  );
}

function AskInTime() {
  const { write } = useEdits();
  const tasks = useView("brief")?.ahead ?? [];
  return (
    <Section title="Ask in time" aside="counted back from the start">
      <table className="w-full">
        <thead>
          <tr>
            <th>Done</th>
            <th>Begin by</th>
            <th>Lead</th>
            <th>What</th>
          </tr>
        </thead>
        <tbody>
          {tasks.map((task) => (
            <tr key={task.id}>
              <td>
                <input
                  type="checkbox"
                  className="accent-accent h-4 w-4"
                  aria-label={`Done: ${task.what}`}
                  checked={task.done}
                  onChange={(event) => void write([marked(task.id, event.target.checked)])}
                />
              </td>
              <td className="whitespace-nowrap">
                {task.at ? `${wall(task.at).day}, ${wall(task.at).time}` : "start not known"}
              </td>
              <td className="whitespace-nowrap">{task.working && <Figure working={task.working} />}</td>
              <td>
                {task.what}
                <span className="text-faint block text-small">{task.why}</span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  );
}
