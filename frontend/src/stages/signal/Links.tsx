import { useState } from "react";
import type { Cable, Link, Radio, Schemas, Stream } from "../../api/client";
import { isCable, isStream, remove, set } from "../../api/edits";
import { useEdits, usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { CABLES, FIBRE_MODES, LAYOUTS } from "../../api/vocabulary";
import { Choice, Chosen, NumberField } from "../../parts/Field";
import { Figure } from "../../parts/Figure";
import { LongRows } from "../../parts/LongList";
import { FirstThing, Section } from "../../parts/Section";

type Judged = Schemas["LinkView"];

/** Everything that joins two devices: cables, radio links and streams, with what each carries and how far. */
export function Links({ onReroute }: { onReroute: (link: string) => void }) {
  const { standing } = usePlan();
  const { selected, select } = useSelection();
  const { links, devices } = standing.plan;
  const view = useView("signal");
  const views = view?.links;
  const turned = new Set(view?.canvases.map((c) => c.stream));
  const [find, setFind] = useState("");
  const words = find.trim().toLowerCase();
  const known = new Map(links.map((link) => [link.id, link]));
  const chosen = devices.some((d) => d.id === selected) ? selected : null;
  const matching = (views ?? []).flatMap((judged) => {
    const link = known.get(judged.link);
    const here = !chosen || judged.from_device === chosen || judged.to_device === chosen;
    const named = `${judged.from_name}\n${judged.to_name}`.toLowerCase().includes(words);
    return link && here && named ? [{ link, judged }] : [];
  });
  const streams = matching.flatMap(({ link, judged }) => (isStream(link) ? [{ link, judged }] : []));
  const joins = matching.flatMap(({ link, judged }) => (isStream(link) ? [] : [{ link, judged }]));
  return (
    <Section
      title="Cables and streams"
      aside={
        chosen ? `${matching.length} of ${links.length}, those of the chosen box` : `${links.length} links`
      }
    >
      {links.length === 0 && (
        <FirstThing>Get the camera's picture to the encoder, then to the platform.</FirstThing>
      )}
      {links.length > 12 && (
        <input
          className="field mb-1 max-w-64"
          aria-label="Find a link by its ends"
          placeholder="find by either end"
          value={find}
          onChange={(e) => setFind(e.target.value)}
        />
      )}
      {joins.length > 0 && (
        <table className="w-full">
          <thead>
            <tr>
              <th>From</th>
              <th>To</th>
              <th>Cable</th>
              <th>Length</th>
              <th title="Couplers">Coupl.</th>
              <th title="Repeaters">Rep.</th>
              <th>Carries</th>
              <th>Reach</th>
              <th />
            </tr>
          </thead>
          <LongRows
            items={joins}
            id={({ link }) => link.id}
            about={42}
            show={({ link }) => link.id === selected}
            onLook={({ link }) => select(link.id)}
          >
            {({ link, judged }) => (
              <JoinCells join={link} judged={judged} workings={view?.workings ?? []} onReroute={onReroute} />
            )}
          </LongRows>
        </table>
      )}
      {streams.length > 0 && (
        <table className="mt-3 w-full">
          <thead>
            <tr>
              <th>Stream</th>
              <th>From and to</th>
              <th>Sends</th>
              <th>Shown on, or sits as</th>
              <th />
            </tr>
          </thead>
          <LongRows
            items={streams}
            id={({ link }) => link.id}
            about={42}
            show={({ link }) => link.id === selected}
            onLook={({ link }) => select(link.id)}
          >
            {({ link, judged }) => (
              <StreamCells stream={link} judged={judged} turned={turned.has(link.id)} onReroute={onReroute} />
            )}
          </LongRows>
        </table>
      )}
    </Section>
  );
}

function JoinCells({
  join,
  judged,
  workings,
  onReroute,
}: {
  join: Cable | Radio;
  judged: Judged;
  workings: readonly Schemas["Working"][];
  onReroute: (link: string) => void;
}) {
  const from = judged.from_name;
  const rate = workings[judged.rate ?? -1];
  const reach = workings[judged.reach ?? -1];
  return (
    <>
      <td>{from}</td>
      <td>
        {judged.to_name}
        {judged.choices.map((field) => (
          <Chosen key={field.what} field={field} />
        ))}
      </td>
      <td className="w-30">
        {isCable(join) ? (
          <Choice
            hideLabel
            label={`Kind of ${from}`}
            value={join.cable}
            options={CABLES}
            edits={(v) => [set("link", join.id, "cable", v)]}
          />
        ) : (
          "Radio"
        )}
        {isCable(join) && join.cable === "fibre" && (
          <Choice
            hideLabel
            label={`Glass of ${from}`}
            none="glass not known"
            value={join.fibre_mode ?? ""}
            options={FIBRE_MODES}
            edits={(v) => [set("link", join.id, "fibre_mode", v || null)]}
          />
        )}
      </td>
      <td className="w-26 min-w-26">
        <NumberField
          hideLabel
          optional
          label={`Length from ${from}`}
          placeholder={judged.by_way}
          unit="m"
          value={isCable(join) ? join.length_m : join.distance_m}
          edits={(v) => [set("link", join.id, isCable(join) ? "length_m" : "distance_m", v)]}
        />
      </td>
      {!isCable(join) ? (
        <td colSpan={2} className="text-faint">
          {join.walls ?? 0} wall{join.walls === 1 ? "" : "s"}
        </td>
      ) : judged.by_promise ? (
        <td colSpan={2} className="w-24">
          <NumberField
            optional
            label="Promised for"
            unit="m"
            value={join.rated_m ?? null}
            edits={(v) => [set("link", join.id, "rated_m", v)]}
          />
        </td>
      ) : (
        <>
          <Count join={join} field="joints" label={`Couplers from ${from}`} />
          <Count join={join} field="repeaters" label={`Repeaters from ${from}`} />
        </>
      )}
      <td>
        {judged.format} {rate && <Figure working={rate} />}
      </td>
      <td>{reach ? <Figure working={reach} /> : isCable(join) && "not known"}</td>
      <LinkActions link={join} name={from} judged={judged} onReroute={onReroute} />
    </>
  );
}

function Count({ join, field, label }: { join: Cable; field: "joints" | "repeaters"; label: string }) {
  return (
    <td className="w-12">
      <NumberField
        hideLabel
        label={label}
        value={join[field] ?? 0}
        edits={(v) => [set("link", join.id, field, Math.round(v ?? 0))]}
      />
    </td>
  );
}

function LinkActions({
  link,
  name,
  judged,
  onReroute,
}: {
  link: Link;
  name: string;
  judged: Judged;
  onReroute: (link: string) => void;
}) {
  const { edit } = useEdits();
  const action = (words: string, does: () => void) => (
    <button type="button" className="link" onClick={does}>
      {words}
      <span className="sr-only"> {name}</span>
    </button>
  );
  return (
    <td>
      <span className="flex flex-wrap gap-x-3 text-[13px]">
        {judged.has_picture && action("Re-route", () => onReroute(link.id))}
        {action(
          link.broken ? "Mended" : "Broken",
          () => void edit([set("link", link.id, "broken", !link.broken)]),
        )}
        {action("Take out", () => void edit([remove("link", link.id)]))}
      </span>
    </td>
  );
}

function StreamCells({
  stream,
  judged,
  turned,
  onReroute,
}: {
  stream: Stream;
  judged: Judged;
  turned: boolean;
  onReroute: (link: string) => void;
}) {
  return (
    <>
      <td className="w-44 font-semibold">{stream.name}</td>
      <td>
        {judged.from_name} → {judged.to_name}
      </td>
      <td>
        {judged.sends}
        {stream.codec !== "h264" && (
          <Choice
            hideLabel
            label={`Bits a sample of ${stream.name}`}
            none="8 bits a sample"
            value={stream.bit_depth === 10 ? "10" : ""}
            options={[["10", "10 bits a sample"]] as const}
            edits={(v) => [set("link", stream.id, "bit_depth", v ? 10 : null)]}
          />
        )}
        {judged.unlike_the_brief && <span className="text-faint block">{judged.unlike_the_brief}</span>}
      </td>
      <td className="w-36">
        {judged.choices.map((field) => (
          <Chosen key={field.what} field={field} />
        ))}
        {turned && (
          <Choice
            hideLabel
            label={`How the picture sits in ${stream.name}`}
            value={stream.layout ?? "full"}
            options={LAYOUTS}
            edits={(v) => [set("link", stream.id, "layout", v)]}
          />
        )}
      </td>
      <LinkActions link={stream} name={stream.name} judged={judged} onReroute={onReroute} />
    </>
  );
}
