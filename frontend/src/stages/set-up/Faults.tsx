import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Entry } from "../../api/entries";
import { type Begun, type FaultLine, faultBegun, useFaults } from "../../api/faults";
import { useEdits, usePlan } from "../../api/plan";
import { BeginFault } from "../../faults/BeginFault";
import { ChoosePicture } from "../../faults/ChoosePicture";
import { FaultCard } from "../../faults/FaultCard";
import { CureLine } from "../../parts/Cures";
import { FirstThing, Section } from "../../parts/Section";

/** Pictures that do not appear: each worked on until it is found, and begun from any picture of the plan. */
export function Faults() {
  const { standing } = usePlan();
  const { write } = useEdits();
  const [search, setSearch] = useSearchParams();
  const [chosen, setChosen] = useState("");
  const view = useFaults(standing.id, standing.version);
  if (!view) return <p className="text-faint">Reading the faults.</p>;
  if (!view.places.length) return <FirstThing>Plug the gear together in Signal first.</FirstThing>;
  const wanted = search.get("dark") ?? chosen;
  const place = view.places.find((p) => p.picture === wanted);
  const open = view.faults.filter((fault) => fault.open);
  const ended = view.faults.filter((fault) => !fault.open);
  const keep = (entries: Entry[]) => write(entries);
  const leave = () => {
    setChosen("");
    search.delete("dark");
    search.delete("as");
    setSearch(search, { replace: true });
  };
  return (
    <>
      {place ? (
        <BeginFault
          key={place.picture}
          place={place}
          symptom={(search.get("as") as Begun["symptom"] | null) ?? undefined}
          begin={(begun) => {
            leave();
            void keep([faultBegun(begun)]);
          }}
          cancel={leave}
        />
      ) : (
        <ChoosePicture places={view.places} choose={setChosen} />
      )}
      {open.map((fault) => (
        <FaultCard key={fault.id} fault={fault} write={keep}>
          <KeepInPlan fault={fault} />
        </FaultCard>
      ))}
      {!open.length && !place && <p className="py-1">No fault is open.</p>}
      {ended.length > 0 && (
        <Section title="Ended" aside="what it was, for the next time">
          <ul>
            {ended.map((fault) => (
              <li key={fault.id} className="border-rule border-b py-1">
                {fault.at}: {fault.symptom_says}, {fault.since}.{" "}
                <strong className="font-semibold">{fault.cause || "Nobody knows what it was"}</strong>
                <span className="text-faint">
                  {" "}
                  ({fault.tried.length} tried, ended {fault.ended})
                </span>
                <KeepInPlan fault={fault} />
              </li>
            ))}
          </ul>
        </Section>
      )}
    </>
  );
}

/** What the plan may keep of it: the damage, or another socket, address or uplink. */
function KeepInPlan({ fault }: { fault: FaultLine }) {
  if (!fault.fixes.length) return null;
  return (
    <details className="mt-1" open={fault.open}>
      <summary className="link cursor-pointer py-1">
        Keep in the plan ({fault.fixes.length})<span className="sr-only">: {fault.at}</span>
      </summary>
      <ul className="mb-2 space-y-2">
        {fault.fixes.map((fix) => (
          <CureLine key={fix.title} cure={fix} />
        ))}
      </ul>
    </details>
  );
}
