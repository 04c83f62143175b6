import type { Device } from "../../api/client";
import { set } from "../../api/edits";
import { CODECS, DECODED } from "../../api/vocabulary";
import { Choice } from "../../parts/Field";
import { YesNo } from "../../parts/YesNo";

const DEPTHS = [
  ["8", "8"],
  ["10", "10"],
] as const;

/** What the device decodes, whether it records, and whether it wants a login: not known until it is said. */
export function Abilities({ device }: { device: Device }) {
  const put = (field: string, value: unknown) => [set("device", device.id, field, value)];
  const { decoding, encoding, recording } = device;
  const accepts = decoding?.accepts ? JSON.stringify(decoding.accepts.rasters ?? []) : "";
  return (
    <div className="flex flex-wrap gap-4">
      {encoding?.protocols.includes("rtsp") && (
        <span className="w-36">
          <span className="text-faint block text-[13px]">User and password</span>
          <YesNo
            label={`Whether ${device.name} wants a user and a password`}
            value={encoding.login ?? null}
            edits={(v) => put("encoding.login", v)}
          />
        </span>
      )}
      {decoding && (
        <>
          <Choice
            label="Decodes HEVC"
            width="w-32"
            none="not known"
            value={decoding.codecs ? (decoding.codecs.includes("hevc") ? "yes" : "no") : ""}
            options={
              [
                ["yes", "yes"],
                ["no", "no"],
              ] as const
            }
            edits={(v) =>
              put(
                "decoding.codecs",
                v ? CODECS.map(([key]) => key).filter((key) => v === "yes" || key === "h264") : null,
              )
            }
          />
          <Choice
            label="Decodes pictures"
            width="w-48"
            none="not known"
            value={accepts}
            options={
              DECODED.some(([key]) => key === accepts) || !accepts
                ? DECODED
                : [...DECODED, [accepts, "a list of its own"]]
            }
            edits={(v) => put("decoding.accepts", v ? { rasters: JSON.parse(v) } : null)}
          />
          <Choice
            label="Bits a sample"
            width="w-28"
            none="not known"
            value={decoding.bit_depth ? (String(decoding.bit_depth) as "8" | "10") : ""}
            options={DEPTHS}
            edits={(v) => put("decoding.bit_depth", v ? Number(v) : null)}
          />
        </>
      )}
      <Choice
        label="Records"
        width="w-36"
        none="not known"
        value={recording ? (recording.records ? "yes" : "no") : ""}
        options={
          [
            ["yes", "records"],
            ["no", "does not"],
          ] as const
        }
        edits={(v) => (v ? put("recording.records", v === "yes") : put("recording", null))}
      />
    </div>
  );
}
