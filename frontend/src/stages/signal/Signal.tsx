import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, taken } from "../../api/client";
import { isCable, isStream, remove, set, setPort } from "../../api/edits";
import { usePlan } from "../../api/plan";
import { SignalMap } from "../../instruments/SignalMap";
import { Choice, NumberField } from "../../parts/Field";
import { Figure } from "../../parts/Figure";
import { formatLabel } from "../../parts/FormatField";
import { FirstThing, Section } from "../../parts/Section";

const CABLES = [
  ["hdmi", "HDMI"],
  ["coax", "SDI coax"],
  ["ethernet", "Ethernet"],
  ["usb2", "USB 2"],
  ["usb3", "USB 3"],
  ["fibre", "Fibre"],
  ["audio", "Audio"],
] as const;

/** The signal path: the map of it, what joins what, and new joints. */
export function Signal() {
  const { standing, report, selected, select } = usePlan();
  const { devices } = standing.plan;
  return (
    <>
      <Section title="Signal map" aside="drawn from the plan; select a box or a line to follow it">
        {devices.length ? (
          <SignalMap map={report.map} selected={selected} onSelect={select} />
        ) : (
          <FirstThing>Add gear first; it appears here by itself.</FirstThing>
        )}
      </Section>
      {devices.length > 1 && <Join />}
      <Links />
    </>
  );
}

function Join() {
  const { standing, edit, preview, trial } = usePlan();
  const { devices } = standing.plan;
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const ready =
    from && to && from !== to && devices.some((d) => d.id === from) && devices.some((d) => d.id === to);
  const { data: joints } = useQuery({
    queryKey: ["joints", standing.id, standing.version, from, to],
    enabled: Boolean(ready),
    queryFn: async () =>
      taken(
        await api.GET("/api/plans/{id}/joints", {
          params: { path: { id: standing.id }, query: { from_device: from, to_device: to } },
        }),
      ),
  });
  const picker = (id: string, label: string, value: string, choose: (v: string) => void) => (
    <div className="w-60">
      <label htmlFor={id} className="text-faint block text-[12px]">
        {label}
      </label>
      <select id={id} className="field" value={value} onChange={(e) => choose(e.target.value)}>
        <option value="">choose</option>
        {devices.map((d) => (
          <option key={d.id} value={d.id}>
            {d.name}
          </option>
        ))}
      </select>
    </div>
  );
  return (
    <Section title="Join two devices" aside="or type it: / slipway cam to encoder">
      <div className="flex gap-4">
        {picker("join-from", "From", from, setFrom)}
        {picker("join-to", "To", to, setTo)}
      </div>
      {ready && joints && (
        <ul className="mt-2" onMouseLeave={() => trial && preview(null)}>
          {joints.map((joint) => (
            <li
              key={joint.title}
              className="border-rule flex items-center justify-between gap-4 border-t py-1"
            >
              <span>{joint.title}</span>
              <button
                type="button"
                className="button"
                onFocus={() => preview(joint.edits)}
                onMouseEnter={() => preview(joint.edits)}
                onBlur={() => preview(null)}
                onClick={() => void edit(joint.edits)}
              >
                Join<span className="sr-only"> by {joint.title}</span>
              </button>
            </li>
          ))}
          {!joints.length && (
            <li className="text-faint">
              No free ports of the two match. Add a converter between them, or free a port.
            </li>
          )}
        </ul>
      )}
    </Section>
  );
}

function Links() {
  const { standing, report, edit, selected, select } = usePlan();
  const { links, devices } = standing.plan;
  const cables = links.filter(isCable);
  const streams = links.filter(isStream);
  const device = (id: string) => devices.find((d) => d.id === id);
  const port = (ref: string) =>
    device(ref.split("/")[0] ?? "")?.ports?.find((p) => p.id === ref.split("/")[1]);
  const portName = (ref: string) => `${device(ref.split("/")[0] ?? "")?.name}, ${port(ref)?.name}`;
  const mark = (id: string) => (selected === id ? "bg-wash" : "");
  return (
    <Section title="Cables and streams">
      {links.length === 0 && (
        <FirstThing>Join the camera to the encoder, then the encoder to the platform.</FirstThing>
      )}
      {cables.length > 0 && (
        <table className="w-full">
          <thead>
            <tr>
              <th>From</th>
              <th>To</th>
              <th>Cable</th>
              <th>Length</th>
              <th>Carries</th>
              <th>Reach</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {cables.map((cable) => {
              const judged = report.cables.find((c) => c.cable === cable.id);
              return (
                <tr key={cable.id} className={mark(cable.id)} onFocus={() => select(cable.id)}>
                  <td>{portName(cable.from_port)}</td>
                  <td>
                    {portName(cable.to_port)}
                    {(port(cable.to_port)?.types.length ?? 0) > 1 && (
                      <Choice
                        hideLabel
                        label={`${portName(cable.to_port)} is`}
                        none="not assigned"
                        value={port(cable.to_port)?.assigned ?? ""}
                        options={(port(cable.to_port)?.types ?? []).map((t) => [t, t.toUpperCase()] as const)}
                        edits={(v) => [setPort(cable.to_port, "assigned", v || null)]}
                      />
                    )}
                  </td>
                  <td className="w-28">
                    <Choice
                      hideLabel
                      label={`Kind of ${portName(cable.from_port)}`}
                      value={cable.cable}
                      options={CABLES}
                      edits={(v) => [set("link", cable.id, "cable", v)]}
                    />
                  </td>
                  <td className="w-24">
                    <NumberField
                      hideLabel
                      label={`Length from ${portName(cable.from_port)}`}
                      unit="m"
                      value={cable.length_m}
                      edits={(v) => [set("link", cable.id, "length_m", v)]}
                    />
                  </td>
                  <td>
                    {judged?.format ?? ""} {judged?.rate && <Figure working={judged.rate} />}
                  </td>
                  <td>{judged && <Figure working={judged.reach} />}</td>
                  <td>
                    <button
                      type="button"
                      className="link"
                      onClick={() => void edit([remove("link", cable.id)])}
                    >
                      Take out<span className="sr-only"> {portName(cable.from_port)}</span>
                    </button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {streams.map((stream) => (
        <p
          key={stream.id}
          className={`border-rule flex flex-wrap gap-x-4 border-t py-1.5 ${mark(stream.id)}`}
        >
          <span className="font-semibold">{stream.name}</span>
          <span>
            {device(stream.from_device)?.name} → {device(stream.to_device)?.name},{" "}
            {stream.protocol.toUpperCase()}, {formatLabel(stream.format)}, {stream.video_mbps} Mb/s
          </span>
          <button
            type="button"
            className="link ml-auto"
            onClick={() => void edit([remove("link", stream.id)])}
          >
            Take out<span className="sr-only"> {stream.name}</span>
          </button>
        </p>
      ))}
    </Section>
  );
}
