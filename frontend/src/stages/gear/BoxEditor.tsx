import { useRef, useState } from "react";
import { type Device, Refused } from "../../api/client";
import { CODECS, FEEDS, KINDS, PROTOCOLS, RASTERS, RATES } from "../../api/vocabulary";
import { NumberInput, Select, TextInput, Ticks } from "../../parts/inputs";
import { PortTable } from "./PortTable";

/** What is said of a box beside what it is. */
export interface Told {
  about: string;
  origin: string;
}

const YES_NO = [
  ["yes", "yes"],
  ["no", "no"],
] as const;

/** Everything a box is, while it is being written: nothing is kept until it is said. */
export function BoxEditor({
  start,
  told,
  keepWords,
  onKeep,
  onLeave,
}: {
  start: Device;
  /** What a model says of itself; a box of the plan has none. */
  told?: Told;
  keepWords: string;
  onKeep: (device: Device, told: Told) => Promise<void>;
  onLeave: () => void;
}) {
  const [device, setDevice] = useState(start);
  const [said, setSaid] = useState<Told>(told ?? { about: "", origin: "" });
  const [wrong, setWrong] = useState("");
  const put = (part: Partial<Device>) => setDevice((now) => ({ ...now, ...part }));
  const form = useRef<HTMLDivElement>(null);
  const keep = async () => {
    if (!device.name.trim()) return setWrong("Give the device a name.");
    if (form.current?.querySelector("[aria-invalid=true]"))
      return setWrong("One of the numbers cannot be read: mend it, or empty it.");
    try {
      await onKeep(device, said);
    } catch (error) {
      setWrong(error instanceof Refused ? error.message : "The server cannot be reached. Nothing was kept.");
    }
  };
  return (
    <div ref={form} data-not-kept={device === start ? undefined : ""} className="space-y-3">
      <Named
        device={device}
        put={put}
        {...(told ? { said, say: (part) => setSaid({ ...said, ...part }) } : {})}
      />
      <Itself device={device} put={put} />
      <Sends device={device} put={put} />
      <TakesIn device={device} put={put} />
      <PortTable device={device} change={(ports) => put({ ports })} />
      {wrong && (
        <p role="alert" className="text-accent font-semibold">
          {wrong}
        </p>
      )}
      <p className="flex gap-4">
        <button type="button" className="button button-main" onClick={() => void keep()}>
          {keepWords}
        </button>
        <button type="button" className="button" onClick={onLeave}>
          Leave it as it was
        </button>
      </p>
    </div>
  );
}

type Part = { device: Device; put: (part: Partial<Device>) => void };

/** Its name and kind; of a model also what it is for, and how one knows. */
function Named({ device, put, said, say }: Part & { said?: Told; say?: (part: Partial<Told>) => void }) {
  return (
    <div className="flex flex-wrap gap-x-4 gap-y-2">
      <TextInput label="Name" width="w-60" value={device.name} write={(name) => put({ name })} />
      <Select
        label="Kind"
        width="w-36"
        value={device.kind}
        options={KINDS}
        choose={(k) => k && put({ kind: k })}
      />
      {said && say && (
        <>
          <TextInput
            label="What it is for"
            width="w-60"
            value={said.about}
            write={(about) => say({ about })}
          />
          <TextInput
            label="Where this comes from"
            width="w-60"
            value={said.origin}
            placeholder="measured by us, June"
            write={(origin) => say({ origin })}
          />
        </>
      )}
    </div>
  );
}

