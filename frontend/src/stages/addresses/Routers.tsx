import { useState } from "react";
import type { Schemas } from "../../api/client";
import { set } from "../../api/edits";
import { HIGHEST_PORT } from "../../api/form";
import { useEdits, usePlan } from "../../api/plan";
import { BEHAVIOURS, FILTERINGS, LETS_OUT, OUTSIDES, TRANSPORTS } from "../../api/vocabulary";
import { Choice, Field, NumberField } from "../../parts/Field";
import { FirstThing, Section } from "../../parts/Section";
import { Wrong } from "../../parts/Wrong";
import { YesNo } from "../../parts/YesNo";

type Router = Schemas["Router"];
type Uplink = Schemas["Uplink"];
type Forward = Router["forwards"][number];

/** What each line is from outside, and what each router forwards. */
export function Routers() {
  const { standing } = usePlan();
  const { routers, uplinks } = standing.plan;
  return (
    <Section title="Lines and routers" aside="what the internet sees of each site, and what is let in">
      {uplinks.length ? (
        <table className="w-full">
          <thead>
            <tr>
              <th>Line</th>
              <th>Its address outside</th>
              <th>What kind</th>
              <th>Lets out</th>
              <th>Socket of</th>
              <th>Sign-in page</th>
            </tr>
          </thead>
          <tbody>
            {uplinks.map((line) => (
              <LineRow key={line.id} line={line} />
            ))}
          </tbody>
        </table>
      ) : (
        <FirstThing>No line out yet: name it in Survey.</FirstThing>
      )}
      {routers.map((router) => (
        <RouterBlock key={router.id} router={router} />
      ))}
    </Section>
  );
}

function LineRow({ line }: { line: Uplink }) {
  const { standing } = usePlan();
  return (
    <tr>
      <td>{line.name}</td>
      <td className="w-40">
        <Field
          hideLabel
          mono
          label={`Outside address of ${line.name}`}
          value={line.address ?? ""}
          placeholder="203.0.113.20"
          edits={(v) => [set("uplink", line.id, "address", v.trim())]}
        />
      </td>
      <td className="w-52">
        <Choice
          hideLabel
          label={`Kind of address of ${line.name}`}
          none={line.address ? "as the address says" : "not known"}
          value={line.outside ?? ""}
          options={OUTSIDES}
          edits={(v) => [set("uplink", line.id, "outside", v || null)]}
        />
      </td>
      <td className="w-48">
        <Choice
          hideLabel
          label={`What ${line.name} lets out of the site`}
          none="not known"
          value={line.lets_out ?? ""}
          options={LETS_OUT}
          edits={(v) => [set("uplink", line.id, "lets_out", v || null)]}
        />
      </td>
      <td className="w-40">
        <Choice
          hideLabel
          label={`Network that ${line.name} is a socket of`}
          none="none: a line"
          value={line.behind ?? ""}
          options={standing.plan.networks.map((n) => [n.id, n.name] as const)}
          edits={(v) => [set("uplink", line.id, "behind", v || null)]}
        />
      </td>
      <td className="w-24">
        <YesNo
          label={`Whether ${line.name} shows a sign-in page`}
          value={line.sign_in ?? false}
          edits={(v) => [set("uplink", line.id, "sign_in", v ?? false)]}
        />
      </td>
    </tr>
  );
}

