import { usePlan } from "../../api/plan";
import { FirstThing } from "../../parts/Section";
import { ThingLists } from "../../parts/ThingLists";
import { ThingTable } from "../../parts/ThingTable";

/** What each uplink is from outside, how each router translates, and what it forwards, lets pass and routes. */
export function Routers() {
  const { routers, uplinks } = usePlan().standing.plan;
  return (
    <>
      <ThingTable noun="uplink" title="Uplinks">
        {!uplinks.length && <FirstThing>No uplink yet: name it in Survey.</FirstThing>}
      </ThingTable>
      <ThingTable noun="router" title="Routers">
        {!routers.length && (
          <FirstThing>No router yet: say by which uplink a network leaves, on the page Networks.</FirstThing>
        )}
        {routers.map((router) => (
          <ThingLists key={router.id} noun="router" id={router.id} name={router.name} />
        ))}
      </ThingTable>
    </>
  );
}
