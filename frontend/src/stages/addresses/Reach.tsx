import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Schemas, taken } from "../../api/client";
import { set } from "../../api/edits";
import { usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { CALLER, TRANSPORTS } from "../../api/vocabulary";
import { Journey } from "../../instruments/Journey";
import { Cures } from "../../parts/Cures";
import { Choice, NumberField } from "../../parts/Field";
import { LongRows } from "../../parts/LongList";
import { PickButton } from "../../parts/PickButton";
import { FirstThing, Section } from "../../parts/Section";
import { STATE_WORDS, StateMark } from "../../parts/StateMark";
import { Term } from "../../parts/Term";

/** So many broken calls stand at full height; of more, the names. */
const MOST_CALLS = 4;

/** The calls that break, each to where it ends and what mends it; of the others, the one that is picked, and their names. */
export function Calls() {
  const view = useView("addresses_calls");
  const { selected } = useSelection();
  if (!view) return null;
  const broken = view.reach.filter((s) => s.cells.some((c) => c.state === "fails"));
  const first = broken.slice(0, MOST_CALLS);
  const picked = view.reach.filter((s) => s.stream === selected && !first.includes(s));
  const shown = [...picked, ...first];
  const more = broken.filter((s) => !shown.includes(s));
  const through = view.reach.filter((s) => !broken.includes(s) && !shown.includes(s));
  return (
    <Section
      title="Connection traces"
      aside={`${broken.length} of ${view.reach.length} ${view.reach.length === 1 ? "call breaks" : "calls break"}`}
    >
      {!view.reach.length && <FirstThing>No stream yet. Join an encoder to a platform in Signal.</FirstThing>}
      {shown.map((stream) => (
        <Followed key={stream.stream} stream={stream} quiet />
      ))}
      <Names streams={more} says={`${more.length} more ${more.length === 1 ? "breaks" : "break"}`} />
      <Names
        streams={through}
        says={`${through.length === 1 ? "One gets" : `${through.length} get`} through, or nothing says that they do not`}
      />
      <OpenPorts />
    </Section>
  );
}

/** Streams by name, to pick one; of very many, the first. */
function Names({ streams, says }: { streams: Schemas["StreamReach"][]; says: string }) {
  const { pick } = useSelection();
  if (!streams.length) return null;
  const named = streams.slice(0, MOST_NAMES);
  return (
    <p className="mt-3">
      {says}:{" "}
      {named.map((s, n) => (
        <span key={s.stream}>
          {n > 0 && ", "}
          <button type="button" className="link" onClick={() => pick({ noun: "link", id: s.stream })}>
            {s.name}
          </button>
        </span>
      ))}
      {streams.length > named.length && `, and ${streams.length - named.length} more on the page Streams`}.
    </p>
  );
}

const MOST_NAMES = 24;

/** Whether each stream gets through: every question of its way answered, and the journey of the one that is followed. */
export function Reach() {
  const view = useView("addresses_calls");
  const { selected, select } = useSelection();
  const [followed, setFollowed] = useState<string | null>(null);
  if (!view) return null;
  const { reach, questions } = view;
  const chosen =
    reach.find((s) => s.stream === selected) ??
    reach.find((s) => s.stream === followed) ??
    reach.find((s) => s.cells.some((c) => c.state === "fails")) ??
    reach[0];
  return (
    <Section title="Whether each stream gets through" aside="select a stream to follow its call hop by hop">
      {reach.length ? (
        <>
          <div className="overflow-x-auto">
            <table className="w-full">
              <thead>
                <tr>
                  <th>Stream</th>
                  <th>Who calls</th>
                  {questions.map((heading) => (
                    <th key={heading} className="text-center">
                      {heading}
                    </th>
                  ))}
                </tr>
              </thead>
              <LongRows items={reach} id={(s) => s.stream} about={34} show={(s) => s.stream === selected}>
                {(line) => (
                  <>
                    <td>
                      <button
                        type="button"
                        className={`cursor-pointer text-left ${line === chosen ? "font-semibold" : "link"}`}
                        aria-pressed={line === chosen}
                        onClick={() => {
                          setFollowed(line.stream);
                          select(line.stream);
                        }}
                      >
                        {line.name}
                      </button>
                    </td>
                    <td className="text-small">{line.calls}</td>
                    {line.cells.map((cell, n) => (
                      <td key={questions[n]} className="text-center">
                        {cell.state ? (
                          <StateMark state={cell.state} />
                        ) : (
                          <span className="text-faint">
                            <span aria-hidden>–</span>
                            <span className="sr-only">not a question here</span>
                          </span>
                        )}
                      </td>
                    ))}
                  </>
                )}
              </LongRows>
            </table>
          </div>
          <p className="margin-note mt-1 flex flex-wrap gap-x-5">
            {(["holds", "doubtful", "not known", "fails"] as const).map((state) => (
              <span key={state} className="inline-flex items-center gap-1.5">
                <StateMark state={state} /> {STATE_WORDS[state]}
              </span>
            ))}
            <span>– not a question here</span>
          </p>
          {chosen && <Followed key={chosen.stream} stream={chosen} />}
        </>
      ) : (
        <FirstThing>No stream yet. Join an encoder to a platform in Signal.</FirstThing>
      )}
      <OpenPorts />
    </Section>
  );
}

/** A stream with its calls hop by hop: asked for when it is looked at, where they did not come with all the others. */
function Followed({ stream: told, quiet = false }: { stream: Schemas["StreamReach"]; quiet?: boolean }) {
  const { standing, stamp } = usePlan();
  const { data } = useQuery({
    queryKey: ["reach", standing.id, told.stream, stamp],
    enabled: !told.journeys,
    queryFn: async () => {
      const path = { id: standing.id, stream: told.stream };
      return taken(await api.GET("/api/plans/{id}/streams/{stream}/reach", { params: { path } }));
    },
  });
  const stream = told.journeys ? told : (data ?? told);
  const journeys = stream.journeys ?? [];
  // Of the plan as it stands: what is only being looked at takes no fix away from under the hand.
  const findings = standing.report.findings.filter(
    (f) => f.stage === "addresses" && (f.subject === stream.stream || f.id.endsWith(`:${stream.stream}`)),
  );
  return (
    <div className="border-rule mt-3 border-t pt-3">
      <div className="mb-2 flex flex-wrap items-end justify-between gap-3">
        <h3>{quiet ? <PickButton noun="link" id={stream.stream} name={stream.name} /> : stream.name}</h3>
        {stream.may_choose && !quiet && (
          <Choice
            label={`Who calls for ${stream.name}`}
            width="w-64"
            none="the sender, or as the address says"
            value={stream.chosen ?? ""}
            options={CALLER}
            edits={(v) => [set("link", stream.stream, "caller", v || null)]}
          />
        )}
        {stream.asks_for_media && !quiet && (
          <Choice
            label="Media over"
            width="w-40"
            none="not known"
            value={stream.media_over ?? ""}
            options={TRANSPORTS}
            edits={(v) => [set("link", stream.stream, "media_over", v || null)]}
          />
        )}
        {journeys.length > 0 && !quiet && (
          <div className="w-40">
            <NumberField
              optional
              label="Listener's own port"
              placeholder="as called"
              least={1}
              value={stream.listens_port ?? null}
              edits={(v) => [set("link", stream.stream, "listens_port", v)]}
            />
          </div>
        )}
      </div>
      <div className="grid gap-x-8 gap-y-4 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
        <div className="space-y-4">
          {journeys.map((journey) => (
            <Journey key={journey.title} journey={journey} />
          ))}
          {stream.journeys && !journeys.length && (
            <p className="text-faint">
              From one service on the internet to another: nothing of yours lies between.
            </p>
          )}
          {stream.spare && (
            <details>
              <summary className="link text-small">
                When its uplink drops:{" "}
                {stream.spare.ends_at === null || stream.spare.ends_at === undefined
                  ? "it still gets through"
                  : "it does not get through"}
              </summary>
              <Journey journey={stream.spare} />
            </details>
          )}
        </div>
        {findings.length > 0 && (
          <div className="space-y-3" aria-label={`What mends ${stream.name}`} role="group">
            {findings.map((finding) => (
              <div key={finding.id}>
                <p className="mb-1 text-small font-semibold">{finding.wrong}</p>
                <Cures finding={finding.id} />
              </div>
            ))}
          </div>
        )}
      </div>
    </div>
  );
}

/** Every port that can be called from the internet, whose it is, and whether it asks for a key. */
function OpenPorts() {
  const ports = useView("addresses_calls")?.open_ports;
  if (!ports) return null;
  return (
    <div className="mt-4">
      <h3>
        <Term of="exposed-port">Exposed ports</Term>
      </h3>
      {ports.length ? (
        <table className="w-full">
          <thead>
            <tr>
              <th>Port</th>
              <th>Of router</th>
              <th>Leads to</th>
              <th>For</th>
              <th>Key</th>
            </tr>
          </thead>
          <tbody>
            {ports.map((port) => (
              <tr key={port.finding}>
                <td className="font-mono whitespace-nowrap">{port.opening}</td>
                <td>{port.router}</td>
                <td>{port.to}</td>
                <td>{port.why}</td>
                <td>{port.key}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <p className="text-faint">No router of this plan lets anybody in.</p>
      )}
    </div>
  );
}