function RouterBlock({ router }: { router: Router }) {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const named = (id: string) => standing.plan.networks.find((n) => n.id === id)?.name ?? id;
  const forwards = (list: Forward[]) => set("router", router.id, "forwards", list);
  return (
    <div className="border-rule mt-3 border-t pt-2">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h3>{router.name}</h3>
        <span className="margin-note">{router.networks.map(named).join(", ") || "no network yet"}</span>
      </div>
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <Choice
          label="A box keeps its port"
          width="w-56"
          none="not known"
          value={router.mapping ?? ""}
          options={BEHAVIOURS}
          edits={(v) => [set("router", router.id, "mapping", v || null)]}
        />
        <Choice
          label="Answers are let in from"
          width="w-56"
          none="not known"
          value={router.filtering ?? ""}
          options={FILTERINGS}
          edits={(v) => [set("router", router.id, "filtering", v || null)]}
        />
        <div className="w-56">
          <span className="text-faint block text-[12px]">Turns calls of its own address round</span>
          <YesNo
            label={`Whether ${router.name} turns calls of its own outside address round`}
            value={router.reflects ?? null}
            edits={(v) => [set("router", router.id, "reflects", v)]}
          />
        </div>
        {router.uplinks.length > 1 && (
          <div className="w-64">
            <span className="text-faint block text-[12px]">Sends single streams by a line of their own</span>
            <YesNo
              label={`Whether ${router.name} sends single streams by a line of their own (policy routing)`}
              value={router.steers ?? null}
              edits={(v) => [set("router", router.id, "steers", v)]}
            />
          </div>
        )}
      </div>
      {router.forwards.length > 0 && (
        <table className="mt-2">
          <thead>
            <tr>
              <th>Forwards</th>
              <th>to address</th>
              <th>to port</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {router.forwards.map((forward, n) => {
              const other = (change: Partial<Forward>) =>
                forwards(router.forwards.map((f, at) => (at === n ? { ...f, ...change } : f)));
              const which = `${forward.transport.toUpperCase()} ${forward.port} of ${router.name}`;
              return (
                <tr key={`${n} ${which}`}>
                  <td className="font-mono whitespace-nowrap">
                    {forward.transport.toUpperCase()} {forward.port}
                  </td>
                  <td className="w-56">
                    <Field
                      hideLabel
                      mono
                      label={`Where ${which} leads`}
                      value={forward.to_address}
                      edits={(v) => [other({ to_address: v.trim() })]}
                    />
                  </td>
                  <td className="w-28">
                    <NumberField
                      hideLabel
                      optional
                      placeholder="the same"
                      label={`Port that ${which} leads to`}
                      value={forward.to_port ?? null}
                      edits={(v) => [other({ to_port: v })]}
                    />
                  </td>
                  <td>
                    <button
                      type="button"
                      className="link"
                      onClick={() => void edit([forwards(router.forwards.filter((_, at) => at !== n))])}
                    >
                      Close<span className="sr-only"> {which}</span>
                    </button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      <NewForward router={router} />
      <Rules router={router} />
    </div>
  );
}

/** What it lets pass from one network to another, or outward: the first that fits decides, what none is about passes. */
function Rules({ router }: { router: Router }) {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [over, setOver] = useState("");
  const [ports, setPorts] = useState("");
  const [lets, setLets] = useState("stop");
  const [wrong, setWrong] = useState<string | null>(null);
  const named = (id: string | null | undefined) =>
    id ? (standing.plan.networks.find((n) => n.id === id)?.name ?? id) : "outside";
  const rules = (list: Router["rules"]) => set("router", router.id, "rules", list);
  const start = from || router.networks[0] || "";
  if (!router.networks.length) return null;
  return (
    <div className="mt-2">
      {router.rules.map((rule, n) => (
        <p
          key={`${n} ${rule.from_network} ${rule.to_network}`}
          className="flex flex-wrap gap-x-3 text-[13px]"
        >
          <span>
            {rule.lets ? "Lets" : "Stops"} {rule.transport ? rule.transport.toUpperCase() : "TCP and UDP"}
            {rule.first_port ? ` ${rule.first_port}` : ""}
            {rule.last_port ? ` to ${rule.last_port}` : ""} from {named(rule.from_network)} to{" "}
            {named(rule.to_network)}
          </span>
          <button
            type="button"
            className="link"
            onClick={() => void edit([rules(router.rules.filter((_, at) => at !== n))])}
          >
            Take out
            <span className="sr-only">
              {" "}
              rule {n + 1} of {router.name}
            </span>
          </button>
        </p>
      ))}
      <form
        className="flex flex-wrap items-end gap-2"
        data-not-kept={ports.trim() ? "" : undefined}
        onSubmit={(event) => {
          event.preventDefault();
          const read = /^\s*(?:(\d{1,5})(?:\s*(?:-|to)\s*(\d{1,5}))?)?\s*$/.exec(ports);
          const [first, last] = [Number(read?.[1] ?? 0), Number(read?.[2] ?? 0)];
          if (!read || first > HIGHEST_PORT || last > HIGHEST_PORT || (read[1] && !first))
            return setWrong("Write a port, or two such as 5000 to 6000; nothing for all.");
          setWrong(null);
          const made = edit([
            rules([
              ...router.rules,
              {
                lets: lets === "let",
                from_network: start,
                to_network: to || null,
                transport: over === "tcp" || over === "udp" ? over : null,
                first_port: first || null,
                last_port: last || null,
              },
            ]),
          ]);
          void made.then((kept) => kept && setPorts(""));
        }}
      >
        <select
          className="field w-20"
          aria-label={`What the new rule of ${router.name} does`}
          value={lets}
          onChange={(e) => setLets(e.target.value)}
        >
          <option value="stop">stop</option>
          <option value="let">let</option>
        </select>
        <select
          className="field w-32"
          aria-label={`Transport of the new rule of ${router.name}`}
          value={over}
          onChange={(e) => setOver(e.target.value)}
        >
          <option value="">TCP and UDP</option>
          {TRANSPORTS.map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
        <input
          className="field w-28 font-mono"
          aria-label={`Ports of the new rule of ${router.name}`}
          placeholder="all ports"
          value={ports}
          onChange={(e) => setPorts(e.target.value)}
        />
        <select
          className="field w-44"
          aria-label={`Network that the new rule of ${router.name} is about`}
          value={start}
          onChange={(e) => setFrom(e.target.value)}
        >
          {router.networks.map((id) => (
            <option key={id} value={id}>
              from {named(id)}
            </option>
          ))}
        </select>
        <select
          className="field w-44"
          aria-label={`Where the new rule of ${router.name} leads`}
          value={to}
          onChange={(e) => setTo(e.target.value)}
        >
          <option value="">to outside</option>
          {router.networks
            .filter((id) => id !== start)
            .map((id) => (
              <option key={id} value={id}>
                to {named(id)}
              </option>
            ))}
        </select>
        <button type="submit" className="button">
          Add the rule
        </button>
        <Wrong>{wrong}</Wrong>
      </form>
    </div>
  );
}

/** A forward in one line: transport, port, and the box that it leads to. */
function NewForward({ router }: { router: Router }) {
  const { standing } = usePlan();
  const { edit } = useEdits();
  const [transport, setTransport] = useState<Forward["transport"]>("udp");
  const [port, setPort] = useState("");
  const [to, setTo] = useState("");
  const [wrong, setWrong] = useState<string | null>(null);
  const boxes = standing.plan.devices.flatMap((d) =>
    d.ports.flatMap((p) =>
      p.interface?.network && router.networks.includes(p.interface.network) && p.interface.address
        ? [[p.interface.address, `${d.name}, ${p.interface.address}`] as const]
        : [],
    ),
  );
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      data-not-kept={port.trim() ? "" : undefined}
      onSubmit={(event) => {
        event.preventDefault();
        const number = Number(port);
        if (!Number.isInteger(number) || number < 1 || number > HIGHEST_PORT)
          return setWrong(`A port is a whole number from 1 to ${HIGHEST_PORT}.`);
        if (!to) return setWrong("Say which box it leads to: one with an address that stays.");
        setWrong(null);
        const made = edit([
          set("router", router.id, "forwards", [
            ...router.forwards,
            { transport, port: number, to_address: to },
          ]),
        ]);
        void made.then((kept) => kept && setPort(""));
      }}
    >
      <select
        className="field w-20"
        aria-label={`Transport of the new forward of ${router.name}`}
        value={transport}
        onChange={(event) => setTransport(event.target.value as Forward["transport"])}
      >
        {TRANSPORTS.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
      <input
        className="field w-24 font-mono"
        aria-label={`Port of the new forward of ${router.name}`}
        placeholder="9000"
        inputMode="numeric"
        value={port}
        onChange={(event) => setPort(event.target.value)}
      />
      <select
        className="field max-w-64"
        aria-label={`Box that the new forward of ${router.name} leads to`}
        value={to}
        onChange={(event) => setTo(event.target.value)}
      >
        <option value="">to which box</option>
        {boxes.map(([address, words]) => (
          <option key={address} value={address}>
            {words}
          </option>
        ))}
      </select>
      <button type="submit" className="button">
        Forward it
      </button>
      <Wrong>{wrong}</Wrong>
    </form>
  );
}
