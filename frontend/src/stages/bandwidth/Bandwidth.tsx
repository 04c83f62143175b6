import type { Schemas } from "../../api/client";
import { isStream, set } from "../../api/edits";
import { useEdits, usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { HeadroomBar } from "../../instruments/HeadroomBar";
import { Field } from "../../parts/Field";
import { Figure } from "../../parts/Figure";
import { LongList } from "../../parts/LongList";
import { shown } from "../../parts/numbers";
import { PickButton } from "../../parts/PickButton";
import { FirstThing, Section } from "../../parts/Section";
import { Allocate } from "./Allocate";
import { Bond } from "./Bond";
import { Compare } from "./Compare";
import { StreamLine } from "./StreamLine";

/** The bandwidth: what was measured against what is asked, by every headroom rule. */
export default function Bandwidth() {
  const { standing } = usePlan();
  const { selected } = useSelection();
  const view = useView("bandwidth");
  const streams = standing.plan.links.filter(isStream);
  const judged = new Map(view?.streams.map((s) => [s.stream, s]));
  const every = view?.uplinks ?? [];
  const used = every.filter((uplink) => uplink.loads.length || uplink.upload.uplink === selected);
  const lines = used.length ? used : every;
  const idle = every.filter((uplink) => !lines.includes(uplink));
  return (
    <>
      {lines.map((uplink) => (
        <Line key={uplink.upload.uplink} uplink={uplink} selected={selected === uplink.upload.uplink} />
      ))}
      {idle.length > 0 && (
        <details className="mb-8">
          <summary className="link">
            {idle.length === 1
              ? "A line that nothing leaves by"
              : `${idle.length} lines that nothing leaves by`}
            : {idle.map((uplink) => uplink.upload.name).join(", ")}
          </summary>
          {idle.map((uplink) => (
            <Line key={uplink.upload.uplink} uplink={uplink} selected={selected === uplink.upload.uplink} />
          ))}
        </details>
      )}
      {view && <Compare comparisons={view.comparisons} />}
      {streams.length > 0 && <Allocate />}
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
    </>
  );
}

function Line({ uplink, selected }: { uplink: Schemas["UplinkView"]; selected: boolean }) {
  return (
    <Section
      title={`Headroom on ${uplink.upload.name}`}
      aside={
        <>
          <Left uplink={uplink} />{" "}
          <PickButton noun="uplink" id={uplink.upload.uplink} name={uplink.upload.name}>
            set
          </PickButton>
        </>
      }
    >
      {uplink.upload.samples.length ? (
        <>
          <HeadroomBar uplink={uplink} selected={selected} />
          {uplink.sentence && <p className="mt-1 text-[16px] max-w-3xl">{uplink.sentence}</p>}
        </>
      ) : (
        <FirstThing>
          Measure this line in Survey: without a measurement there is nothing to fit into.
        </FirstThing>
      )}
      {uplink.upload.samples.length > 0 && <Schools uplink={uplink} />}
      {uplink.upload.hours.length > 0 && <Hours upload={uplink.upload} />}
      {uplink.bond && <Bond bond={uplink.bond} asked={uplink.asked.value} />}
    </Section>
  );
}

function Left({ uplink }: { uplink: Schemas["UplinkView"] }) {
  if (uplink.left_mbps === null || uplink.left_mbps === undefined) return <>not measured</>;
  return (
    <>
      asked <Figure working={uplink.asked} />, left{" "}
      <span className="font-mono">{shown(uplink.left_mbps)}</span> Mb/s by the chosen rule · evidence{" "}
      {uplink.upload.trust}
    </>
  );
}

function Schools({ uplink }: { uplink: Schemas["UplinkView"] }) {
  const { edit } = useEdits();
  const { standing } = usePlan();
  return (
    <fieldset className="mt-2 flex flex-wrap gap-x-6 gap-y-1">
      <legend className="text-faint text-[12px]">
        Headroom rule of this plan
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
          <th>Median</th>
          <th>10th percentile</th>
          <th>90 % interval</th>
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
                <span className="text-faint block max-w-56 font-sans text-[12px]">{hour.not_told}</span>
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
