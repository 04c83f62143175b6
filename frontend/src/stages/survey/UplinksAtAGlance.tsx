import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { usePlan } from "../../api/plan";
import { useView } from "../../api/views";
import { LINES } from "../../api/vocabulary";
import { shown, wall } from "../../parts/numbers";
import { PickButton } from "../../parts/PickButton";
import { FirstThing, Section } from "../../parts/Section";

/** Every line out: how often it was measured, what it carried, when last, and what to measure next. */
export function UplinksAtAGlance() {
  const { standing } = usePlan();
  const view = useView("survey");
  const { uplinks, sites } = standing.plan;
  const here = `/plans/${standing.id}/survey`;
  return (
    <Section title="Uplinks" aside={<Link to={`${here}/uplinks`}>add and change uplinks</Link>}>
      {!uplinks.length && (
        <FirstThing>
          <Link className="link" to={`${here}/uplinks`}>
            Name the uplink
          </Link>{" "}
          the streams leave by, then measure it from the socket the encoder will use.
        </FirstThing>
      )}
      {uplinks.map((uplink) => (
        <div
          key={uplink.id}
          className="border-rule grid items-baseline gap-x-4 border-t py-1.5 sm:grid-cols-[160px_190px_minmax(0,1fr)_auto]"
        >
          <div>
            <PickButton noun="uplink" id={uplink.id} name={uplink.name} />
            <span className="text-faint block text-note">
              {LINES.find(([kind]) => kind === uplink.kind)?.[1]},{" "}
              {sites.find((s) => s.id === uplink.site)?.name}
            </span>
          </div>
          <Carried upload={view?.uploads.find((u) => u.uplink === uplink.id)} />
          <p className="text-small">
            {view?.next[uplink.id] && (
              <>
                {view.next[uplink.id]?.what}
                <span className="text-faint block">{view.next[uplink.id]?.why}</span>
              </>
            )}
          </p>
          <Link className="link" to={`${here}/measure?pick=uplink:${uplink.id}`}>
            Measure<span className="sr-only"> {uplink.name}</span>
          </Link>
        </div>
      ))}
    </Section>
  );
}

/** What it carried, large, and how often that was seen. */
function Carried({ upload }: { upload: Schemas["Upload"] | undefined }) {
  if (!upload) return <p />;
  if (upload.reckoned) return <p className="text-faint">reckoned from its parts</p>;
  const [low, high] = [upload.lowest_mbps, upload.highest_mbps];
  if (!upload.samples.length || low == null || high == null) return <p>not measured</p>;
  const last =
    upload.samples
      .map((s) => s.at)
      .sort()
      .at(-1) ?? "";
  return (
    <p className="whitespace-nowrap">
      <span className="font-mono text-head font-semibold">
        {shown(low)} to {shown(high)}
      </span>{" "}
      Mb/s
      <span className="text-faint block text-note">
        {upload.samples.length} times, last {wall(last).day}
      </span>
    </p>
  );
}
