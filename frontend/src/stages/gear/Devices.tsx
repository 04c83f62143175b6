import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Device, type Schemas, taken } from "../../api/client";
import { remove, set } from "../../api/edits";
import { useEdits, usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { Field } from "../../parts/Field";
import { HiddenParts } from "../../parts/HiddenParts";
import { LongList } from "../../parts/LongList";
import { PickButton } from "../../parts/PickButton";
import { FirstThing, Section } from "../../parts/Section";
import { words } from "../../parts/words";
import { BoxEditor } from "./BoxEditor";
import { Ports } from "./Ports";

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
              {first && <h3 className="text-faint pt-2 pb-0.5 text-small">{line.group}</h3>}
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
          <span className="text-faint text-small">
            {" "}
            {device.kind.replace("-", " ")}
            {line.ports > 0 && `, ${line.used} of ${line.ports} ports`}
          </span>
        </span>
        <button type="button" className="link text-small" aria-expanded={open} onClick={onOpen}>
          {open ? "Less" : "More"}
          <span className="sr-only"> about {device.name}</span>
        </button>
        <button
          type="button"
          className="link text-small"
          onClick={() => void edit([remove("device", device.id)])}
        >
          Take out<span className="sr-only"> {device.name}</span>
        </button>
      </div>
      {open && <DeviceDetail device={device} />}
    </div>
  );
}

/** What a device sends and takes, what is in its ports; its other fields are in the pane. */
function DeviceDetail({ device }: { device: Device }) {
  const [writing, setWriting] = useState(false);
  const { encoding, decoding, ingest } = device;
  if (writing) return <Rewriting device={device} onDone={() => setWriting(false)} />;
  return (
    <div className="border-rule mt-2 mb-3 ml-2 space-y-3 border-l-2 pl-4">
      {encoding && (
        <p>
          Sends {words(encoding.protocols)}; {words(encoding.codecs)}.
        </p>
      )}
      {decoding && (
        <p>
          Takes {words(decoding.protocols)}, {decoding.at_once} at once.
        </p>
      )}
      {ingest && <HiddenParts text={`${ingest.host} ${ingest.app}`} of={device.name} />}
      <Ports device={device} />
      <p>
        <button type="button" className="link" onClick={() => setWriting(true)}>
          Change its ports and what it can do<span className="sr-only">: {device.name}</span>
        </button>
      </p>
      <KeepAsModel device={device} />
    </div>
  );
}

/** The device while its ports and what it can do are written anew: what is still possible of its links stays. */
function Rewriting({ device, onDone }: { device: Device; onDone: () => void }) {
  const plan = usePlan().standing.id;
  const { edit } = useEdits();
  const become = async (wanted: Device) => {
    const path = { id: plan, device: device.id };
    const edits = taken(
      await api.POST("/api/plans/{id}/devices/{device}/become", { params: { path }, body: wanted }),
    );
    if (!edits.length || (await edit(edits, `changed ${wanted.name}`))) onDone();
  };
  return (
    <div className="border-rule mt-2 mb-3 ml-2 border-l-2 pl-4">
      <BoxEditor start={device} keepWords="Change the device" onKeep={become} onLeave={onDone} />
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
