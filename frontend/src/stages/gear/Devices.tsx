import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Device, type Schemas, taken } from "../../api/client";
import { remove, set } from "../../api/edits";
import { useEdits, usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { Choice, Field, NumberField } from "../../parts/Field";
import { FormatField } from "../../parts/FormatField";
import { HiddenParts } from "../../parts/HiddenParts";
import { LongList } from "../../parts/LongList";
import { PickButton } from "../../parts/PickButton";
import { FirstThing, Section } from "../../parts/Section";
import { word, words } from "../../parts/words";
import { Abilities } from "./Abilities";
import { BoxEditor } from "./BoxEditor";
import { Ports } from "./Ports";
import { Zones } from "./Zones";

type Line = Schemas["DeviceLine"];

/** The devices of the plan, place by place, with what each has free. One that is opened has the page to itself. */
export function Devices() {
  const { standing } = usePlan();
  const { selected } = useSelection();
  const { devices } = standing.plan;
  const lines = useView("gear")?.devices ?? [];
  const [find, setFind] = useState("");
  const [open, setOpen] = useState<string | null>(null);
  const wanted = find.trim().toLowerCase();
  const known = new Map(devices.map((d) => [d.id, d]));
  const shown = lines.flatMap((line, i) => {
    const device = known.get(line.device);
    if (!device || !`${device.name} ${device.kind} ${device.model ?? ""}`.toLowerCase().includes(wanted))
      return [];
    return [{ line, device, first: lines[i - 1]?.group !== line.group || wanted !== "" }];
  });
  const side = open === null && shown.length <= SIDE_BY_SIDE;
  return (
    <Section title="In this plan" aside={`${devices.length} device${devices.length === 1 ? "" : "s"}`}>
      {devices.length === 0 && (
        <FirstThing>
          Add the camera first, then the encoder, then the platform it goes to, from the page Library.
        </FirstThing>
      )}
      {devices.length > 8 && (
        <input
          className="field mb-2 max-w-64"
          aria-label="Find in this plan"
          placeholder="find in this plan"
          value={find}
          onChange={(e) => setFind(e.target.value)}
        />
      )}
      <div className={side ? "gap-x-8 lg:columns-2" : ""}>
        <LongList items={shown} id={({ device }) => device.id} about={32} show={selected}>
          {({ line, device, first }) => (
            <div className={`break-inside-avoid ${first ? "break-before-auto" : ""}`}>
              {first && <h3 className="text-faint pt-2 pb-0.5 text-[13px]">{line.group}</h3>}
              <DeviceLine
                device={device}
                line={line}
                open={open === device.id}
                onOpen={() => setOpen((now) => (now === device.id ? null : device.id))}
              />
            </div>
          )}
        </LongList>
      </div>
    </Section>
  );
}

/** So many devices stand in two columns; longer lists are drawn as they are looked at. */
const SIDE_BY_SIDE = 40;

function DeviceLine({
  device,
  line,
  open,
  onOpen,
}: {
  device: Device;
  line: Line;
  open: boolean;
  onOpen: () => void;
}) {
  const { edit } = useEdits();
  const { selected } = useSelection();
  return (
    <div className={`border-rule border-t py-1 ${selected === device.id ? "bg-wash" : ""}`}>
      <div className="flex flex-wrap items-baseline gap-x-3">
        <span className="min-w-0 flex-1">
          <PickButton noun="device" id={device.id} name={device.name} />
          <span className="text-faint text-[13px]">
            {" "}
            {device.kind.replace("-", " ")}
            {line.ports > 0 && `, ${line.used} of ${line.ports} ports`}
          </span>
        </span>
        <button type="button" className="link text-[13px]" aria-expanded={open} onClick={onOpen}>
          {open ? "Less" : "More"}
          <span className="sr-only"> about {device.name}</span>
        </button>
        <button
          type="button"
          className="link text-[13px]"
          onClick={() => void edit([remove("device", device.id)])}
        >
          Take out<span className="sr-only"> {device.name}</span>
        </button>
      </div>
      {open && <DeviceDetail device={device} line={line} />}
    </div>
  );
}

function DeviceDetail({ device, line }: { device: Device; line: Line }) {
  const put = (field: string, value: unknown) => [set("device", device.id, field, value)];
  const plan = usePlan().standing.id;
  const { edit } = useEdits();
  const [writing, setWriting] = useState(false);
  const become = async (wanted: Device) => {
    const path = { id: plan, device: device.id };
    const edits = taken(
      await api.POST("/api/plans/{id}/devices/{device}/become", { params: { path }, body: wanted }),
    );
    if (!edits.length || (await edit(edits, `changed ${wanted.name}`))) setWriting(false);
  };
  if (writing)
    return (
      <div className="border-rule mt-2 mb-3 ml-2 border-l-2 pl-4">
        <BoxEditor
          start={device}
          keepWords="Change the device"
          onKeep={become}
          onLeave={() => setWriting(false)}
        />
      </div>
    );
  return (
    <div className="border-rule mt-2 mb-3 ml-2 space-y-3 border-l-2 pl-4">
      <div className="flex flex-wrap gap-4">
        {line.makes_picture && (
          <FormatField
            label="Makes"
            value={device.produces}
            part={(field, value) => set("device", device.id, `produces.${field}`, value)}
          />
        )}
        {line.has_place && (
          <NumberField
            label="Delay"
            width="w-24"
            unit="ms"
            optional
            value={device.delay_ms}
            edits={(v) => put("delay_ms", v)}
          />
        )}
        {line.has_place && (
          <NumberField
            label="Power"
            width="w-24"
            unit="W"
            optional
            value={device.power?.draw_w}
            edits={(v) => put("power.draw_w", v)}
          />
        )}
      </div>
      {(device.software || device.pairing || device.microphone) && (
        <div className="flex flex-wrap gap-4">
          <Field
            label="Firmware"
            width="w-24"
            mono
            value={device.software?.firmware ?? ""}
            placeholder="7.1"
            edits={(v) => put("software.firmware", v.trim() || null)}
          />
          {(device.software?.needs ?? []).length > 0 && (
            <p className="self-end pb-1">
              Needs{" "}
              {(device.software?.needs ?? []).map((n) => `${n.version} for ${word(n.feature)}`).join(", ")}
            </p>
          )}
          {device.pairing && (
            <Field
              label="Family"
              width="w-40"
              value={device.pairing.family ?? ""}
              edits={(v) => put("pairing.family", v.trim())}
            />
          )}
          {device.microphone && (
            <Choice
              label="Own microphone"
              width="w-28"
              value={device.microphone.muted ? "muted" : "open"}
              options={
                [
                  ["open", "open"],
                  ["muted", "muted"],
                ] as const
              }
              edits={(v) => put("microphone.muted", v === "muted")}
            />
          )}
        </div>
      )}
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
          {device.encoding.protocols.some((p) => p.startsWith("rtmp")) && (
            <Choice
              label="Congestion control"
              width="w-48"
              none="not known"
              value={device.encoding.congestion ?? ""}
              options={
                [
                  ["loss", "for a jam (Reno, CUBIC)"],
                  ["model", "by a model (BBR)"],
                ] as const
              }
              edits={(v) => put("encoding.congestion", v || null)}
            />
          )}
          {device.encoding.protocols.includes("rtsp") && (
            <>
              <Field
                label="Path of its full stream"
                width="w-40"
                mono
                value={device.encoding.main_path ?? ""}
                placeholder="/main"
                edits={(v) => put("encoding.main_path", v.trim())}
              />
              <Field
                label="Path of its small one"
                width="w-40"
                mono
                value={device.encoding.sub_path ?? ""}
                placeholder="/sub"
                edits={(v) => put("encoding.sub_path", v.trim())}
              />
            </>
          )}
          <p className="self-end pb-1">
            Sends {words(device.encoding.protocols)}; {words(device.encoding.codecs)}
          </p>
        </div>
      )}
      {line.has_place && <Abilities device={device} />}
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
          <HiddenParts text={`${device.ingest.host} ${device.ingest.app}`} of={device.name} />
          <NumberField
            label="Takes up to"
            width="w-32"
            unit="Mb/s"
            optional
            least={0.1}
            value={device.ingest.max_mbps}
            edits={(v) => put("ingest.max_mbps", v)}
          />
          <NumberField
            label="Keyframe at least every"
            width="w-36"
            unit="s"
            optional
            least={0.1}
            value={device.ingest.keyframe_s}
            edits={(v) => put("ingest.keyframe_s", v)}
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
      {[...(device.encoding?.protocols ?? []), ...(device.decoding?.protocols ?? [])].includes("ndi") && (
        <Field
          label="Groups it announces and looks in, with commas (empty: public)"
          width="w-96"
          value={(device.groups_seen ?? []).join(", ")}
          placeholder="public"
          edits={(v) =>
            put(
              "groups_seen",
              v
                .split(",")
                .map((group) => group.trim())
                .filter(Boolean),
            )
          }
        />
      )}
      {device.ingest && !device.place && <Zones device={device} />}
      {device.decoding && (
        <p>
          Takes {words(device.decoding.protocols)}, {device.decoding.at_once} at once.
        </p>
      )}
      <Ports device={device} />
      <p className="flex flex-wrap items-baseline gap-x-5">
        <button type="button" className="link" onClick={() => setWriting(true)}>
          Change its ports and what it can do<span className="sr-only">: {device.name}</span>
        </button>
      </p>
      <KeepAsModel device={device} />
    </div>
  );
}

/** Puts the device, as it now is, into the library as a model of one's own. */
function KeepAsModel({ device }: { device: Device }) {
  const plan = usePlan().standing.id;
  const client = useQueryClient();
  const [said, setSaid] = useState("");
  const keep = async () => {
    const path = { id: plan, device: device.id };
    try {
      const kept = taken(await api.POST("/api/plans/{id}/devices/{device}/model", { params: { path } }));
      setSaid(`${kept.model.device.name} is in the library now.`);
      await client.invalidateQueries({ queryKey: ["gear"] });
    } catch (error) {
      setSaid(error instanceof Error ? error.message : "It could not be kept.");
    }
  };
  return (
    <p className="flex items-baseline gap-3">
      <Field
        hideLabel
        label={`Model of ${device.name}`}
        width="w-56"
        value={device.model ?? ""}
        placeholder="model"
        edits={(v) => [set("device", device.id, "model", v.trim())]}
      />
      <button type="button" className="link" onClick={() => void keep()}>
        Keep as a model of my own
      </button>
      <span role="status" className="text-faint">
        {said}
      </span>
    </p>
  );
}
