import { useState } from "react";
import { api, type Schemas, type Stream, taken } from "../../api/client";
import { isStream, set } from "../../api/edits";
import { useEdits, usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { Choice, Field } from "../../parts/Field";
import { LongRows } from "../../parts/LongList";
import { FirstThing, Section } from "../../parts/Section";
import { YesNo } from "../../parts/YesNo";
import { OtherEnd } from "./OtherEnd";

/** Where each stream is sent: the address as it will be typed, and its key, masked until asked for. */
export function StreamAddresses() {
  const { standing } = usePlan();
  const { selected } = useSelection();
  const streams = standing.plan.links.filter(isStream);
  const judged = new Map(useView("addresses")?.streams.map((s) => [s.stream, s]));
  return (
    <Section
      title="Stream addresses"
      aside="built from the platform's host in Gear; type one to use it instead. A part like •3f9c21ab• is hidden: it stays what it is"
    >
      {streams.length ? (
        <table className="w-full">
          <thead>
            <tr>
              <th>Stream</th>
              <th>As built</th>
              <th>Typed instead</th>
              <th>Key</th>
            </tr>
          </thead>
          <LongRows
            items={streams}
            id={(stream) => stream.id}
            about={58}
            show={(stream) => stream.id === selected}
          >
            {(stream) => <Line stream={stream} judged={judged.get(stream.id)} />}
          </LongRows>
        </table>
      ) : (
        <FirstThing>No stream yet. Join an encoder to a platform in Signal.</FirstThing>
      )}
    </Section>
  );
}

function Line({ stream, judged }: { stream: Stream; judged: Schemas["StreamAddress"] | undefined }) {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const [secret, setSecret] = useState<Schemas["Secret"] | null>(null);
  const reveal = async () => {
    if (secret) return setSecret(null);
    const path = { id: standing.id, stream: stream.id };
    setSecret(taken(await api.GET("/api/plans/{id}/streams/{stream}/key", { params: { path } })));
  };
  return (
    <>
      <td>
        {stream.name}
        {judged && judged.sides.length > 0 && (
          <details>
            <summary className="link text-[13px]">
              What each side types<span className="sr-only"> for {stream.name}</span>
            </summary>
            <ul className="mt-1 space-y-1 text-[13px]">
              {judged.sides.map((side) => (
                <li key={side.device}>
                  <span className="font-semibold">{side.name}</span> {side.does}
                  {side.types && <span className="block font-mono break-all">{side.types}</span>}
                  {side.sets && <span className="text-faint block">{side.sets}</span>}
                </li>
              ))}
            </ul>
          </details>
        )}
      </td>
      <td className="font-mono text-[13px] break-all">{judged?.address ?? "not known"}</td>
      <td className="w-56">
        <Field
          hideLabel
          mono
          label={`Address of ${stream.name}`}
          value={stream.address ?? ""}
          placeholder="use the built one"
          edits={(v) => [set("link", stream.id, "address", v)]}
        />
        {stream.protocol === "web" && (
          <>
            <Field
              mono
              label={`Link that views ${stream.name}`}
              value={stream.view_address ?? ""}
              edits={(v) => [set("link", stream.id, "view_address", v)]}
            />
            <span className="text-faint block text-[12px]">Its service has a relay (TURN)</span>
            <YesNo
              label={`Whether the service of ${stream.name} has a relay`}
              value={stream.relayed ?? null}
              edits={(v) => [set("link", stream.id, "relayed", v)]}
            />
          </>
        )}
        {judged?.two_paths && (
          <Choice
            label={`Which stream of its device ${stream.name} is`}
            none="not said"
            value={stream.small === true ? "small" : stream.small === false ? "full" : ""}
            options={
              [
                ["full", "its main stream"],
                ["small", "its substream"],
              ] as const
            }
            edits={(v) => [set("link", stream.id, "small", v ? v === "small" : null)]}
          />
        )}
      </td>
      <td className="w-56">
        {(judged?.has_key || judged?.has_stream_id || stream.address?.includes("•")) && (
          <span className="flex items-baseline gap-2">
            <span className="font-mono break-all">
              {secret ? (secret.key ?? "no key") : judged?.has_key ? "••••••••" : ""}
              {secret?.stream_id && <span className="block text-[13px]">stream id {secret.stream_id}</span>}
              {secret?.address && <span className="block text-[13px]">{secret.address}</span>}
            </span>
            <button type="button" className="link" onClick={() => void reveal()}>
              {secret ? "Hide" : "Show"}
              <span className="sr-only"> key of {stream.name}</span>
            </button>
          </span>
        )}
        <Field
          hideLabel
          mono
          type="password"
          label={`Key of ${stream.name}`}
          value=""
          placeholder={judged?.has_key ? "type to replace" : "paste the key"}
          edits={(v) => {
            setSecret(null);
            return [
              set("link", stream.id, "key", v.trim() || null),
              ...(stream.key_carried ? [set("link", stream.id, "key_carried", false)] : []),
            ];
          }}
        />
        {stream.protocol === "srt" && (
          <Field
            hideLabel
            mono
            type="password"
            label={`Stream id of ${stream.name}`}
            value=""
            placeholder={judged?.has_stream_id ? "another stream id" : "stream id, if any"}
            edits={(v) => {
              setSecret(null);
              return [set("link", stream.id, "stream_id", v.trim())];
            }}
          />
        )}
        {stream.protocol === "srt" && <OtherEnd stream={stream} />}
        {stream.key_carried && (
          <button
            type="button"
            className="link block text-[13px]"
            onClick={() => void edit([set("link", stream.id, "key_carried", false)])}
          >
            From an earlier show: it is this one's<span className="sr-only"> ({stream.name})</span>
          </button>
        )}
      </td>
    </>
  );
}
