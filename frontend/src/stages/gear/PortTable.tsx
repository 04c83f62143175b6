import { type KeyboardEvent, useState } from "react";
import { api, type Device, type Schemas, taken } from "../../api/client";
import { CARRIED, CONNECTORS, FIBRE_MODES, ROLES, TAKES, WAYS } from "../../api/vocabulary";
import { NumberInput, Select, TextInput } from "../../parts/inputs";
import { Wrong } from "../../parts/Wrong";
import { words } from "../../parts/words";

type Port = Schemas["Port"];
type Connector = Port["types"][number];

/** Sockets that are usual, to be added several at a time; a box with others has them changed in its table. */
const SOCKETS: readonly (readonly [string, string])[] = [
  ...CONNECTORS,
  ["sdi hdmi", "SDI or HDMI"],
  ["hdmi network", "HDMI or network"],
];

/** The ports of a box as a table: what is changed in a marked row changes in all that are marked. */
export function PortTable({ device, change }: { device: Device; change: (ports: Port[]) => void }) {
  const ports = device.ports ?? [];
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  const put = (id: string, part: Partial<Port>) =>
    change(
      ports.map((p) =>
        p.id === id || (marked.has(id) && marked.has(p.id) && !("name" in part)) ? { ...p, ...part } : p,
      ),
    );
  const drop = (id: string) =>
    change(ports.filter((p) => p.id !== id && !(marked.has(id) && marked.has(p.id))));
  const mark = (id: string, on: boolean) =>
    setMarked((now) => new Set(on ? [...now, id] : [...now].filter((one) => one !== id)));
  return (
    <>
      {ports.length > 0 && (
        <table className="w-full text-small" onKeyDown={upAndDown}>
          <thead>
            <tr>
              <th>
                <input
                  type="checkbox"
                  className="accent-accent"
                  aria-label="Mark every port"
                  checked={ports.every((p) => marked.has(p.id))}
                  onChange={(event) => setMarked(new Set(event.target.checked ? ports.map((p) => p.id) : []))}
                />
              </th>
              <th>Port</th>
              <th>In or out</th>
              <th>Socket</th>
              <th>Takes, or carries</th>
              <th>Scales</th>
              <th>Gb/s</th>
              <th>PoE, W</th>
              <th>
                <span className="sr-only">Take off</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {ports.map((port) => (
              <PortRow
                key={port.id}
                port={port}
                ports={ports}
                marked={marked.has(port.id)}
                mark={(on) => mark(port.id, on)}
                put={(part) => put(port.id, part)}
                drop={() => drop(port.id)}
              />
            ))}
          </tbody>
        </table>
      )}
      {ports.length > 1 && (
        <p className="margin-note">
          What is changed in a marked row changes in all that are marked. Ctrl with ↑ or ↓ goes from row to
          row.
        </p>
      )}
      <MorePorts device={device} change={change} />
    </>
  );
}

interface RowGiven {
  port: Port;
  ports: readonly Port[];
  put: (part: Partial<Port>) => void;
}

function PortRow(props: RowGiven & { marked: boolean; mark: (on: boolean) => void; drop: () => void }) {
  const { port, ports, marked, mark, put, drop } = props;
  return (
    <tr className={marked ? "bg-wash" : ""}>
      <td>
        <input
          type="checkbox"
          className="accent-accent"
          aria-label={`Mark ${port.name}`}
          checked={marked}
          onChange={(event) => mark(event.target.checked)}
        />
      </td>
      <td>
        <TextInput
          hideLabel
          label={`Name of port ${port.name}`}
          value={port.name}
          write={(name) => put({ name })}
        />
      </td>
      <td className="w-28">
        <Select
          hideLabel
          label={`Way of ${port.name}`}
          value={port.way}
          options={WAYS}
          choose={(way) => way && put({ way })}
        />
      </td>
      <td className="w-36">
        <Select
          hideLabel
          label={`Kind of ${port.name}`}
          value={port.types.join(" ")}
          options={
            SOCKETS.some(([key]) => key === port.types.join(" "))
              ? SOCKETS
              : [...SOCKETS, [port.types.join(" "), words(port.types, " or ")]]
          }
          choose={(key) => put({ types: key.split(" ") as Connector[], assigned: null })}
        />
      </td>
      <td className="w-40">
        <PortUse port={port} ports={ports} put={put} />
      </td>
      <td className="text-center">
        {port.way === "in" && (
          <input
            type="checkbox"
            className="accent-accent"
            aria-label={`${port.name} scales`}
            checked={port.scales ?? false}
            onChange={(event) => put({ scales: event.target.checked })}
          />
        )}
      </td>
      <td className="w-20">
        <NumberInput
          hideLabel
          label={`Fastest of ${port.name}, Gb/s`}
          value={port.max_gbps}
          write={(max_gbps) => put({ max_gbps })}
        />
      </td>
      <td className="w-16">
        {port.types.includes("ethernet") && (
          <NumberInput
            hideLabel
            label={`PoE given by ${port.name}, W`}
            value={port.poe_w}
            write={(poe_w) => put({ poe_w })}
          />
        )}
      </td>
      <td>
        <button type="button" className="link whitespace-nowrap" onClick={drop}>
          Take off<span className="sr-only"> {port.name}</span>
        </button>
      </td>
    </tr>
  );
}

