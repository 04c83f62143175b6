import { useState } from "react";
import type { Schemas } from "../../api/client";
import { set } from "../../api/edits";
import { HIGHEST_PORT } from "../../api/form";
import { useEdits, usePlan } from "../../api/plan";
import { BEHAVIOURS, FILTERINGS, LETS_OUT, OUTSIDES, TRANSPORTS } from "../../api/vocabulary";
import { Choice, Field, NumberField } from "../../parts/Field";
import { NumberInput, Select, TextInput } from "../../parts/inputs";
import { FirstThing, Section } from "../../parts/Section";
import { Term } from "../../parts/Term";
import { Wrong } from "../../parts/Wrong";
import { YesNo } from "../../parts/YesNo";

type Router = Schemas["Router"];
type Uplink = Schemas["Uplink"];
type Forward = Router["forwards"][number];
type StaticRoute = Schemas["StaticRoute"];

/** What each line is from outside, and what each router forwards. */
export function Routers() {
  const { standing } = usePlan();
  const { routers, uplinks } = standing.plan;
  return (
    <Section title="Uplinks and routers" aside="outside addresses, outbound filters, port forwards and rules">
      {uplinks.length ? (
        <table className="w-full">
          <thead>
            <tr>
              <th>Line</th>
              <th>Its address outside</th>
              <th>What kind</th>
              <th>Outbound filter</th>
              <th>Socket of</th>
              <th>Captive portal</th>
              <th>IPv6</th>
            </tr>
          </thead>
          <tbody>
            {uplinks.map((line) => (
              <LineRow key={line.id} line={line} />
            ))}
          </tbody>
        </table>
      ) : (
        <FirstThing>No uplink yet: name it in Survey.</FirstThing>
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
          label={`Outbound filter of ${line.name}`}
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
          label={`Whether ${line.name} has a captive portal`}
          value={line.sign_in ?? false}
          edits={(v) => [set("uplink", line.id, "sign_in", v ?? false)]}
        />
      </td>
      <td className="w-24">
        <YesNo
          label={`Whether ${line.name} carries IPv6`}
          value={line.ipv6 ?? null}
          edits={(v) => [set("uplink", line.id, "ipv6", v)]}
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
          label="Translates (NAT)"
          width="w-32"
          value={router.translates === false ? "no" : "yes"}
          options={YES_NO}
          edits={(v) => [set("router", router.id, "translates", v === "yes")]}
        />
        <Choice
          label="NAT mapping"
          width="w-56"
          none="not known"
          value={router.mapping ?? ""}
          options={BEHAVIOURS}
          edits={(v) => [set("router", router.id, "mapping", v || null)]}
        />
        <Choice
          label="NAT filtering: lets in"
          width="w-56"
          none="not known"
          value={router.filtering ?? ""}
          options={FILTERINGS}
          edits={(v) => [set("router", router.id, "filtering", v || null)]}
        />
        <div className="w-56">
          <span className="text-faint block text-[12px]">
            <Term of="hairpin-nat">Hairpin NAT</Term>
          </span>
          <YesNo
            label={`Whether ${router.name} does hairpin NAT`}
            value={router.reflects ?? null}
            edits={(v) => [set("router", router.id, "reflects", v)]}
          />
        </div>
        {router.networks.length > 1 && (
          <div className="w-40">
            <span className="text-faint block text-[12px]">Repeats multicast DNS</span>
            <YesNo
              label={`Whether ${router.name} repeats multicast DNS between its networks`}
              value={router.repeats_names ?? null}
              edits={(v) => [set("router", router.id, "repeats_names", v)]}
            />
          </div>
        )}
        {router.uplinks.length > 1 && (
          <div className="w-64">
            <span className="text-faint block text-[12px]">Policy routes</span>
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
      <StaticRoutes router={router} />
    </div>
  );
}

/** The name of a network of the plan; none is the outside. */
function useNetworkName() {
  const { standing } = usePlan();
  return (id: string | null | undefined) =>
    id ? (standing.plan.networks.find((n) => n.id === id)?.name ?? id) : "outside";
}

/** What it lets pass from one network to another, or outward: the first that fits decides, what none is about passes. */
function Rules({ router }: { router: Router }) {
  const { edit } = useEdits();
  const named = useNetworkName();
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
            onClick={() =>
              void edit([
                set(
                  "router",
                  router.id,
                  "rules",
                  router.rules.filter((_, at) => at !== n),
                ),
              ])
            }
          >
            Take out
            <span className="sr-only">
              {" "}
              rule {n + 1} of {router.name}
            </span>
          </button>
        </p>
      ))}
      <NewRule router={router} />
    </div>
  );
}

const YES_NO = [
  ["yes", "yes"],
  ["no", "no"],
] as const;
const OUTSIDE = "outside";
const LETS = [
  ["stop", "stop"],
  ["let", "let"],
] as const;

