import type { Schemas } from "../../api/client";
import { isStream, set } from "../../api/edits";
import { useEdits, usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { HeadroomBar } from "../../instruments/HeadroomBar";
import { Field } from "../../parts/Field";
import { Figure } from "../../parts/Figure";
import { LongList } from "../../parts/LongList";
import { shown } from "../../parts/numbers";
import { Pages } from "../../parts/Pages";
import { PickButton } from "../../parts/PickButton";
import { FirstThing, Section } from "../../parts/Section";
import { Term } from "../../parts/Term";
import { PasteMeasurements } from "../survey/PasteMeasurements";
import { Allocate } from "./Allocate";
import { Bond } from "./Bond";
import { Compare } from "./Compare";
import { StreamLine } from "./StreamLine";

/** The bandwidth: what was measured against what is asked, every uplink at one look; its streams; and the best that fits. */
export default function Bandwidth() {
  return (
    <Pages
      pages={[
        { id: "headroom", name: "Headroom", page: <Headroom /> },
        { id: "streams", name: "Streams", page: <Streams /> },
        { id: "best-fit", name: "The best that fits", page: <BestFit /> },
      ]}
    />
  );
}

function Headroom() {
  const { selected } = useSelection();
  const every = useView("bandwidth")?.uplinks ?? [];
  const used = every.filter((uplink) => uplink.loads.length || uplink.upload.uplink === selected);
  const lines = (used.length ? used : every).toSorted((a, b) => spare(a) - spare(b));
  const idle = every.filter((uplink) => !lines.includes(uplink));
  return (
    <>
      {!every.length && <FirstThing>Name the line the streams leave by, in Survey.</FirstThing>}
      {lines.map((uplink) => (
        <Line key={uplink.upload.uplink} uplink={uplink} selected={selected === uplink.upload.uplink} />
      ))}
      {idle.length > 0 && (
        <p className="text-faint mb-3">
          Nothing leaves by{" "}
          {idle.map(({ upload }, n) => (
            <span key={upload.uplink}>
              {n > 0 && ", "}
              <PickButton noun="uplink" id={upload.uplink} name={upload.name} />
            </span>
          ))}
          .
        </p>
      )}
      {lines.length > 0 && (
        <p className="margin-note">
          Each stalk is one measurement; a large head: taken in the show's hours; hollow: building empty, or
          reckoned from the parts of a bond. Heavy: less than is asked. Drag the right end of a share to
          change its bitrate.
        </p>
      )}
    </>
  );
}

/** Which share of what is allowed is spare: what is over comes first, then what nobody measured. */
const spare = ({ left_mbps, asked }: Schemas["UplinkView"]) =>
  left_mbps ? left_mbps / Math.max(0.1, left_mbps + asked.value) : 0;

function Streams() {
  const { standing } = usePlan();
  const { selected } = useSelection();
  const view = useView("bandwidth_bitrates");
  const streams = standing.plan.links.filter(isStream);
  const judged = new Map(view?.streams.map((s) => [s.stream, s]));
  return (
    <Section title="Streams" aside="a stream that is picked is set in the pane">
      {streams.length && !view ? null : streams.length ? (
        <LongList items={streams} id={(stream) => stream.id} about={58} show={selected}>
          {(stream) => (
            <StreamLine stream={stream} judged={judged.get(stream.id)} chosen={selected === stream.id} />
          )}
        </LongList>
      ) : (
        <FirstThing>No stream yet. Join an encoder to a platform in Signal.</FirstThing>
      )}
    </Section>
  );
}

function BestFit() {
  const { standing } = usePlan();
  const view = useView("bandwidth_comparisons");
  if (!standing.plan.links.some(isStream))
    return <FirstThing>No stream yet. Join an encoder to a platform in Signal.</FirstThing>;
  return (
    <>
      <Allocate />
      {view && <Compare comparisons={view.comparisons} />}
    </>
  );
}

/** An uplink in one row: how much is over or spare, large, beside what was measured and what is asked; its rules and hours folded. */
function Line({ uplink, selected }: { uplink: Schemas["UplinkView"]; selected: boolean }) {
  const { upload } = uplink;
  const measured = upload.samples.length > 0;
  return (
    <section
      aria-label={`Headroom on ${upload.name}`}
      className={`mb-3 grid gap-x-5 pt-2 sm:grid-cols-[190px_minmax(0,1fr)] ${selected ? "border-accent border-t-[3px]" : "border-ink border-t"}`}
    >
      <div>
        <h2 className="text-head">
          <PickButton noun="uplink" id={upload.uplink} name={upload.name} />
        </h2>
        <Left uplink={uplink} />
      </div>
      <div>
        {uplink.loads.length > 0 || measured ? <HeadroomBar uplink={uplink} /> : null}
        {!measured && (
          <>
            <FirstThing>Without a measurement there is nothing to fit into.</FirstThing>
            <details>
              <summary className="link">Measure {upload.name} here</summary>
              <PasteMeasurements uplink={upload.uplink} name={upload.name} />
            </details>
          </>
        )}
        {uplink.sentence && <p className="mt-1">{uplink.sentence}</p>}
        {measured && (
          <details className="mt-1">
            <summary className="link text-small">
              Rules, hours and intervals<span className="sr-only"> of {upload.name}</span>
            </summary>
            <Schools uplink={uplink} />
            {upload.hours.length > 0 && <Hours upload={upload} />}
            {uplink.bond && <Bond bond={uplink.bond} asked={uplink.asked.value} />}
          </details>
        )}
      </div>
    </section>
  );
}

function Left({ uplink }: { uplink: Schemas["UplinkView"] }) {
  const left = uplink.left_mbps;
  const rule = uplink.upload.allowances.find((a) => a.school === uplink.upload.chosen);
  return (
    <>
      {left === null || left === undefined ? (
        <p className="text-title leading-tight font-semibold">not measured</p>
      ) : (
        <p className={`leading-tight ${left < 0 ? "text-accent" : ""}`}>
          <span className="font-mono text-figure font-semibold">{shown(Math.abs(left))}</span>{" "}
          <span className="text-head">Mb/s {left < 0 ? "over" : "spare"}</span>
        </p>
      )}
      <p className="text-faint text-small">
        planned <Figure working={uplink.asked} />
        {rule && <span className="block first-letter:lowercase">{rule.name}</span>}
        <span className="block">evidence {uplink.upload.trust}</span>
      </p>
    </>
  );
}

function Schools({ uplink }: { uplink: Schemas["UplinkView"] }) {
  const { edit } = useEdits();
  const { standing } = usePlan();
  return (
    <fieldset className="mt-2 flex flex-wrap gap-x-6 gap-y-1">
      <legend className="text-faint text-note">
        <Term of="headroom-rule">Headroom rule</Term> of this plan
        {uplink.upload.allowed_at && `, at ${uplink.upload.allowed_at}, the hour that allows least`}
      </legend>
      {uplink.upload.allowances.map((a) => (
        <span key={a.school} className="inline-flex items-baseline gap-1.5">
          <label className="inline-flex cursor-pointer items-baseline gap-1.5">
            <input
              type="radio"
              name={`school-${uplink.upload.uplink}`}
              className="accent-accent"
              checked={a.school === uplink.upload.chosen}
              onChange={() => void edit([set("settings", null, "headroom", a.school)])}
            />
            {a.name}
          </label>
          <Figure working={a.mbps} />
          <span className="text-faint text-small">
            {uplink.schools.find((mark) => mark.school === a.school)?.fits ? "fits" : "too little"}
          </span>
        </span>
      ))}
      <span className="w-full max-w-xl">
        <Field
          label="Why this rule"
          value={standing.plan.settings.headroom_why ?? ""}
          placeholder="the café fills at eight"
          edits={(text) => [set("settings", null, "headroom_why", text)]}
        />
      </span>
    </fieldset>
  );
}

/** Each hour of the show with what was measured at it, on whatever day. */
function Hours({ upload }: { upload: Schemas["Upload"] }) {
  const mbps = (value: number | null) => (value === null ? "" : `${shown(value)} Mb/s`);
  return (
    <table className="mt-3">
      <thead>
        <tr>
          <th>Hour of the show</th>
          <th>Measured</th>
          <th>
            <Term of="median">Median</Term>
          </th>
          <th>
            <Term of="10th-percentile">10th percentile</Term>
          </th>
          <th>
            <Term of="90-interval">90 % interval</Term>
          </th>
          <th>Worth</th>
        </tr>
      </thead>
      <tbody>
        {upload.hours.map((hour) => (
          <tr key={hour.hour}>
            <td>{hour.hour}</td>
            <td>
              {upload.reckoned
                ? "reckoned from its parts"
                : hour.samples.length
                  ? `${hour.samples.length - hour.beside} times${hour.beside ? `, ${hour.beside} beside it` : ""}`
                  : "not yet: measure it"}
            </td>
            <td className="font-mono">{mbps(hour.middle_mbps)}</td>
            <td className="font-mono">{mbps(hour.low_mbps)}</td>
            <td className="font-mono">
              {hour.low_from_mbps === null || hour.low_from_mbps === undefined || upload.reckoned
                ? ""
                : `${shown(hour.low_from_mbps)} to ${shown(hour.low_to_mbps ?? 0)} Mb/s`}
              {hour.not_told && !upload.reckoned ? (
                <span className="text-faint block max-w-56 font-sans text-note">{hour.not_told}</span>
              ) : null}
            </td>
            <td className="font-mono">
              {upload.reckoned || !hour.samples.length
                ? ""
                : `${shown(hour.worth)} of ${hour.samples.length}`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
