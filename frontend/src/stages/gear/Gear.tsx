import { Devices } from "./Devices";
import { Library } from "./Library";
import { Stock } from "./Stock";

/** The gear: what comes along, where it stands, what each port has been told, and what there is in stock. */
export default function Gear() {
  return (
    <>
      <Library />
      <Devices />
      <Stock />
    </>
  );
}
