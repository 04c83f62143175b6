import { useState } from "react";
import type { Device } from "../../api/client";
import { set } from "../../api/edits";
import { useEdits } from "../../api/plan";
import { Field, NumberField } from "../../parts/Field";
import { Wrong } from "../../parts/Wrong";

type Zone = NonNullable<NonNullable<Device["ingest"]>["zones"]>[number];

/** Where a service on the internet can be had: each zone with its host, and how far it is from where the pictures go. */
export function Zones({ device }: { device: Device }) {
  const { edit } = useEdits();
  const [name, setName] = useState("");
  const [wrong, setWrong] = useState<string | null>(null);
  const zones: Zone[] = [...(device.ingest?.zones ?? [])];
  const put = (now: Zone[]) => [set("device", device.id, "ingest.zones", now as never)];
  const turned = (n: number, change: Partial<Zone>) =>
    put(zones.map((zone, at) => (at === n ? { ...zone, ...change } : zone)));
  const number = (n: number, zone: Zone, field: "latitude" | "longitude" | "round_trip_ms", unit: string) => (
    <NumberField
      hideLabel
      label={`${field === "round_trip_ms" ? "Round trip" : field === "latitude" ? "Latitude" : "Longitude"} of ${zone.name}`}
      width="w-24"
      unit={unit}
      optional
      least={field === "latitude" ? -90 : field === "longitude" ? -180 : 0}
      value={zone[field] ?? null}
      edits={(v) => turned(n, { [field]: v })}
    />
  );
  return (
    <div>
      {zones.length > 0 && (
        <table>
          <thead>
            <tr>
              <th>Zone</th>
              <th>Its host</th>
              <th>Latitude</th>
              <th>Longitude</th>
              <th>Round trip from where the pictures go</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {zones.map((zone, n) => (
              <tr key={zone.name}>
                <td className="pr-3">
                  {zone.name}
                  {zone.host && zone.host === device.ingest?.host && (
                    <span className="text-faint"> (in use)</span>
                  )}
                </td>
                <td className="w-64">
                  <Field
                    hideLabel
                    mono
                    label={`Host of ${zone.name}`}
                    value={zone.host ?? ""}
                    placeholder="north.millrace.example"
                    edits={(v) => turned(n, { host: v.trim() })}
                  />
                </td>
                <td>{number(n, zone, "latitude", "°")}</td>
                <td>{number(n, zone, "longitude", "°")}</td>
                <td>{number(n, zone, "round_trip_ms", "ms")}</td>
                <td className="whitespace-nowrap">
                  {zone.host && zone.host !== device.ingest?.host && (
                    <button
                      type="button"
                      className="link mr-4"
                      onClick={() => void edit([set("device", device.id, "ingest.host", zone.host ?? "")])}
                    >
                      Use it<span className="sr-only">: {zone.name}</span>
                    </button>
                  )}
                  <button
                    type="button"
                    className="link"
                    onClick={() => void edit(put(zones.filter((_, at) => at !== n)))}
                  >
                    Take out<span className="sr-only"> {zone.name}</span>
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <form
        className="flex items-end gap-2"
        data-not-kept={name.trim() ? "" : undefined}
        onSubmit={(event) => {
          event.preventDefault();
          const wanted = name.trim();
          if (!wanted) return;
          if (zones.some((zone) => zone.name === wanted))
            return setWrong(`There is a zone called ${wanted} already: give this one another name.`);
          setWrong(null);
          setName("");
          void edit(put([...zones, { name: wanted, host: "" } as Zone]));
        }}
      >
        <input
          className="field w-48"
          aria-label={`Add a zone of ${device.name}`}
          placeholder="add a zone, such as North"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <button type="submit" className="link pb-1">
          Add<span className="sr-only"> the zone</span>
        </button>
      </form>
      {wrong && <Wrong>{wrong}</Wrong>}
    </div>
  );
}
