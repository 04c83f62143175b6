import { useState } from "react";
import { api, Refused, taken } from "../../api/client";
import { addPlace, addSite, freeId, remove, set } from "../../api/edits";
import { useEdits, usePlan } from "../../api/plan";
import { useView } from "../../api/views";
import { LINES } from "../../api/vocabulary";
import { GroundPlan } from "../../instruments/GroundPlan";
import { AddLine, amongSites } from "../../parts/AddLine";
import { Choice, Field, NumberField } from "../../parts/Field";
import { Select, TextInput } from "../../parts/inputs";
import { FirstThing, Section } from "../../parts/Section";
import { Wrong } from "../../parts/Wrong";
import { YesNo } from "../../parts/YesNo";

const YES_NO = [
  ["yes", "yes"],
  ["no", "no"],
] as const;

/** Sites and the places in them, and each site drawn to scale as far as positions are known. */
export function Places() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const view = useView("brief");
  const { places, sites } = standing.plan;
  const add = (name: string, chosen: string) => {
    const site = chosen || sites[0]?.id;
    const first = site ? [] : [addSite("venue", "Venue")];
    void edit([...first, addPlace(freeId(name, places), name, site ?? "venue")]);
  };
  const grounds = (view?.grounds ?? []).filter((g) => g.spots.length > 1);
  return (
    <Section
      title="Sites and places"
      aside="metres from any corner you choose; cables are measured between them"
    >
      <Sites />
      {places.length ? (
        <PlaceTable />
      ) : (
        <FirstThing>Name the places where gear will stand, beginning with the control desk.</FirstThing>
      )}
      <AddLine label="Add a place" placeholder="Boathouse" onAdd={add} among={amongSites("place", sites)} />
      {grounds.length > 0 && (
        <div className="mt-3 flex flex-wrap gap-4">
          {grounds.map((ground) => (
            <div key={ground.site} className="min-w-64 flex-1">
              <GroundPlan ground={ground} ways={view?.ways ?? []} />
            </div>
          ))}
        </div>
      )}
    </Section>
  );
}

function Sites() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const { sites, places, uplinks } = standing.plan;
  return (
    <>
      {sites.length > 0 && (
        <table className="mb-1">
          <thead>
            <tr>
              <th>Site</th>
              <th>Its network is run by</th>
              <th>Latitude, longitude</th>
              <th>Uplinks</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {sites.map((site) => (
              <tr key={site.id}>
                <td className="w-56 min-w-44">
                  <Field
                    hideLabel
                    label="Site name"
                    value={site.name}
                    edits={(text) =>
                      text.trim() ? [set("site", site.id, "name", text)] : "A site needs a name."
                    }
                  />
                </td>
                <td className="w-56 min-w-44">
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
                <td className="min-w-48">
                  <span className="flex gap-2">
                    {(["latitude", "longitude"] as const).map((side) => (
                      <NumberField
                        key={side}
                        hideLabel
                        label={`${side === "latitude" ? "Latitude" : "Longitude"} of ${site.name}`}
                        width="w-24"
                        unit="°"
                        optional
                        least={side === "latitude" ? -90 : -180}
                        value={site[side]}
                        edits={(v) => [set("site", site.id, side, v)]}
                      />
                    ))}
                  </span>
                </td>
                <td className="min-w-40">
                  {uplinks
                    .filter((u) => u.site === site.id)
                    .map((u) => u.name)
                    .join(", ") || <span className="text-faint">none yet</span>}
                </td>
                <td>
                  {!places.some((p) => p.site === site.id) && (
                    <button
                      type="button"
                      className="link"
                      onClick={() => void edit([remove("site", site.id)])}
                    >
                      Take out<span className="sr-only"> {site.name}</span>
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <NewSite />
    </>
  );
}

/** Another site in one line: its name, and the line it has. */
function NewSite() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const [name, setName] = useState("");
  const [line, setLine] = useState<(typeof LINES)[number][0] | "">("");
  const [wrong, setWrong] = useState("");
  const first = standing.plan.sites.length === 0;
  const add = async () => {
    const body = { name: name.trim(), line: line || null };
    const path = { id: standing.id };
    // The next one may be typed at once.
    setName("");
    setLine("");
    try {
      const edits = taken(await api.POST("/api/plans/{id}/asked/site", { params: { path }, body }));
      setWrong("");
      await edit(edits, `added the site ${body.name}`);
    } catch (error) {
      setName(body.name);
      setWrong(error instanceof Refused ? error.message : "The server cannot be reached. Nothing was added.");
    }
  };
  return (
    <form
      className="mb-3 flex flex-wrap items-end gap-2"
      data-not-kept={name.trim() ? "" : undefined}
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim()) void add();
      }}
    >
      <TextInput
        label={first ? "The site" : "Another site, home or town"}
        width="w-56"
        value={name}
        placeholder={first ? "Saltmere creek" : "Chandlery"}
        write={setName}
      />
      <Select label="Its uplink" width="w-40" none="none yet" value={line} options={LINES} choose={setLine} />
      <button type="submit" className="button">
        Add a site
      </button>
      <Wrong>{wrong}</Wrong>
    </form>
  );
}

function PlaceTable() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const { places, sites } = standing.plan;
  return (
    <div className="relative overflow-x-auto">
      <table>
        <thead>
          <tr>
            <th>Place</th>
            <th>Site</th>
            <th>East</th>
            <th>North</th>
            <th>Floor</th>
            <th>Indoors</th>
            <th>Mains</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {places.map((place) => (
            <tr key={place.id}>
              <td className="w-52 min-w-36">
                <Field
                  hideLabel
                  label="Place name"
                  value={place.name}
                  edits={(text) =>
                    text.trim() ? [set("place", place.id, "name", text)] : "A place needs a name."
                  }
                />
              </td>
              <td className="w-44 min-w-32">
                <Choice
                  hideLabel
                  label={`Site of ${place.name}`}
                  value={place.site}
                  options={sites.map((s) => [s.id, s.name] as const)}
                  edits={(chosen) => [set("place", place.id, "site", chosen)]}
                />
              </td>
              {(["x_m", "y_m"] as const).map((axis) => (
                <td key={axis} className="w-24 min-w-20">
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
              <td className="w-16 min-w-12">
                <NumberField
                  hideLabel
                  least={-50}
                  label={`Floor of ${place.name}`}
                  value={place.floor}
                  edits={(value) => [set("place", place.id, "floor", Math.round(value ?? 0))]}
                />
              </td>
              <td className="w-24 min-w-20">
                <Choice
                  hideLabel
                  label={`${place.name} indoors`}
                  value={place.indoor ? "yes" : "no"}
                  options={YES_NO}
                  edits={(chosen) => [set("place", place.id, "indoor", chosen === "yes")]}
                />
              </td>
              <td className="w-28 min-w-28">
                <YesNo
                  label={`Mains at ${place.name}`}
                  value={place.mains ?? null}
                  edits={(there) => [set("place", place.id, "mains", there)]}
                />
              </td>
              <td>
                <button
                  type="button"
                  className="link whitespace-nowrap"
                  onClick={() => void edit([remove("place", place.id)])}
                >
                  Take out<span className="sr-only"> {place.name}</span>
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
