import { addNetwork, addSite, freeId, isStream, leaveBy, set, setPort } from "../../api/edits";
import { useEdits, usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { ADDRESSING } from "../../api/vocabulary";
import { AddressRuler } from "../../instruments/AddressRuler";
import { AddressStrip } from "../../instruments/AddressStrip";
import { AddLine, amongSites } from "../../parts/AddLine";
import { Choice, Field, NumberField } from "../../parts/Field";
import { LongRows } from "../../parts/LongList";
import { Pages } from "../../parts/Pages";
import { PickButton } from "../../parts/PickButton";
import { FirstThing, Section } from "../../parts/Section";
import { ThingTable } from "../../parts/ThingTable";
import { YesNo } from "../../parts/YesNo";
import { Giving } from "./Giving";
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
            <span className="block font-mono text-[13px]">{strip.range || "range not known"}</span>
          </div>
          <AddressRuler strip={strip} lit={lit} />
        </div>
      ))}
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
              label={`Way out of ${strip.name}`}
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

function DeviceAddresses() {
  const { standing } = usePlan();
  const { selected } = useSelection();
  const { networks } = standing.plan;
  const sockets = useView("addresses")?.sockets;
  if (!sockets) return null;
  return (
    <Section title="Devices on a network" aside="a switch or router needs no line here">
      {sockets.length ? (
        <table className="w-full">
          <thead>
            <tr>
              <th>Device</th>
              <th>Network</th>
              <th>How it gets its address</th>
              <th>Address</th>
              <th />
            </tr>
          </thead>
          <LongRows
            items={sockets}
            id={(socket) => socket.port}
            about={41}
            show={(socket) => socket.device === selected}
          >
            {(socket) => (
              <>
                <td>
                  {socket.device_name}, {socket.port_name}
                </td>
                <td className="w-48">
                  <Choice
                    hideLabel
                    label={`Network of ${socket.device_name}`}
                    none="none"
                    value={socket.network}
                    options={networks.map((n) => [n.id, n.name] as const)}
                    edits={(v) => [setPort(socket.port, "interface.network", v || null)]}
                  />
                </td>
                <td className="w-48">
                  <Choice
                    hideLabel
                    label={`How ${socket.device_name} gets its address`}
                    value={socket.addressing}
                    options={ADDRESSING}
                    edits={(v) => [setPort(socket.port, "interface.addressing", v)]}
                  />
                </td>
                <td className="w-48">
                  <Field
                    hideLabel
                    mono
                    label={`Address of ${socket.device_name}`}
                    value={socket.address}
                    placeholder={socket.hint}
                    edits={(v) => [setPort(socket.port, "interface.address", v.trim())]}
                  />
                </td>
                <td className="w-56">
                  <details>
                    <summary className="link text-[13px]">
                      more
                      <span className="sr-only">
                        {" "}
                        about {socket.device_name}, {socket.port_name}
                      </span>
                    </summary>
                    <Field
                      mono
                      label={`IPv6 address of ${socket.device_name}`}
                      value={socket.address_v6}
                      placeholder="2001:db8:20::30"
                      edits={(v) => [setPort(socket.port, "interface.address_v6", v.trim())]}
                    />
                    <Field
                      mono
                      label={`Hardware address of ${socket.device_name}`}
                      value={socket.hardware_address}
                      placeholder="02:00:5e:10:00:01"
                      edits={(v) => [setPort(socket.port, "interface.hardware_address", v.trim())]}
                    />
                    <NumberField
                      label={`Mask of ${socket.device_name}, in bits (empty: the network's)`}
                      optional
                      least={1}
                      value={socket.mask_bits}
                      edits={(v) => [setPort(socket.port, "interface.mask_bits", v)]}
                    />
                    <span className="text-faint block text-[12px]">Default route by this socket</span>
                    <YesNo
                      label={`Whether the default route of ${socket.device_name} goes by ${socket.port_name}`}
                      value={socket.default_route ?? null}
                      edits={(v) => [setPort(socket.port, "interface.default_route", v)]}
                    />
                    <span className="text-faint block text-[12px]">Gives out addresses (DHCP)</span>
                    <YesNo
                      label={`Whether ${socket.device_name} gives out addresses by ${socket.port_name}`}
                      value={socket.serves_dhcp ?? null}
                      edits={(v) => [setPort(socket.port, "interface.serves_dhcp", v)]}
                    />
                    <span className="text-faint block text-[12px]">Registered, or has the login</span>
                    <YesNo
                      label={`Whether ${socket.device_name} is let onto its network`}
                      value={socket.admitted ?? null}
                      edits={(v) => [setPort(socket.port, "interface.admitted", v)]}
                    />
                    <span className="text-faint block text-[12px]">Its own firewall lets callers in</span>
                    <YesNo
                      label={`Whether the firewall of ${socket.device_name} lets callers in`}
                      value={socket.lets_in ?? null}
                      edits={(v) => [set("device", socket.device, "lets_in", v)]}
                    />
                    <span className="text-faint block text-[12px]">Its clock is set</span>
                    <YesNo
                      label={`Whether the clock of ${socket.device_name} is set`}
                      value={socket.clock_set ?? null}
                      edits={(v) => [set("device", socket.device, "clock_set", v)]}
                    />
                  </details>
                </td>
              </>
            )}
          </LongRows>
        </table>
      ) : (
        <FirstThing>No device with a network socket yet. Add an encoder in Gear.</FirstThing>
      )}
    </Section>
  );
}
