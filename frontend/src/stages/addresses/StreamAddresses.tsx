import { useState } from "react";
import { api, type Schemas, type Stream, taken } from "../../api/client";
import { isStream, set } from "../../api/edits";
import { useEdits, usePlan } from "../../api/plan";
import { useView } from "../../api/views";
import { FirstThing } from "../../parts/Section";
import { ThingTable } from "../../parts/ThingTable";
import { OtherEnd } from "./OtherEnd";

/** Where each stream is sent: the address as it will be typed, and its key, masked until asked for. */
export function StreamAddresses() {
  const { standing } = usePlan();
  const streams = new Map(standing.plan.links.filter(isStream).map((s) => [s.id, s]));
  const judged = new Map(useView("addresses_typed")?.streams.map((s) => [s.stream, s]));
  return (
    <ThingTable
      noun="link"
      kind="stream"
      title="Stream addresses"
      told={{
        heads: ["As built", "Key in clear"],
        cells: (id) => {
          const [stream, of] = [streams.get(id), judged.get(id)];
          return stream && of ? <Told stream={stream} of={of} /> : <td colSpan={2} />;
        },
      }}
    >
      {streams.size ? (
        <p className="margin-note mt-1">
          Built from the platform's host in Gear; an address typed here is used instead. A part like
          •3f9c21ab• is hidden: it stays what it is.
        </p>
      ) : (
        <FirstThing>No stream yet. Join an encoder to a platform in Signal.</FirstThing>
      )}
    </ThingTable>
  );
}

function Told({ stream, of }: { stream: Stream; of: Schemas["StreamAddress"] }) {
  const { edit } = useEdits();
  return (
    <>
      <td className="min-w-64">
        <span className="font-mono text-small break-all">{of.address ?? "not known"}</span>
        {of.sides.length > 0 && <Sides sides={of.sides} name={stream.name} />}
        {stream.protocol === "srt" && <OtherEnd stream={stream} />}
      </td>
      <td className="min-w-36">
        {(of.has_key || of.has_stream_id || stream.address?.includes("•")) && (
          <Revealed key={`${stream.key} ${stream.stream_id} ${stream.address}`} stream={stream} />
        )}
        {stream.key_carried && (
          <button
            type="button"
            className="link block text-small"
            onClick={() => void edit([set("link", stream.id, "key_carried", false)])}
          >
            From an earlier show: it is this one's<span className="sr-only"> ({stream.name})</span>
          </button>
        )}
      </td>
    </>
  );
}

function Sides({ sides, name }: { sides: Schemas["StreamAddress"]["sides"]; name: string }) {
  return (
    <details>
      <summary className="link text-small">
        What each side types<span className="sr-only"> for {name}</span>
      </summary>
      <ul className="mt-1 space-y-1 text-small">
        {sides.map((side) => (
          <li key={side.device}>
            <span className="font-semibold">{side.name}</span> {side.does}
            {side.types && <span className="block font-mono break-all">{side.types}</span>}
            {side.sets && <span className="text-faint block">{side.sets}</span>}
          </li>
        ))}
      </ul>
    </details>
  );
}

/** A key, its stream id and what is hidden of an address: shown when asked for, and hidden again once one of them changes. */
function Revealed({ stream }: { stream: Stream }) {
  const { standing } = usePlan();
  const [secret, setSecret] = useState<Schemas["Secret"] | null>(null);
  const reveal = async () => {
    if (secret) return setSecret(null);
    const path = { id: standing.id, stream: stream.id };
    setSecret(taken(await api.GET("/api/plans/{id}/streams/{stream}/key", { params: { path } })));
  };
  return (
    <span className="flex items-baseline gap-2">
      <span className="font-mono break-all">
        {secret ? (secret.key ?? "no key") : "••••••••"}
        {secret?.stream_id && <span className="block text-small">stream id {secret.stream_id}</span>}
        {secret?.address && <span className="block text-small">{secret.address}</span>}
      </span>
      <button type="button" className="link" onClick={() => void reveal()}>
        {secret ? "Hide" : "Show"}
        <span className="sr-only"> key of {stream.name}</span>
      </button>
    </span>
  );
}