/** What a port is for: what an input takes, what an output carries, the role of a socket; of fibre its optics. */
function PortUse({ port, ports, put }: RowGiven) {
  return (
    <>
      {port.way === "in" ? (
        <Takes port={port} put={put} />
      ) : port.way === "out" ? (
        <Carries port={port} ports={ports} put={put} />
      ) : (
        <Select
          hideLabel
          label={`What ${port.name} is for`}
          none="anything"
          value={port.role ?? ""}
          options={ROLES}
          choose={(role) => put({ role: role || null })}
        />
      )}
      {port.way === "both" && port.types.includes("fibre") && (
        <Select
          hideLabel
          label={`Optics of ${port.name}`}
          none="optics not known"
          value={port.optic ?? ""}
          options={FIBRE_MODES}
          choose={(optic) => put({ optic: optic || null })}
        />
      )}
    </>
  );
}

/** The same cell of the row above or below, whatever it is. */
function upAndDown(event: KeyboardEvent<HTMLTableElement>) {
  const step = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
  const cell = (event.target as Element).closest("td");
  const plainText = event.target instanceof HTMLInputElement;
  if (!step || !cell || !(event.ctrlKey || plainText)) return;
  const row = cell.parentElement as HTMLTableRowElement;
  const next = (row.parentElement as HTMLTableSectionElement).rows[row.sectionRowIndex + step];
  const found = next?.cells[cell.cellIndex]?.querySelector<HTMLElement>("input, select");
  if (!found) return;
  event.preventDefault();
  found.focus();
}

function Takes({ port, put }: { port: Port; put: (part: Partial<Port>) => void }) {
  const now = JSON.stringify({
    rasters: port.accepts?.rasters ?? [],
    rates: port.accepts?.rates ?? [],
    scans: port.accepts?.scans ?? [],
  });
  const options: readonly (readonly [string, string])[] = TAKES;
  const listed = options.some(([key]) => key === now);
  return (
    <Select
      hideLabel
      label={`What ${port.name} takes`}
      value={now}
      options={listed ? options : [...options, [now, "a list of its own"]]}
      choose={(key) => put({ accepts: key ? (JSON.parse(key) as Port["accepts"]) : null })}
    />
  );
}

function Carries({
  port,
  ports,
  put,
}: {
  port: Port;
  ports: readonly Port[];
  put: (part: Partial<Port>) => void;
}) {
  const loops = ports
    .filter((p) => p.way === "in")
    .map((p) => [`loop ${p.id}`, `loop of ${p.name}`] as const);
  const plain = CARRIED.filter(([key]) => key !== "loop");
  return (
    <Select<string>
      hideLabel
      label={`What ${port.name} carries`}
      value={port.carries === "loop" ? `loop ${port.loop_of}` : (port.carries ?? "picture")}
      options={[...plain, ...loops]}
      choose={(key) => {
        const [carries, loop] = key.split(" ");
        put({ carries: carries as Port["carries"], loop_of: loop ?? null });
      }}
    />
  );
}

function MorePorts({ device, change }: { device: Device; change: (ports: Port[]) => void }) {
  const [count, setCount] = useState<number | null>(1);
  const [way, setWay] = useState<Port["way"]>("in");
  const [kind, setKind] = useState("hdmi");
  const [wrong, setWrong] = useState("");
  const add = async () => {
    if (!count || count < 1 || count > 64 || count % 1) return setWrong("Write how many ports: 1 to 64.");
    try {
      const types = kind.split(" ") as Connector[];
      const made = taken(
        await api.POST("/api/gear/ports", {
          body: { device: { ...device, name: device.name.trim() || "Box" }, count, way, types },
        }),
      );
      setWrong("");
      change(made.ports ?? []);
    } catch (error) {
      setWrong(error instanceof Error ? error.message : "They could not be added.");
    }
  };
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void add();
      }}
    >
      <NumberInput label="Ports to add" width="w-20" value={count} write={setCount} />
      <Select label="Socket" width="w-40" value={kind} options={SOCKETS} choose={setKind} />
      <Select label="In or out" width="w-28" value={way} options={WAYS} choose={(v) => v && setWay(v)} />
      <button type="submit" className="button">
        Add ports
      </button>
      <Wrong>{wrong}</Wrong>
    </form>
  );
}
