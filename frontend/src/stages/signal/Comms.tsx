import { useState } from "react";
import { addComms, freeId } from "../../api/edits";
import { useEdits, usePlan } from "../../api/plan";
import { COMMS } from "../../api/vocabulary";
import { Select } from "../../parts/inputs";
import { FirstThing } from "../../parts/Section";
import { ThingTable } from "../../parts/ThingTable";

type Kind = (typeof COMMS)[number][0];

/** Who sees and hears whom beside the program, a line each: control pages, tally, talk-back, cues, return feeds. */
export function Comms() {
  const { comms } = usePlan().standing.plan;
  return (
    <ThingTable noun="comms" title="Who hears whom">
      {!comms.length && (
        <FirstThing>
          Name the lines that the show needs: how a far guest hears the desk, who cues a roving camera, which
          computer opens the control page. A telephone is a good answer: its number stands on the call sheet.
        </FirstThing>
      )}
      <AddComms />
    </ThingTable>
  );
}

function AddComms() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const [kind, setKind] = useState<Kind>("talk-back");
  const [ends, setEnds] = useState({ from: "", to: "" });
  const { devices, comms } = standing.plan;
  const options = devices.map((d) => [d.id, d.name] as const);
  const ready = ends.from && ends.to && ends.from !== ends.to;
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (!ready) return;
        void edit([addComms(freeId(`${kind} ${ends.to}`, comms), kind, ends.from, ends.to)]);
        setEnds({ from: "", to: "" });
      }}
    >
      <Select label="New line" width="w-40" value={kind} options={COMMS} choose={(k) => k && setKind(k)} />
      <Select
        label="From"
        width="w-52"
        none="who speaks, or is controlled"
        value={ends.from}
        options={options}
        choose={(from) => setEnds({ ...ends, from })}
      />
      <Select
        label="To"
        width="w-52"
        none="who hears, or sees"
        value={ends.to}
        options={options}
        choose={(to) => setEnds({ ...ends, to })}
      />
      <button type="submit" className="button" disabled={!ready}>
        Add it
      </button>
    </form>
  );
}
