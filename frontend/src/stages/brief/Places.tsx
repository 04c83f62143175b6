import { useState } from "react";
import { api, Refused, taken } from "../../api/client";
import { addPlace, addSite, freeId } from "../../api/edits";
import { useEdits, usePlan } from "../../api/plan";
import { useView } from "../../api/views";
import { LINES } from "../../api/vocabulary";
import { GroundPlan } from "../../instruments/GroundPlan";
import { AddLine, amongSites } from "../../parts/AddLine";
import { Select, TextInput } from "../../parts/inputs";
import { FirstThing } from "../../parts/Section";
import { ThingTable } from "../../parts/ThingTable";
import { Wrong } from "../../parts/Wrong";

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
    <>
      <ThingTable noun="site" title="Sites">
        <NewSite />
      </ThingTable>
      <ThingTable noun="place" title="Places">
        {!places.length && (
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
      </ThingTable>
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
