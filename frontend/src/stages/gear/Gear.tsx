import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Device, taken } from "../../api/client";
import { addDevice, freeId, remove, set } from "../../api/edits";
import { usePlan } from "../../api/plan";
import { Choice, Field, NumberField } from "../../parts/Field";
import { FormatField } from "../../parts/FormatField";
import { FirstThing, Section } from "../../parts/Section";

/** The gear: what comes along, where it stands, and what it makes or takes. */
export function Gear() {
  const { standing } = usePlan();
  const { devices } = standing.plan;
  return (
    <>
      <Library />
      <Section title="In this plan" aside={`${devices.length} device${devices.length === 1 ? "" : "s"}`}>
        {devices.length ? (
          <ul>
            {devices.map((device) => (
              <DeviceLine key={device.id} device={device} />
            ))}
          </ul>
        ) : (
          <FirstThing>Add the camera first, then the encoder, then the platform it goes to.</FirstThing>
        )}
      </Section>
    </>
  );
}

function Library() {
  const { standing, edit } = usePlan();
  const { devices, places } = standing.plan;
  const [search, setSearch] = useState("");
  const [place, setPlace] = useState("");
  const { data: models = [] } = useQuery({
    queryKey: ["gear"],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async () => taken(await api.GET("/api/gear")),
  });
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const found = models.filter((m) =>
    words.every((w) => `${m.device.name} ${m.device.kind} ${m.about}`.toLowerCase().includes(w)),
  );
  const add = (device: Device) => {
    const here =
      device.kind === "platform" ? null : ((places.find((p) => p.id === place) ?? places[0])?.id ?? null);
    const same = devices.filter((d) => d.model === device.model).length;
    const plain = device.name.replace(/^Teasel /, "");
    const name = same ? `${plain} ${same + 1}` : plain;
    void edit([addDevice({ ...device, id: freeId(name, devices), name, place: here })]);
  };
  return (
    <Section title="Library" aside="generic models; everything about them can be changed once added">
      <div className="mb-2 flex gap-4">
        <div className="w-72">
          <label htmlFor="gear-search" className="text-faint block text-[12px]">
            Find
          </label>
          <input
            id="gear-search"
            className="field"
            placeholder="camera, encoder, converter"
            value={search}
            onChange={(e) => setSearch(e.target.value)}
          />
        </div>
        {places.length > 0 && (
          <div className="w-48">
            <label htmlFor="gear-place" className="text-faint block text-[12px]">
              Goes to
            </label>
            <select
              id="gear-place"
              className="field"
              value={place || places[0]?.id}
              onChange={(e) => setPlace(e.target.value)}
            >
              {places.map((p) => (
                <option key={p.id} value={p.id}>
                  {p.name}
                </option>
              ))}
            </select>
          </div>
        )}
      </div>
      <ul
        className="border-rule grid max-h-56 grid-cols-1 gap-x-6 overflow-y-auto border-b xl:grid-cols-2"
        tabIndex={-1}
      >
        {found.map(({ id, about, device }) => (
          <li key={id} className="border-rule flex items-center justify-between gap-3 border-t py-1">
            <span>
              {device.name}
              <span className="text-faint block text-[13px]">{about}</span>
            </span>
            <button type="button" className="button" onClick={() => add(device)}>
              Add<span className="sr-only"> {device.name}</span>
            </button>
          </li>
        ))}
        {!found.length && <li className="text-faint py-2">Nothing in the library has those words.</li>}
      </ul>
    </Section>
  );
}

