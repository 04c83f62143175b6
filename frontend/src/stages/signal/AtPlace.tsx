import { useState } from "react";
import type { Schemas } from "../../api/client";
import { usePlan } from "../../api/plan";
import { useView } from "../../api/views";
import { Select } from "../../parts/inputs";
import { useNarrow } from "../../parts/narrow";
import { PickButton } from "../../parts/PickButton";

const KEPT = "humble-relay:place";

/** For a technician in a place with a phone: what is plugged in there, plug by plug, one under the other. */
export function AtPlace() {
  return useNarrow() ? <PluggedIn /> : null;
}

function PluggedIn() {
  const { places, devices } = usePlan().standing.plan;
  const links = useView("signal_links")?.links ?? [];
  const [at, setAt] = useState(() => localStorage.getItem(KEPT) ?? "");
  const here = places.find((p) => p.id === at) ?? places[0];
  if (!here) return null;
  return (
    <section aria-label="Where I am" className="mb-4">
      <Select
        label="I am at"
        value={here.id}
        options={places.map((p) => [p.id, p.name] as const)}
        choose={(id) => {
          setAt(id);
          localStorage.setItem(KEPT, id);
        }}
      />
      {devices
        .filter((device) => device.place === here.id)
        .map((device) => (
          <div key={device.id} className="border-rule border-b py-2">
            <h3 className="text-head">
              <PickButton noun="device" id={device.id} name={device.name} />
            </h3>
            <Plugs
              links={links.filter((link) => link.to_device === device.id)}
              device={device.name}
              end="from"
            />
            <Plugs
              links={links.filter((link) => link.from_device === device.id)}
              device={device.name}
              end="to"
            />
          </div>
        ))}
    </section>
  );
}

/** What comes in, or goes out: this device's own plug large, the other end beneath. */
function Plugs(props: { links: readonly Schemas["LinkView"][]; device: string; end: "from" | "to" }) {
  const { device, end } = props;
  return props.links.map((link) => {
    const [own, other] = end === "from" ? [link.to_name, link.from_name] : [link.from_name, link.to_name];
    const carried = link.sends || [link.format, link.by_way && `${link.by_way} m`].filter(Boolean).join(", ");
    return (
      <p key={link.link} className="border-faint mt-1 border-l-2 pl-2 leading-snug">
        <span className="block text-head font-semibold">{own.replace(`${device}, `, "")}</span>
        <span aria-hidden>{end === "from" ? "↑ " : "↓ "}</span>
        {end} {other}
        {carried && <span className="text-faint block text-small">{carried}</span>}
      </p>
    );
  });
}