/** A rule in one line: what passes or not, by which transport and ports, from where to where. */
function NewRule({ router }: { router: Router }) {
  const { edit } = useEdits();
  const named = useNetworkName();
  const [lets, setLets] = useState<string>("stop");
  const [over, setOver] = useState<Forward["transport"] | "">("");
  const [first, setFirst] = useState<number | null>(null);
  const [last, setLast] = useState<number | null>(null);
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const start = from === OUTSIDE ? "" : from || router.networks[0] || "";
  const choices = (ids: readonly string[], before: string) =>
    ids.map((id) => [id, `${before} ${named(id)}`] as const);
  const add = async () => {
    const rule = {
      lets: lets === "let",
      from_network: start || null,
      to_network: to || (start ? null : (router.networks[0] ?? null)),
      transport: over || null,
      first_port: first,
      last_port: last,
    };
    if (await edit([set("router", router.id, "rules", [...router.rules, rule])])) {
      setFirst(null);
      setLast(null);
    }
  };
  const of = `of the new rule of ${router.name}`;
  return (
    <form
      className="flex flex-wrap items-start gap-2"
      data-not-kept={first === null ? undefined : ""}
      onSubmit={(event) => {
        event.preventDefault();
        if (!event.currentTarget.querySelector("[aria-invalid]")) void add();
      }}
    >
      <Select
        hideLabel
        width="w-20"
        label={`What the new rule of ${router.name} does`}
        value={lets}
        choose={setLets}
        options={LETS}
      />
      <Select
        hideLabel
        width="w-32"
        label={`Transport ${of}`}
        value={over}
        choose={setOver}
        options={TRANSPORTS}
        none="TCP and UDP"
      />
      <NumberInput
        hideLabel
        width="w-24"
        label={`First port ${of}`}
        placeholder="all ports"
        value={first}
        write={setFirst}
        least={1}
        most={HIGHEST_PORT}
      />
      <NumberInput
        hideLabel
        width="w-24"
        label={`Last port ${of}`}
        placeholder="to port"
        value={last}
        write={setLast}
        least={1}
        most={HIGHEST_PORT}
      />
      <Select
        hideLabel
        width="w-44"
        label={`Network that the new rule of ${router.name} is about`}
        value={start || OUTSIDE}
        choose={setFrom}
        options={[...choices(router.networks, "from"), [OUTSIDE, "from outside"] as const]}
      />
      <Select
        hideLabel
        width="w-44"
        label={`Where the new rule of ${router.name} leads`}
        value={to}
        choose={setTo}
        options={choices(
          router.networks.filter((id) => id !== start),
          "to",
        )}
        {...(start ? { none: "to outside" } : {})}
      />
      <button type="submit" className="button">
        Add the rule
      </button>
    </form>
  );
}

/** Its static routes: that it has none is known once somebody says so. */
function StaticRoutes({ router }: { router: Router }) {
  const { edit } = useEdits();
  const routes = router.routes ?? [];
  const put = (list: StaticRoute[] | null) => set("router", router.id, "routes", list);
  return (
    <div className="mt-2">
      {routes.map((route, n) => (
        <p key={`${n} ${route.to_range} ${route.via}`} className="flex flex-wrap gap-x-3 text-[13px]">
          <span>
            Static route to <span className="font-mono">{route.to_range}</span> via{" "}
            <span className="font-mono">{route.via}</span>
          </span>
          <button
            type="button"
            className="link"
            onClick={() => void edit([put(routes.filter((_, at) => at !== n))])}
          >
            Take out
            <span className="sr-only">
              {" "}
              the route to {route.to_range} of {router.name}
            </span>
          </button>
        </p>
      ))}
      {!routes.length && (
        <p className="flex flex-wrap gap-x-3 text-[13px]">
          <span>Static routes: {router.routes ? "none" : "not known"}</span>
          <button type="button" className="link" onClick={() => void edit([put(router.routes ? null : [])])}>
            {router.routes ? "Not known" : "It has none"}
            <span className="sr-only">: static routes of {router.name}</span>
          </button>
        </p>
      )}
      <NewRoute router={router} add={(made) => edit([put([...routes, made])])} />
    </div>
  );
}

/** A static route in one line: a range, and the next router's address. */
function NewRoute({ router, add }: { router: Router; add: (made: StaticRoute) => Promise<boolean> }) {
  const [range, setRange] = useState("");
  const [via, setVia] = useState("");
  const [wrong, setWrong] = useState<string | null>(null);
  return (
    <form
      className="flex flex-wrap items-start gap-2"
      data-not-kept={range.trim() || via.trim() ? "" : undefined}
      onSubmit={(event) => {
        event.preventDefault();
        if (!range.trim() || !via.trim())
          return setWrong("Say the range that it leads to, and the address of the next router.");
        setWrong(null);
        void add({ to_range: range.trim(), via: via.trim() }).then((kept) => {
          if (!kept) return;
          setRange("");
          setVia("");
        });
      }}
    >
      <TextInput
        hideLabel
        mono
        width="w-44"
        label={`Range of the new static route of ${router.name}`}
        placeholder="10.5.0.0/24"
        value={range}
        write={setRange}
      />
      <TextInput
        hideLabel
        mono
        width="w-44"
        label={`Next router of the new static route of ${router.name}`}
        placeholder="via 192.168.20.250"
        value={via}
        write={setVia}
      />
      <button type="submit" className="button">
        Add static route
      </button>
      <Wrong>{wrong}</Wrong>
    </form>
  );
}

/** A forward in one line: transport, port, and the device that it leads to. */
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
        if (!to) return setWrong("Say which device it leads to: one with an address that stays.");
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
        aria-label={`Device that the new forward of ${router.name} leads to`}
        value={to}
        onChange={(event) => setTo(event.target.value)}
      >
        <option value="">to which device</option>
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
