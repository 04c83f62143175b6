import { useState } from "react";
import { addNetwork, addSite, freeId, isStream, leaveBy } from "../../api/edits";
import { useEdits, usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { AddressRuler } from "../../instruments/AddressRuler";
import { AddressStrip } from "../../instruments/AddressStrip";
import { AddLine, amongSites } from "../../parts/AddLine";
import { Choice } from "../../parts/Field";
import { TextInput } from "../../parts/inputs";
import { Pages } from "../../parts/Pages";
import { PickButton } from "../../parts/PickButton";
import { FirstThing } from "../../parts/Section";
import { ThingTable } from "../../parts/ThingTable";
import { Giving } from "./Giving";
import { PasteText } from "./PasteText";
import { Calls, Reach } from "./Reach";
import { ReadAddress } from "./ReadAddress";
import { ReadSettings } from "./ReadSettings";
import { Routers } from "./Routers";
import { StreamAddresses } from "./StreamAddresses";

/** The addresses: each network as a ruler, the calls that break; and in pages of their own the streams, networks, routers, devices. */
export default function Addresses() {
  return (
    <Pages
      pages={[
        {
          id: "rulers",
          name: "Addresses",
          page: (
            <>
              <Rulers />
              <Calls />
            </>
          ),
        },
        {
          id: "streams",
          name: "Streams",
          page: (
            <>
              <StreamAddresses />
              <Reach />
            </>
          ),
        },
        { id: "networks", name: "Networks", page: <Networks /> },
        { id: "routers", name: "Routers", page: <Routers /> },
        {
          id: "devices",
          name: "Devices",
          page: (
            <>
              <DeviceAddresses />
              <Giving />
            </>
          ),
        },
        {
          id: "read",
          name: "Read",
          page: (
            <>
              <ReadAddress />
              <ReadSettings />
              <PasteText />
            </>
          ),
        },
      ]}
    />
  );
}

/** Every network of the plan as a ruler, one under the other; what is picked is lit on them, of a stream both its ends. */
function Rulers() {
  const { standing } = usePlan();
  const { selected } = useSelection();
  const strips = useView("addresses")?.strips ?? [];
  const link = standing.plan.links.find((l) => l.id === selected);
  const lit = link && isStream(link) ? [link.from_device, link.to_device] : selected ? [selected] : [];
  return (
    <div className="mb-4">
      <FindDevice />
      {!strips.length && (
        <FirstThing>
          Name the network the encoder will be plugged into, on the page Networks, and read its range off the
          router.
        </FirstThing>
      )}
      {strips.map((strip) => (
        <div
          key={strip.network}
          className="grid min-h-11 items-end gap-x-4 sm:grid-cols-[170px_minmax(0,1fr)]"
        >
          <div className="leading-tight">
            <PickButton noun="network" id={strip.network} name={strip.name} />
            <span className="block font-mono text-small">{strip.range || "range not known"}</span>
          </div>
          <AddressRuler strip={strip} lit={lit} />
        </div>
      ))}
    </div>
  );
}

/** On a phone: a device by its name, whose addresses are then large in the pane. */
function FindDevice() {
  const { devices } = usePlan().standing.plan;
  const [words, setWords] = useState("");
  const typed = words.trim().toLowerCase();
  const found = typed ? devices.filter((d) => d.name.toLowerCase().includes(typed)).slice(0, 6) : [];
  return (
    <div className="mb-3 sm:hidden">
      <TextInput label="Address of" value={words} placeholder="a device" write={setWords} />
      {found.map((device) => (
        <p key={device.id} className="border-rule border-b py-2 text-head">
          <PickButton noun="device" id={device.id} name={device.name} />
        </p>
      ))}
      {typed && !found.length && <p className="text-faint">No device is called that.</p>}
    </div>
  );
}

/** All networks in a table, each as a ruler with every name on it, and by which line it goes out. */
function Networks() {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const view = useView("addresses");
  const { networks, sites, uplinks } = standing.plan;
  const siteName = (id: string) => sites.find((s) => s.id === id)?.name ?? id;
  const add = (name: string, chosen: string) => {
    const site = chosen || sites[0]?.id || "venue";
    const first = sites.length ? [] : [addSite(site, "Venue")];
    const id = freeId(name, networks);
    const uplink = uplinks.find((u) => u.site === site)?.id;
    void edit([...first, addNetwork(id, name, site), ...(uplink ? [leaveBy(id, uplink)] : [])]);
  };
  return (
    <ThingTable noun="network" title="Networks">
      {!networks.length && (
        <FirstThing>
          Name the network the encoder will be plugged into, and read its range off the router.
        </FirstThing>
      )}
      <AddLine
        label="Add a network"
        placeholder="Show network"
        onAdd={add}
        among={amongSites("network", sites)}
      />
      {view?.strips.map((strip) => (
        <div key={strip.network} className="mt-4">
          <div className="mb-1 flex items-end justify-between gap-4">
            <h3>{strip.name}</h3>
            <Choice
              label={`Uplink of ${strip.name}`}
              width="w-56"
              none="none"
              value={strip.uplink ?? ""}
              options={uplinks.map((u) => [u.id, `${u.name}, ${siteName(u.site)}`] as const)}
              edits={(v) => [leaveBy(strip.network, v || null)]}
            />
          </div>
          <AddressStrip strip={strip} />
        </div>
      ))}
    </ThingTable>
  );
}

/** Every network socket that has an address of its own, or should. */
function DeviceAddresses() {
  const { devices } = usePlan().standing.plan;
  return (
    <ThingTable noun="device" kind="socket" title="Devices on a network">
      {!devices.length && (
        <FirstThing>No device with a network socket yet. Add an encoder in Gear.</FirstThing>
      )}
    </ThingTable>
  );
}
