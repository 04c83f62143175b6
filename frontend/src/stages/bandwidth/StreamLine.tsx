import { memo } from "react";
import type { Schemas, Stream } from "../../api/client";
import { set } from "../../api/edits";
import { useEdits } from "../../api/plan";
import { CODECS, PROTOCOLS } from "../../api/vocabulary";
import { NumberField } from "../../parts/Field";
import { Figure } from "../../parts/Figure";
import { shown } from "../../parts/numbers";
import { PickButton } from "../../parts/PickButton";

const called = (words: readonly (readonly [string, string])[], key: string) =>
  words.find(([value]) => value === key)?.[1] ?? key;

/** A stream in one line: what it is sent at, what it weighs, what its picture deserves. Everything else of it is in the pane.
 * Drawn again only when it or what is said of it changes. */
export const StreamLine = memo(function StreamLine({
  stream,
  judged,
  chosen,
}: {
  stream: Stream;
  judged: Schemas["StreamView"] | undefined;
  chosen: boolean;
}) {
  if (!judged) return null;
  const { load } = judged;
  return (
    <div className={`border-rule border-t py-1 ${chosen ? "bg-wash" : ""}`}>
      <div className="flex flex-wrap items-end gap-x-3 gap-y-1">
        <div className="w-60">
          <h3>
            <PickButton noun="link" id={stream.id} name={stream.name} />
          </h3>
          <p className="text-faint text-note">
            {called(PROTOCOLS, stream.protocol)}, {called(CODECS, stream.codec)}
            {stream.backup && ", sent twice"}
          </p>
        </div>
        <Bitrate stream={stream} most={Math.max(judged.high_mbps * 1.5, stream.video_mbps)} />
        <p>
          <span className="text-faint block text-note">On the line</span>
          <Figure working={load.total} strong />
        </p>
        <p>
          <span className="text-faint block text-note">This picture deserves</span>
          <span className="font-mono">
            {shown(judged.low_mbps)} to {shown(judged.high_mbps)}
          </span>{" "}
          Mb/s, suggested <Figure working={judged.suggested} />
        </p>
      </div>
      {judged.unrepaired.length > 0 && <Latencies name={stream.name} judged={judged} />}
    </div>
  );
});

/** The bitrate of its video, typed, or dragged to see what changes. */
function Bitrate({ stream, most }: { stream: Stream; most: number }) {
  const { edit, preview } = useEdits();
  const put = (value: number | null) => [set("link", stream.id, "video_mbps", value)];
  const keep = (at: HTMLInputElement) => void edit(put(Number(at.value)));
  return (
    <>
      <NumberField
        label="Video bitrate"
        width="w-26"
        unit="Mb/s"
        least={0.1}
        value={stream.video_mbps}
        edits={put}
      />
      <label className="w-36">
        <span className="text-faint block text-note">drag: 0 to {shown(most)} Mb/s</span>
        <input
          key={stream.video_mbps}
          type="range"
          className="accent-accent w-full"
          min={0.5}
          max={Math.ceil(most)}
          step={0.5}
          defaultValue={stream.video_mbps}
          onChange={(event) => preview(put(Number(event.target.value)))}
          onPointerUp={(event) => keep(event.currentTarget)}
          onKeyUp={(event) => event.key === "Enter" && keep(event.currentTarget)}
          aria-label={`Video bitrate of ${stream.name}, Enter keeps it`}
        />
      </label>
    </>
  );
}

/** What each latency of SRT leaves lost, and which outage it bridges. */
function Latencies({ name, judged }: { name: string; judged: Schemas["StreamView"] }) {
  return (
    <details className="mt-1">
      <summary className="link text-small">
        What each latency leaves lost ({judged.lossy})<span className="sr-only"> of {name}</span>
      </summary>
      <table className="mt-1 text-small">
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
              <td>{["never in time", "once", "twice"][line.comes_again] ?? `${line.comes_again} times`}</td>
              <td className="font-mono">{shown(line.breaks_per_hour)}</td>
              <td className="font-mono">{line.bridged_ms ? `to ${shown(line.bridged_ms)} ms` : "none"}</td>
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
  );
}
