import type { Device, Port } from "../../api/client";
import { isStream, portRef, setPort } from "../../api/edits";
import { usePlan } from "../../api/plan";
import { Choice } from "../../parts/Field";
import { word, words } from "../../parts/words";

/** What is in each port of a device: the far end in words, by port. */
export function usePortUse(device: Device) {
  const { devices, links } = usePlan().standing.plan;
  const named = (ref: string) => {
    const [id = "", port] = ref.split("/");
    const found = devices.find((d) => d.id === id);
    return `${found?.name}, ${found?.ports?.find((p) => p.id === port)?.name}`;
  };
  const used = new Map<string, string>();
  for (const link of links) {
    if (isStream(link)) {
      if (link.to_device === device.id && link.input) used.set(link.input, link.name);
      continue;
    }
    for (const [here, there] of [
      [link.from_port, link.to_port],
      [link.to_port, link.from_port],
    ] as const)
      if (here.startsWith(`${device.id}/`)) used.set(here.slice(device.id.length + 1), named(there));
  }
  return { ports: device.ports ?? [], used };
}

const BOTH = [
  ["yes", "on both sides"],
  ["no", "on one side"],
] as const;
const YES_NO = [
  ["yes", "on"],
  ["no", "off"],
] as const;
const OVERLAY = [
  ["on", "overlay on"],
  ["off", "overlay off"],
  ["not-known", "overlay not known"],
] as const;
const PROTECTED = [
  ["yes", "protected: yes"],
  ["no", "protected: no"],
] as const;
const LEVELS = [
  ["full", "full range"],
  ["limited", "limited range"],
] as const;

/** Every port: what it is, what is in it, and what it has been told. */
export function Ports({ device }: { device: Device }) {
  const { ports, used } = usePortUse(device);
  if (!ports.length) return null;
  return (
    <table className="w-full text-[13px]">
      <thead>
        <tr>
          <th>Port</th>
          <th>Is</th>
          <th>In it</th>
          <th>Told</th>
        </tr>
      </thead>
      <tbody>
        {ports.map((port) => (
          <tr key={port.id}>
            <td>{port.name}</td>
            <td className="whitespace-nowrap">
              {port.way === "both" ? "both ways" : port.way}, {words(port.types, " or ")}
              {port.scales && ", scales"}
            </td>
            <td>{used.get(port.id) ?? <span className="text-faint">free</span>}</td>
            <td>
              <span className="flex flex-wrap gap-x-3">
                <Told device={device} port={port} />
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Told({ device, port }: { device: Device; port: Port }) {
  const ref = portRef(device, port);
  const name = `${device.name}, ${port.name}`;
  const tell = <T extends string>(
    what: string,
    field: string,
    value: T | "",
    options: readonly (readonly [T, string])[],
    as: (v: T) => unknown = (v) => v,
    untold = true,
  ) => (
    <Choice
      hideLabel
      label={`${what} of ${name}`}
      width="w-32"
      none={untold ? "not told" : undefined}
      value={value}
      options={options}
      edits={(v) => [setPort(ref, field, v ? as(v) : null)]}
    />
  );
  const sides = port.both_sides ? "yes" : "no";
  return (
    <>
      {port.types.length > 1 &&
        tell(
          "Type",
          "assigned",
          port.assigned ?? "",
          port.types.map((t) => [t, word(t)]),
        )}
      {(port.may_carry ?? []).length > 0 &&
        tell(
          "Picture",
          "carries",
          port.carries ?? "picture",
          (port.may_carry ?? []).map((c) => [c, c]),
        )}
      {port.overlay && tell("Menu overlay", "overlay", port.overlay, OVERLAY, (v) => v, false)}
      {port.way === "in" &&
        port.types.includes("hdmi") &&
        tell(
          "A protected picture",
          "takes_protected",
          port.takes_protected == null ? "" : port.takes_protected ? "yes" : "no",
          PROTECTED,
          (v) => v === "yes",
        )}
      {(port.levels || (port.way === "out" && device.kind === "computer" && port.types.includes("hdmi"))) &&
        tell("Colour range", "levels", port.levels ?? "", LEVELS)}
      {port.way === "out" &&
        device.kind === "computer" &&
        port.types.includes("hdmi") &&
        tell(
          "Content protection",
          "protected",
          port.protected ? "yes" : "no",
          YES_NO.map(([k, w]) => [k, `protection ${w}`]),
          (v) => v === "yes",
        )}
      {port.way === "in" &&
        port.types.includes("audio") &&
        tell("A mono line", "both_sides", sides, BOTH, (v) => v === "yes")}
    </>
  );
}
