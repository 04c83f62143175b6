import { addPlace, addSite, freeId, markTask, remove, set } from "../../api/edits";
import { useEdits, usePlan } from "../../api/plan";
import { useView } from "../../api/views";
import { CONTENTS } from "../../api/vocabulary";
import { AddLine } from "../../parts/AddLine";
import { Choice, Field, NumberField } from "../../parts/Field";
import { Figure } from "../../parts/Figure";
import { FormatField } from "../../parts/FormatField";
import { HiddenParts } from "../../parts/HiddenParts";
import { wall, withOffset } from "../../parts/numbers";
import { FirstThing, Section } from "../../parts/Section";
import { YesNo } from "../../parts/YesNo";
import { Aims } from "./Aims";
import { Spans } from "./Spans";

/** The brief: what the show is, where its places are, and what must be asked of others in time. */
export default function Brief() {
  const { standing } = usePlan();
  const { show } = standing.plan;
  const moment = (label: string, field: "starts_at" | "ends_at" | "judge_at") => (
    <Field
      label={label}
      type="datetime-local"
      width="w-52"
      value={show[field]?.slice(0, 16) ?? ""}
      edits={(text) => [
        set("show", null, field, text ? withOffset(text, show[field] ?? show.starts_at) : null),
      ]}
    />
  );
  return (
    <>
      <Section title="The show">
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
        <div className="mt-3">
          <Field
            label="Notes"
            value={show.notes ?? ""}
            edits={(text) => [set("show", null, "notes", text)]}
          />
          <HiddenParts text={show.notes} of="the notes" />
        </div>
      </Section>
      <Aims />
      <AskInTime />
      <Places />
      <Spans />
    </>
  );
}

function AskInTime() {
  const { edit } = useEdits();
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
                  onChange={(event) => void edit([markTask(task.id, event.target.checked)])}
                />
              </td>
              <td className="whitespace-nowrap">
                {task.at ? `${wall(task.at).day} ${wall(task.at).time}` : "start not known"}
              </td>
              <td className="whitespace-nowrap">{task.working && <Figure working={task.working} />}</td>
              <td>
                {task.what}
                <span className="text-faint block text-[13px]">{task.why}</span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Section>
  );
}

function Places() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const { places, sites } = standing.plan;
  const addNamedPlace = (name: string) => {
    const site = sites[0];
    const siteId = site?.id ?? "venue";
    const first = site ? [] : [addSite(siteId, "Venue")];
    void edit([...first, addPlace(freeId(name, places), name, siteId)]);
  };
  return (
    <Section
      title="Sites and places"
      aside="metres from any corner you choose; cables are measured between them"
    >
      {sites.length > 0 && (
        <table className="mb-3">
          <thead>
            <tr>
              <th>Site</th>
              <th>Its network is run by</th>
            </tr>
          </thead>
          <tbody>
            {sites.map((site) => (
              <tr key={site.id}>
                <td className="w-64">
                  <Field
                    hideLabel
                    label="Site name"
                    value={site.name}
                    edits={(text) =>
                      text.trim() ? [set("site", site.id, "name", text)] : "A site needs a name."
                    }
                  />
                </td>
                <td className="w-64">
                  <Choice
                    hideLabel
                    label={`Network of ${site.name} is run by`}
                    value={site.run_by}
                    options={
                      [
                        ["us", "us"],
                        ["venue", "the venue's own people"],
                      ] as const
                    }
                    edits={(chosen) => [set("site", site.id, "run_by", chosen)]}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {places.length ? (
        <table>
          <thead>
            <tr>
              <th>Place</th>
              <th>Site</th>
              <th>East</th>
              <th>North</th>
              <th>Indoors</th>
              <th>Mains</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {places.map((place) => (
              <tr key={place.id}>
                <td className="w-52">
                  <Field
                    hideLabel
                    label="Place name"
                    value={place.name}
                    edits={(text) =>
                      text.trim() ? [set("place", place.id, "name", text)] : "A place needs a name."
                    }
                  />
                </td>
                <td className="w-44">
                  <Choice
                    hideLabel
                    label={`Site of ${place.name}`}
                    value={place.site}
                    options={sites.map((s) => [s.id, s.name] as const)}
                    edits={(chosen) => [set("place", place.id, "site", chosen)]}
                  />
                </td>
                {(["x_m", "y_m"] as const).map((axis) => (
                  <td key={axis} className="w-24">
                    <NumberField
                      hideLabel
                      optional
                      least={-100000}
                      label={`${place.name}, metres ${axis === "x_m" ? "east" : "north"}`}
                      unit="m"
                      value={place[axis]}
                      edits={(value) => [set("place", place.id, axis, value)]}
                    />
                  </td>
                ))}
                <td className="w-24">
                  <Choice
                    hideLabel
                    label={`${place.name} indoors`}
                    value={place.indoor ? "yes" : "no"}
                    options={
                      [
                        ["yes", "yes"],
                        ["no", "no"],
                      ] as const
                    }
                    edits={(chosen) => [set("place", place.id, "indoor", chosen === "yes")]}
                  />
                </td>
                <td className="w-24">
                  <YesNo
                    label={`Mains at ${place.name}`}
                    value={place.mains ?? null}
                    edits={(there) => [set("place", place.id, "mains", there)]}
                  />
                </td>
                <td>
                  <button
                    type="button"
                    className="link"
                    onClick={() => void edit([remove("place", place.id)])}
                  >
                    Take out<span className="sr-only"> {place.name}</span>
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <FirstThing>Name the places where gear will stand, beginning with the control desk.</FirstThing>
      )}
      <AddLine label="Add a place" placeholder="Boathouse" onAdd={addNamedPlace} />
    </Section>
  );
}
