import { useState } from "react";
import type { Cable, Link, Radio, Stream } from "../../api/client";
import { isCable, isStream, remove, set, setPort } from "../../api/edits";
import { useEdits, usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { CABLES, LAYOUTS } from "../../api/vocabulary";
import { Choice, NumberField } from "../../parts/Field";
import { Figure } from "../../parts/Figure";
import { formatLabel } from "../../parts/FormatField";
import { FirstThing, Section } from "../../parts/Section";
import { word } from "../../parts/words";

/** Everything that joins two devices: cables, radio links and streams, with what each carries and how far. */
export function Links({ onReroute }: { onReroute: (link: string) => void }) {
  const { standing } = usePlan();
  const { selected } = useSelection();
  const { links, devices } = standing.plan;
  const [find, setFind] = useState("");
  const [most, setMost] = useState(AT_ONCE);
  const words = find.trim().toLowerCase();
  const names = new Map(devices.map((d) => [d.id, d.name.toLowerCase()]));
  const ends = (link: Link) =>
    isStream(link)
      ? [link.from_device, link.to_device]
      : [link.from_port, link.to_port].map((ref) => ref.split("/")[0] ?? "");
  const chosen = devices.some((d) => d.id === selected) ? selected : null;
  const matching = links.filter(
    (link) =>
      (!chosen || ends(link).includes(chosen)) &&
      (!words || ends(link).some((d) => names.get(d)?.includes(words))),
  );
  const shown = matching.slice(0, most);
  const streams = shown.filter(isStream);
  const joins = shown.filter((l): l is Cable | Radio => !isStream(l));
  return (
    <Section
      title="Cables and streams"
      aside={
        chosen ? `${matching.length} of ${links.length}, those of the chosen box` : `${links.length} links`
      }
    >
      {links.length === 0 && (
        <FirstThing>Get the camera's picture to the encoder, then to the platform.</FirstThing>
      )}
      {links.length > 12 && (
        <input
          className="field mb-1 max-w-64"
          aria-label="Find a link by its ends"
          placeholder="find by either end"
          value={find}
          onChange={(e) => setFind(e.target.value)}
        />
      )}
      {joins.length > 0 && (
        <table className="w-full">
          <thead>
            <tr>
              <th>From</th>
              <th>To</th>
              <th>Cable</th>
              <th>Length</th>
              <th title="Couplers">Coupl.</th>
              <th title="Repeaters">Rep.</th>
              <th>Carries</th>
              <th>Reach</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {joins.map((join) => (
              <JoinRow key={join.id} join={join} onReroute={onReroute} />
            ))}
          </tbody>
        </table>
      )}
      {streams.length > 0 && (
        <table className="mt-3 w-full">
          <thead>
            <tr>
              <th>Stream</th>
              <th>From and to</th>
              <th>Sends</th>
              <th>Shown on, or sits as</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {streams.map((stream) => (
              <StreamRow key={stream.id} stream={stream} onReroute={onReroute} />
            ))}
          </tbody>
        </table>
      )}
      {matching.length > shown.length && (
        <button type="button" className="button mt-2" onClick={() => setMost(most + 5 * AT_ONCE)}>
          Show more of the {matching.length - shown.length} others
        </button>
      )}
    </Section>
  );
}

/** How many rows of fields stand on the page before more are asked for. */
const AT_ONCE = 40;

function usePorts() {
  const { devices } = usePlan().standing.plan;
  const device = (ref: string) => devices.find((d) => d.id === ref.split("/")[0]);
  const port = (ref: string) => device(ref)?.ports?.find((p) => p.id === ref.split("/")[1]);
  return { device, port, name: (ref: string) => `${device(ref)?.name}, ${port(ref)?.name}` };
}

function JoinRow({ join, onReroute }: { join: Cable | Radio; onReroute: (link: string) => void }) {
  const { selected, select } = useSelection();
  const { port, name } = usePorts();
  const judged = useView("signal")?.cables.find((c) => c.cable === join.id);
  const from = name(join.from_port);
  const into = port(join.to_port);
  return (
    <tr className={selected === join.id ? "bg-wash" : ""} onFocus={() => select(join.id)}>
      <td>{from}</td>
      <td>
        {name(join.to_port)}
        {into && into.types.length > 1 && (
          <Choice
            hideLabel
            label={`${name(join.to_port)} is`}
            none="not assigned"
            value={into.assigned ?? ""}
            options={into.types.map((t) => [t, word(t)] as const)}
            edits={(v) => [setPort(join.to_port, "assigned", v || null)]}
          />
        )}
      </td>
      <td className="w-30">
        {isCable(join) ? (
          <Choice
            hideLabel
            label={`Kind of ${from}`}
            value={join.cable}
            options={CABLES}
            edits={(v) => [set("link", join.id, "cable", v)]}
          />
        ) : (
          "Radio"
        )}
      </td>
      <td className="w-20">
        <NumberField
          hideLabel
          label={`Length from ${from}`}
          unit="m"
          value={isCable(join) ? join.length_m : join.distance_m}
          edits={(v) => [set("link", join.id, isCable(join) ? "length_m" : "distance_m", v)]}
        />
      </td>
      {isCable(join) && join.cable.startsWith("hdmi-") ? (
        <td colSpan={2} className="w-24">
          <NumberField
            optional
            label="Promised for"
            unit="m"
            value={join.rated_m ?? null}
            edits={(v) => [set("link", join.id, "rated_m", v)]}
          />
        </td>
      ) : isCable(join) ? (
        <>
          <Count join={join} field="joints" label={`Couplers from ${from}`} />
          <Count join={join} field="repeaters" label={`Repeaters from ${from}`} />
        </>
      ) : (
        <td colSpan={2} className="text-faint">
          {join.walls ?? 0} wall{join.walls === 1 ? "" : "s"}
        </td>
      )}
      <td>
        {judged?.format ?? ""} {judged?.rate && <Figure working={judged.rate} />}
      </td>
      <td>{judged?.reach ? <Figure working={judged.reach} /> : judged && "not known"}</td>
      <LinkActions link={join} name={from} onReroute={onReroute} />
    </tr>
  );
}

function Count({ join, field, label }: { join: Cable; field: "joints" | "repeaters"; label: string }) {
  return (
    <td className="w-12">
      <NumberField
        hideLabel
        label={label}
        value={join[field] ?? 0}
        edits={(v) => [set("link", join.id, field, Math.round(v ?? 0))]}
      />
    </td>
  );
}

function LinkActions({
  link,
  name,
  onReroute,
}: {
  link: Link;
  name: string;
  onReroute: (link: string) => void;
}) {
  const { edit } = useEdits();
  const action = (words: string, does: () => void) => (
    <button type="button" className="link" onClick={does}>
      {words}
      <span className="sr-only"> {name}</span>
    </button>
  );
  const picture = !isCable(link) || !["ethernet", "audio"].includes(link.cable);
  return (
    <td>
      <span className="flex flex-wrap gap-x-3 text-[13px]">
        {picture && action("Re-route", () => onReroute(link.id))}
        {action(
          link.broken ? "Mended" : "Broken",
          () => void edit([set("link", link.id, "broken", !link.broken)]),
        )}
        {action("Take out", () => void edit([remove("link", link.id)]))}
      </span>
    </td>
  );
}

function StreamRow({ stream, onReroute }: { stream: Stream; onReroute: (link: string) => void }) {
  const { selected, select } = useSelection();
  const { device } = usePorts();
  const taker = device(stream.to_device);
  const inputs = (taker?.ports ?? []).filter((p) => p.way === "in" && p.types.includes("network"));
  const turned = useView("signal")?.canvases.some((c) => c.stream === stream.id);
  return (
    <tr className={selected === stream.id ? "bg-wash" : ""} onFocus={() => select(stream.id)}>
      <td className="w-44 font-semibold">{stream.name}</td>
      <td>
        {device(stream.from_device)?.name} → {taker?.name}
      </td>
      <td>
        {word(stream.protocol)}, {formatLabel(stream.format)}, {stream.video_mbps} Mb/s
      </td>
      <td className="w-36">
        {inputs.length > 0 && (
          <Choice
            hideLabel
            label={`Input that shows ${stream.name}`}
            none="no input"
            value={stream.input ?? ""}
            options={inputs.map((p) => [p.id, p.name] as const)}
            edits={(v) => [
              ...(v ? [setPort(`${stream.to_device}/${v}`, "assigned", "network")] : []),
              set("link", stream.id, "input", v || null),
            ]}
          />
        )}
        {turned && (
          <Choice
            hideLabel
            label={`How the picture sits in ${stream.name}`}
            value={stream.layout ?? "full"}
            options={LAYOUTS}
            edits={(v) => [set("link", stream.id, "layout", v)]}
          />
        )}
      </td>
      <LinkActions link={stream} name={stream.name} onReroute={onReroute} />
    </tr>
  );
}
