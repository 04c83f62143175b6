import { usePlan } from "../../api/plan";
import { Pages } from "../../parts/Pages";
import { ThingTable } from "../../parts/ThingTable";
import { Devices } from "./Devices";
import { Library } from "./Library";
import { Stock } from "./Stock";

/** The gear: what comes along and where it stands, what there is to choose from, and what there is in stock. */
export default function Gear() {
  const { devices } = usePlan().standing.plan;
  return (
    <Pages
      begin={devices.every((d) => !d.place) && "library"}
      pages={[
        { id: "plan", name: "In this plan", page: <Devices /> },
        { id: "library", name: "Library", page: <Library /> },
        { id: "table", name: "All as a table", page: <ThingTable noun="device" title="Devices" /> },
        { id: "stock", name: "Stock", page: <Stock /> },
      ]}
    />
  );
}
