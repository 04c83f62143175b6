import { memo } from "react";
import type { Schemas, Stream } from "../../api/client";
import { isStream, set } from "../../api/edits";
import { useEdits, usePlan, useSelection } from "../../api/plan";
import { useView } from "../../api/views";
import { CODECS, MULTICAST, PROTOCOLS } from "../../api/vocabulary";
import { HeadroomBar } from "../../instruments/HeadroomBar";
import { Choice, Field, NumberField } from "../../parts/Field";
import { Figure } from "../../parts/Figure";
import { FormatField } from "../../parts/FormatField";
import { LongList } from "../../parts/LongList";
import { shown } from "../../parts/numbers";
import { FirstThing, Section } from "../../parts/Section";
import { Allocate } from "./Allocate";
import { Bond } from "./Bond";
import { Compare } from "./Compare";

/** The bandwidth: what was measured against what is asked, by every school of headroom. */
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
      <Section title="Streams">
        {streams.length && !view ? null : streams.length ? (
          <LongList items={streams} id={(stream) => stream.id} about={150} show={selected}>
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
    <Section title={`Headroom on ${uplink.upload.name}`} aside={<Left uplink={uplink} />}>
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
      <span className="font-mono">{shown(uplink.left_mbps)}</span> Mb/s by the chosen school · evidence{" "}
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
        School of headroom for this plan
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
          label="Why this school"
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
          <th>Middle</th>
          <th>Low end</th>
          <th>It lies, nine times in ten, between</th>
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
                : `${shown(hour.low_from_mbps)} and ${shown(hour.low_to_mbps ?? 0)} Mb/s`}
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

/** A stream, drawn again only when it or what is said of it changes. */
const StreamLine = memo(function StreamLine({
  stream,
  judged,
  chosen,
}: {
  stream: Stream;
  judged: Schemas["StreamView"] | undefined;
  chosen: boolean;
}) {
  const { edit, preview } = useEdits();
  const put = (field: string, value: unknown) => [set("link", stream.id, field, value)];
  if (!judged) return null;
  const { load } = judged;
  const most = Math.max(judged.high_mbps * 1.5, stream.video_mbps);
  return (
    <div className={`border-rule mb-3 border-t pt-2 ${chosen ? "bg-wash" : ""}`}>
      <h3>{stream.name}</h3>
      <div className="mt-1 flex flex-wrap items-end gap-x-4 gap-y-2">
        <NumberField
          label="Video bitrate"
          width="w-32"
          unit="Mb/s"
          least={0.1}
          value={stream.video_mbps}
          edits={(v) => put("video_mbps", v)}
        />
        <label className="w-44">
          <span className="text-faint block text-[12px]">drag: 0 to {shown(most)} Mb/s</span>
          <input
            key={stream.video_mbps}
            type="range"
            className="accent-accent w-full"
            min={0.5}
            max={Math.ceil(most)}
            step={0.5}
            defaultValue={stream.video_mbps}
            onChange={(event) => preview(put("video_mbps", Number(event.target.value)))}
            onPointerUp={(event) => void edit(put("video_mbps", Number(event.currentTarget.value)))}
            onKeyUp={(event) =>
              event.key === "Enter" && void edit(put("video_mbps", Number(event.currentTarget.value)))
            }
            aria-label={`Video bitrate of ${stream.name}, Enter keeps it`}
          />
        </label>
        <NumberField
          label="Audio"
          width="w-28"
          unit="kb/s"
          value={stream.audio_kbps}
          edits={(v) => put("audio_kbps", v)}
        />
        <Choice
          label="Protocol"
          width="w-24"
          value={stream.protocol}
          options={PROTOCOLS}
          edits={(v) => put("protocol", v)}
        />
        <Choice
          label="Codec"
          width="w-24"
          value={stream.codec}
          options={CODECS}
          edits={(v) => put("codec", v)}
        />
        {stream.protocol === "srt" && (
          <NumberField
            label="SRT latency"
            width="w-28"
            unit="ms"
            optional
            value={stream.latency_ms}
            edits={(v) => put("latency_ms", v)}
          />
        )}
        <NumberField
          label="Keyframe every"
          width="w-28"
          unit="s"
          optional
          least={0.1}
          value={stream.keyframe_s}
          edits={(v) => put("keyframe_s", v)}
        />
        <NumberField
          label="Goes up to (if it varies)"
          width="w-40"
          unit="Mb/s"
          optional
          least={0.1}
          value={stream.peak_mbps}
          edits={(v) => put("peak_mbps", v)}
        />
        {MULTICAST.some(([protocol]) => protocol === stream.protocol) && (
          <Choice
            label="Goes to"
            width="w-44"
            value={stream.multicast ? "group" : "box"}
            options={
              [
                ["box", "the one box"],
                ["group", "a group (multicast)"],
              ] as const
            }
            edits={(v) => put("multicast", v === "group")}
          />
        )}
        {judged.lines.length > 1 && (
          <Choice
            label="Goes out by"
            width="w-44"
            none="its router's first line"
            value={stream.line ?? ""}
            options={judged.lines.map((line) => [line.uplink, line.name])}
            edits={(v) => put("line", v || null)}
          />
        )}
        <Choice
          label="Spare entrance too"
          width="w-32"
          value={stream.backup ? "yes" : "no"}
          options={
            [
              ["no", "no"],
              ["yes", "yes, twice"],
            ] as const
          }
          edits={(v) => put("backup", v === "yes")}
        />
        <FormatField
          label="Picture sent"
          value={stream.format}
          part={(field, value) => set("link", stream.id, `format.${field}`, value)}
        />
      </div>
      <p className="mt-2">
        On the line <Figure working={load.total} strong />: <span className="text-faint">video</span>{" "}
        <span className="font-mono">{shown(load.video_mbps)}</span>, <span className="text-faint">audio</span>{" "}
        <span className="font-mono">{shown(load.audio_mbps)}</span>,{" "}
        <span className="text-faint">container</span>{" "}
        <span className="font-mono">{shown(load.container_mbps)}</span>,{" "}
        <span className="text-faint">transport</span>{" "}
        <span className="font-mono">{shown(load.transport_mbps)}</span> Mb/s. For this picture:{" "}
        <span className="font-mono">
          {shown(judged.low_mbps)} to {shown(judged.high_mbps)}
        </span>{" "}
        Mb/s, suggested <Figure working={judged.suggested} />.
      </p>
      {judged.unrepaired.length > 0 && (
        <details className="mt-1">
          <summary className="link text-[13px]">
            What each latency leaves lost ({judged.lossy})<span className="sr-only"> of {stream.name}</span>
          </summary>
          <table className="mt-1 text-[13px]">
            <thead>
              <tr>
                <th>Latency</th>
                <th>A lost packet comes again</th>
                <th>Breaks an hour</th>
                <th>Outage that nobody sees</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {judged.unrepaired.map((line) => (
                <tr key={line.latency_ms}>
                  <td className="font-mono">{shown(line.latency_ms)} ms</td>
                  <td>
                    {["never in time", "once", "twice"][line.comes_again] ?? `${line.comes_again} times`}
                  </td>
                  <td className="font-mono">{shown(line.breaks_per_hour)}</td>
                  <td className="font-mono">
                    {line.bridged_ms ? `to ${shown(line.bridged_ms)} ms` : "none"}
                  </td>
                  <td>
                    {[line.now ? "as it is set" : "", line.least ? "the least that holds" : ""]
                      .filter(Boolean)
                      .join(", ")}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </details>
      )}
    </div>
  );
});
