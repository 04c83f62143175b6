import { useState } from "react";
import { api, type Schemas, type Stream, taken } from "../../api/client";
import { isStream, set } from "../../api/edits";
import { usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { Field } from "../../parts/Field";
import { FirstThing, Section } from "../../parts/Section";

/** Where each stream is sent: the address as it will be typed, and its key, masked until asked for. */
export function StreamAddresses() {
  const { standing } = usePlan();
  const streams = standing.plan.links.filter(isStream);
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
          <tbody>
            {streams.map((stream) => (
              <Line key={stream.id} stream={stream} />
            ))}
          </tbody>
        </table>
      ) : (
        <FirstThing>No stream yet. Join an encoder to a platform in Signal.</FirstThing>
      )}
    </Section>
  );
}

function Line({ stream }: { stream: Stream }) {
  const { standing } = usePlan();
  const { selected } = useSelection();
  const [secret, setSecret] = useState<Schemas["Secret"] | null>(null);
  const judged = useView("addresses")?.streams.find((s) => s.stream === stream.id);
  const reveal = async () => {
    if (secret) return setSecret(null);
    const path = { id: standing.id, stream: stream.id };
    setSecret(taken(await api.GET("/api/plans/{id}/streams/{stream}/key", { params: { path } })));
  };
  return (
    <tr className={selected === stream.id ? "bg-wash" : ""}>
      <td>{stream.name}</td>
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
      </td>
      <td className="w-56">
        {(judged?.has_key || stream.address?.includes("•")) && (
          <span className="flex items-baseline gap-2">
            <span className="font-mono break-all">
              {secret ? (secret.key ?? "no key") : judged?.has_key ? "••••••••" : ""}
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
            return [set("link", stream.id, "key", v.trim() || null)];
          }}
        />
      </td>
    </tr>
  );
}
