import { addNetwork, addSite, freeId, leaveBy, remove, set, setPort } from "../../api/edits";
import { useEdits, usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { ADDRESSING, ADMISSIONS, MEDIA } from "../../api/vocabulary";
import { AddressStrip } from "../../instruments/AddressStrip";
import { AddLine, amongSites } from "../../parts/AddLine";
import { Choice, Field, NumberField } from "../../parts/Field";
import { LongRows } from "../../parts/LongList";
import { PickButton } from "../../parts/PickButton";
import { FirstThing, Section } from "../../parts/Section";
import { YesNo } from "../../parts/YesNo";
import { Giving } from "./Giving";
import { Reach } from "./Reach";
import { ReadAddress } from "./ReadAddress";
import { ReadSettings } from "./ReadSettings";
import { Routers } from "./Routers";
import { StreamAddresses } from "./StreamAddresses";

/** The addresses: each network as a ruler, each device's address on it, and where the streams are sent. */
export default function Addresses() {
  return (
    <>
      <Reach />
      <Networks />
      <StreamAddresses />
      <Routers />
      <DeviceAddresses />
      <Giving />
      <ReadAddress />
      <ReadSettings />
    </>
  );
}

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
    <Section title="Networks">
      {!networks.length && (
        <FirstThing>
          Name the network the encoder will be plugged into, and read its range off the router.
        </FirstThing>
      )}
      {networks.map((network) => {
        const strip = view?.strips.find((s) => s.network === network.id);
        const field = (
          name: "range" | "gateway" | "pool_first" | "pool_last",
          label: string,
          placeholder: string,
        ) => (
          <Field
            label={label}
            width="w-36"
            mono
            value={network[name] ?? ""}
            placeholder={placeholder}
            edits={(v) => [set("network", network.id, name, v.trim())]}
          />
        );
        return (
          <div key={network.id} className="mb-4">
            <div className="mb-2 flex flex-wrap items-end gap-x-4 gap-y-2">
              <Field
                label="Network"
                width="w-36"
                value={network.name}
                edits={(v) =>
                  v.trim() ? [set("network", network.id, "name", v)] : "A network needs a name."
                }
              />
              {sites.length > 1 && (
                <Choice
                  label="Site"
                  width="w-32"
                  value={network.site}
                  options={sites.map((s) => [s.id, s.name] as const)}
                  edits={(v) => [set("network", network.id, "site", v)]}
                />
              )}
              <Choice
                label="By"
                width="w-24"
                value={network.medium}
                options={MEDIA}
                edits={(v) => [set("network", network.id, "medium", v)]}
              />
              {field("range", "Range", "192.168.20.0/24")}
              {field("gateway", "Gateway", "192.168.20.1")}
              {field("pool_first", "Pool from", "192.168.20.100")}
              {field("pool_last", "Pool to", "192.168.20.199")}
              <Choice
                label="Way out"
                width="w-40"
                none="none"
                value={strip?.uplink ?? ""}
                options={uplinks
                  .toSorted((a, b) => Number(b.site === network.site) - Number(a.site === network.site))
                  .map(
                    (u) =>
                      [u.id, u.site === network.site ? u.name : `${u.name}, at ${siteName(u.site)}`] as const,
                  )}
                edits={(v) => [leaveBy(network.id, v || null)]}
              />
              <span className="pb-1">
                <PickButton noun="network" id={network.id} name={network.name}>
                  All
                </PickButton>
              </span>
              <button
                type="button"
                className="link pb-1"
                onClick={() => void edit([remove("network", network.id)])}
              >
                Take out<span className="sr-only"> {network.name}</span>
              </button>
            </div>
            <details className="mb-2">
              <summary className="link text-[13px]">
                IPv6, VLAN, who is let on<span className="sr-only"> of {network.name}</span>
              </summary>
              <div className="mt-1 flex flex-wrap items-end gap-x-4 gap-y-2">
                <Field
                  label="IPv6 prefix"
                  width="w-48"
                  mono
                  value={network.range_v6 ?? ""}
                  placeholder="2001:db8:20::/64"
                  edits={(v) => [set("network", network.id, "range_v6", v.trim())]}
                />
                <NumberField
                  label="VLAN number"
                  width="w-28"
                  optional
                  least={1}
                  value={network.vlan ?? null}
                  edits={(v) => [set("network", network.id, "vlan", v)]}
                />
                <div className="w-56">
                  <span className="text-faint block text-[12px]">
                    Keeps its boxes apart (guest isolation)
                  </span>
                  <YesNo
                    label={`Whether ${network.name} keeps its boxes apart`}
                    value={network.guest_isolation ?? null}
                    edits={(v) => [set("network", network.id, "guest_isolation", v)]}
                  />
                </div>
                <div className="w-56">
                  <span className="text-faint block text-[12px]">
                    Hands multicast only to who asked (IGMP snooping)
                  </span>
                  <YesNo
                    label={`Whether ${network.name} hands multicast only to who asked`}
                    value={network.snoops ?? null}
                    edits={(v) => [set("network", network.id, "snoops", v)]}
                  />
                </div>
                <Choice
                  label="Takes"
                  width="w-72"
                  value={network.admission ?? "open"}
                  options={ADMISSIONS}
                  edits={(v) => [set("network", network.id, "admission", v)]}
                />
              </div>
            </details>
            {strip && <AddressStrip strip={strip} />}
          </div>
        );
      })}
      <AddLine
        label="Add a network"
        placeholder="Show network"
        onAdd={add}
        among={amongSites("network", sites)}
      />
    </Section>
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