/** What it makes of a picture, its delay, its power, its firmware and family. */
function Itself({ device, put }: Part) {
  const power = device.power ?? { by: [] };
  const putPower = (part: Partial<NonNullable<Device["power"]>>) => put({ power: { ...power, ...part } });
  return (
    <>
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <Makes device={device} put={put} />
        <NumberInput
          label="Delay"
          width="w-24"
          unit="ms"
          value={device.delay_ms}
          write={(delay_ms) => put({ delay_ms })}
        />
        <NumberInput
          label="Draws"
          width="w-24"
          unit="W"
          value={power.draw_w}
          write={(draw_w) => putPower({ draw_w })}
        />
        <NumberInput
          label="Battery lasts"
          width="w-24"
          unit="h"
          value={power.battery_h}
          write={(battery_h) => putPower({ battery_h })}
        />
        <TextInput
          label="Firmware"
          width="w-24"
          mono
          value={device.software?.firmware ?? ""}
          placeholder="7.1"
          write={(text) =>
            put({
              software:
                text.trim() || device.software
                  ? { needs: [], ...device.software, firmware: text.trim() || null }
                  : null,
            })
          }
        />
        <TextInput
          label="Family (paired, radio)"
          width="w-36"
          value={device.pairing?.family ?? ""}
          write={(family) => put({ pairing: family ? { family } : null })}
        />
        <Select
          label="Passes sound on"
          width="w-28"
          none="not known"
          value={device.sound_through == null ? "" : device.sound_through ? "yes" : "no"}
          options={YES_NO}
          choose={(v) => put({ sound_through: v ? v === "yes" : null })}
        />
      </div>
      <Ticks label="Fed by" value={power.by ?? []} options={FEEDS} change={(by) => putPower({ by })} />
    </>
  );
}

function Makes({ device, put }: Part) {
  const raster = device.produces ? `${device.produces.width}x${device.produces.height}` : "";
  return (
    <>
      <Select<string>
        label="Makes, or turns all into"
        width="w-44"
        none="what comes in"
        value={raster}
        options={RASTERS}
        choose={(key) => {
          const [width = 0, height = 0] = key.split("x").map(Number);
          const was = device.produces ?? { rate: "50" as const, scan: "p" as const };
          put({ produces: key ? { ...was, width, height } : null });
        }}
      />
      {device.produces && (
        <Select
          label="Frames/s"
          width="w-24"
          value={device.produces.rate}
          options={RATES}
          choose={(rate) => rate && device.produces && put({ produces: { ...device.produces, rate } })}
        />
      )}
    </>
  );
}

function Sends({ device, put }: Part) {
  const now = device.encoding;
  const change = (part: Partial<NonNullable<Device["encoding"]>>) =>
    now && put({ encoding: { ...now, ...part } });
  return (
    <div className="space-y-1">
      <Ticks
        label="Sends streams by"
        value={now?.protocols ?? []}
        options={PROTOCOLS}
        change={(protocols) => {
          const fresh = {
            codecs: ["h264" as const],
            max_mbps: 20,
            destinations: 1,
            channels: 1,
            vertical: false,
            main_path: "",
            sub_path: "",
          };
          put({ encoding: protocols.length ? { ...(now ?? fresh), protocols } : null });
        }}
      />
      {now && (
        <div className="flex flex-wrap items-end gap-x-4 gap-y-2 pl-4">
          <Ticks
            label="as"
            value={now.codecs ?? []}
            options={CODECS}
            change={(codecs) => codecs.length && change({ codecs })}
          />
          <NumberInput
            label="Up to"
            width="w-28"
            unit="Mb/s"
            value={now.max_mbps}
            write={(v) => v && change({ max_mbps: v })}
          />
          <NumberInput
            label="Destinations at once"
            width="w-36"
            value={now.destinations}
            write={(v) => v && change({ destinations: v })}
          />
          <NumberInput
            label="Different pictures at once"
            width="w-40"
            value={now.channels}
            write={(v) => v && change({ channels: v })}
          />
          <Select
            label="Composes vertical pictures"
            width="w-40"
            value={now.vertical ? "yes" : "no"}
            options={YES_NO}
            choose={(v) => change({ vertical: v === "yes" })}
          />
        </div>
      )}
    </div>
  );
}

function TakesIn({ device, put }: Part) {
  const now = device.decoding;
  return (
    <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
      <Ticks
        label="Takes streams by"
        value={now?.protocols ?? []}
        options={PROTOCOLS}
        change={(protocols) =>
          put({ decoding: protocols.length ? { at_once: now?.at_once ?? 1, protocols } : null })
        }
      />
      {now && (
        <NumberInput
          label="Streams at once"
          width="w-32"
          value={now.at_once}
          write={(v) => v && put({ decoding: { ...now, at_once: v } })}
        />
      )}
    </div>
  );
}