function DeviceLine({ device }: { device: Device }) {
  const { standing, edit, selected } = usePlan();
  const [open, setOpen] = useState(false);
  const { places, links } = standing.plan;
  const used = new Set(links.flatMap((l) => (l.kind === "cable" ? [l.from_port, l.to_port] : [])));
  const ports = device.ports ?? [];
  const free = ports.filter((p) => !used.has(`${device.id}/${p.id}`)).length;
  return (
    <li className={`border-rule border-t py-1.5 ${selected === device.id ? "bg-wash" : ""}`}>
      <div className="flex flex-wrap items-end gap-x-4">
        <Field
          hideLabel
          label="Device name"
          width="w-56"
          value={device.name}
          edits={(text) =>
            text.trim() ? [set("device", device.id, "name", text)] : "A device needs a name."
          }
        />
        {device.kind !== "platform" && (
          <Choice
            hideLabel
            label={`Place of ${device.name}`}
            width="w-40"
            none="no place yet"
            value={device.place ?? ""}
            options={places.map((p) => [p.id, p.name] as const)}
            edits={(v) => [set("device", device.id, "place", v || null)]}
          />
        )}
        <span className="text-faint min-w-40 flex-1 pb-1">
          {device.kind.replace("-", " ")}
          {ports.length > 0 && `, ${ports.length - free} of ${ports.length} ports used`}
        </span>
        <button type="button" className="link pb-1" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "Less" : "More"}
          <span className="sr-only"> about {device.name}</span>
        </button>
        <button type="button" className="link pb-1" onClick={() => void edit([remove("device", device.id)])}>
          Take out<span className="sr-only"> {device.name}</span>
        </button>
      </div>
      {open && <DeviceDetail device={device} />}
    </li>
  );
}

function DeviceDetail({ device }: { device: Device }) {
  const put = (field: string, value: unknown) => [set("device", device.id, field, value)];
  return (
    <div className="border-rule mt-2 mb-3 ml-2 space-y-3 border-l-2 pl-4">
      <div className="flex flex-wrap gap-4">
        {(device.produces || device.kind === "camera") && (
          <FormatField label="Makes" value={device.produces} edits={(format) => put("produces", format)} />
        )}
        {device.kind !== "platform" && (
          <NumberField
            label="Power"
            width="w-28"
            unit="W"
            optional
            value={device.power_w}
            edits={(v) => put("power_w", v)}
          />
        )}
      </div>
      {device.encoding && (
        <div className="flex flex-wrap gap-4">
          <NumberField
            label="Encodes up to"
            width="w-36"
            unit="Mb/s"
            least={0.1}
            value={device.encoding.max_mbps}
            edits={(v) => put("encoding.max_mbps", v)}
          />
          <NumberField
            label="Destinations at once"
            width="w-36"
            least={1}
            value={device.encoding.destinations}
            edits={(v) => put("encoding.destinations", v)}
          />
          <p className="self-end pb-1">
            Sends {device.encoding.protocols.join(", ").toUpperCase()};{" "}
            {device.encoding.codecs.join(", ").toUpperCase()}
          </p>
        </div>
      )}
      {device.ingest && (
        <div className="flex flex-wrap gap-4">
          <Field
            label="Host it takes streams at"
            width="w-64"
            mono
            value={device.ingest.host ?? ""}
            placeholder="ingest.alder.example"
            edits={(v) => put("ingest.host", v.trim())}
          />
          <NumberField
            label="Port (empty: usual)"
            width="w-36"
            optional
            least={1}
            value={device.ingest.port}
            edits={(v) => put("ingest.port", v)}
          />
          <Field
            label="Application name"
            width="w-36"
            mono
            value={device.ingest.app ?? ""}
            edits={(v) => put("ingest.app", v.trim())}
          />
          <NumberField
            label="Takes up to"
            width="w-32"
            unit="Mb/s"
            optional
            least={0.1}
            value={device.ingest.max_mbps}
            edits={(v) => put("ingest.max_mbps", v)}
          />
          <Choice
            label="First live show on this account"
            width="w-48"
            value={device.ingest.new_account ? "yes" : "no"}
            options={
              [
                ["no", "no"],
                ["yes", "yes"],
              ] as const
            }
            edits={(v) => put("ingest.new_account", v === "yes")}
          />
        </div>
      )}
      {(device.ports ?? []).length > 0 && (
        <p className="text-faint text-[13px]">
          {(device.ports ?? [])
            .map(
              (p) =>
                `${p.name} (${p.way === "both" ? "both ways" : p.way}, ${p.types.join(" or ").toUpperCase()})`,
            )
            .join(" · ")}
        </p>
      )}
    </div>
  );
}
