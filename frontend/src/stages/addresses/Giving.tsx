import type { Schemas } from "../../api/client";
import { set } from "../../api/edits";
import { useEdits } from "../../api/plan";
import { useView } from "../../api/views";
import { ADDRESSING, KINDS } from "../../api/vocabulary";
import { NumberField } from "../../parts/Field";
import { Section } from "../../parts/Section";

type View = Schemas["Giving"];

/** Which address each box gets: by its kind, so that an address can be read; and what each way of giving them means. */
export function Giving() {
  const view = useView("addresses_giving");
  if (!view) return null;
  return (
    <Section title="Giving addresses" aside="by kind of device; never one that is taken, or in the pool">
      <div className="grid gap-x-10 gap-y-4 lg:grid-cols-2">
        <Scheme view={view} />
        <div className="space-y-4">
          {view.networks.map((network) => (
            <ToAddress key={network.network} network={network} />
          ))}
          {!view.networks.length && (
            <p className="text-faint">Every device on a network has its address written down.</p>
          )}
        </div>
      </div>
      <Schools schools={view.schools} />
    </Section>
  );
}

function Scheme({ view }: { view: View }) {
  const { edit } = useEdits();
  const plain = view.scheme.map(({ kinds, first, last }) => ({ kinds, first, last }));
  const put = (ranges: unknown) => set("settings", null, "address_ranges", ranges as never);
  const turned = (n: number, change: object) => [
    put(plain.map((range, at) => (at === n ? { ...range, ...change } : range))),
  ];
  const free = KINDS.filter(
    ([kind]) => kind !== "platform" && !view.scheme.some((range) => range.kinds.includes(kind)),
  );
  return (
    <div className="min-w-0 overflow-x-auto">
      <table>
        <thead>
          <tr>
            <th>Kind of device</th>
            <th className="whitespace-nowrap">Addresses end in</th>
            <th>to</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {view.scheme.map((range, n) => (
            <tr key={range.words}>
              <td className="pr-4">{range.words}</td>
              <td className="w-20 min-w-20">
                <NumberField
                  hideLabel
                  label={`First address of ${range.words}`}
                  least={1}
                  value={range.first}
                  edits={(first) => (first ? turned(n, { first }) : [])}
                />
              </td>
              <td className="w-20 min-w-20">
                <NumberField
                  hideLabel
                  label={`Last address of ${range.words}`}
                  least={range.first}
                  value={range.last}
                  edits={(last) => (last ? turned(n, { last }) : [])}
                />
              </td>
              <td className="whitespace-nowrap">
                <button
                  type="button"
                  className="link"
                  onClick={() => void edit([put(plain.filter((_, at) => at !== n))])}
                >
                  Take out<span className="sr-only"> the range of {range.words}</span>
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 flex flex-wrap items-baseline gap-x-5">
        {free.length > 0 && (
          <select
            className="field w-56"
            aria-label="Add a range for a kind of device"
            value=""
            onChange={(e) => {
              const after = Math.max(9, ...plain.map((range) => range.last));
              const range = { kinds: [e.target.value], first: after + 1, last: after + 10 };
              void edit([put([...plain, range])]);
            }}
          >
            <option value="">add a range for …</option>
            {free.map(([kind, words]) => (
              <option key={kind} value={kind}>
                {words}
              </option>
            ))}
          </select>
        )}
        {view.own_scheme && (
          <button type="button" className="link" onClick={() => void edit([put(null)])}>
            Back to the usual ranges
          </button>
        )}
      </p>
    </div>
  );
}

function ToAddress({ network }: { network: View["networks"][number] }) {
  const { edit } = useEdits();
  const count = network.boxes.length;
  return (
    <div role="group" aria-label={`Addresses for ${network.name}`}>
      <h3>{network.name}</h3>
      {count > 0 && (
        <>
          <p className="text-faint text-small">
            {count === 1 ? "One socket has" : `${count} sockets have`} no address written down. They would be:
          </p>
          <table className="my-1 text-small">
            <tbody>
              {network.boxes.slice(0, 12).map((box) => (
                <tr key={`${box.device} ${box.address}`}>
                  <td className="pr-6">{box.name}</td>
                  <td className="font-mono">{box.address}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {count > 12 && <p className="text-faint text-small">and {count - 12} more, one after the other</p>}
          <p className="flex flex-wrap gap-x-5">
            <button type="button" className="link" onClick={() => void edit(network.reserve)}>
              Reserve {count === 1 ? "it" : "them"} in the router
              <span className="sr-only"> of {network.name}</span>
            </button>
            <button type="button" className="link" onClick={() => void edit(network.fix)}>
              Fix {count === 1 ? "it in the device" : "them in the devices"}
              <span className="sr-only"> on {network.name}</span>
            </button>
          </p>
        </>
      )}
      {network.full && (
        <p>Its range is full: some devices go without. Give it a wider range, or a smaller pool.</p>
      )}
    </div>
  );
}

function Schools({ schools }: { schools: View["schools"] }) {
  const named = new Map<string, string>(ADDRESSING);
  return (
    <details className="mt-3">
      <summary className="link text-small">What each way of giving addresses means</summary>
      <div className="overflow-x-auto">
        <table className="mt-2 w-full text-small">
          <thead>
            <tr>
              <th>When</th>
              {schools.schools.map((school) => (
                <th key={school.addressing}>{named.get(school.addressing)}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {schools.happenings.map((happening) => (
              <tr key={happening.when}>
                <td className="font-semibold">{happening.when}</td>
                {happening.means.map((means, n) => (
                  <td key={schools.schools[n]?.addressing} className="pr-4">
                    {means}
                  </td>
                ))}
              </tr>
            ))}
            <tr>
              <td className="font-semibold">In this plan</td>
              {schools.schools.map((school) => (
                <td key={school.addressing} className="pr-4">
                  {school.boxes} socket{school.boxes === 1 ? "" : "s"}
                  {school.called.length > 0 &&
                    `; of these called at the address: ${school.called.slice(0, 6).join(", ")}${school.called.length > 6 ? " and others" : ""}`}
                </td>
              ))}
            </tr>
          </tbody>
        </table>
      </div>
    </details>
  );
}
