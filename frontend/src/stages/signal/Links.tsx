import type { Schemas } from "../../api/client";
import { usePlan } from "../../api/plan";
import { useView } from "../../api/views";
import { Chosen } from "../../parts/Field";
import { Figure } from "../../parts/Figure";
import { FirstThing } from "../../parts/Section";
import { ThingTable } from "../../parts/ThingTable";

type Judged = Schemas["LinkView"];
const TABLES = [
  { kind: "cable", title: "Cables" },
  { kind: "radio", title: "Wireless links" },
  { kind: "stream", title: "Streams" },
] as const;

/** Everything that joins two devices: cables, radio links and streams, with what each carries and how far. */
export function Links({ onReroute }: { onReroute: (link: string) => void }) {
  const { links } = usePlan().standing.plan;
  const view = useView("signal_links");
  const judged = new Map(view?.links.map((link) => [link.link, link]));
  const working = (at: number | null | undefined) => view?.workings[at ?? -1];
  if (!links.length)
    return <FirstThing>Get the camera's picture to the encoder, then to the platform.</FirstThing>;
  return TABLES.filter(({ kind }) => links.some((link) => link.kind === kind)).map(({ kind, title }) => (
    <ThingTable
      key={kind}
      noun="link"
      kind={kind}
      title={title}
      follow
      told={{
        heads: kind === "stream" ? ["Sends", "Shown on"] : ["Carries", "Reach"],
        cells: (id) => {
          const of = judged.get(id);
          if (!of) return <td colSpan={2} />;
          return kind === "stream" ? (
            <StreamTold of={of} onReroute={onReroute} />
          ) : (
            <JoinTold of={of} rate={working(of.rate)} reach={working(of.reach)} onReroute={onReroute} />
          );
        },
      }}
    />
  ));
}

function JoinTold(props: {
  of: Judged;
  rate: Schemas["Working"] | undefined;
  reach: Schemas["Working"] | undefined;
  onReroute: (link: string) => void;
}) {
  const { of, rate, reach, onReroute } = props;
  return (
    <>
      <td>
        {of.format} {rate && <Figure working={rate} />} <Choices of={of} />
      </td>
      <td>
        {reach ? <Figure working={reach} /> : of.format && "not known"}{" "}
        <Reroute of={of} name={of.from_name} onReroute={onReroute} />
      </td>
    </>
  );
}

function StreamTold({ of, onReroute }: { of: Judged; onReroute: (link: string) => void }) {
  return (
    <>
      <td>
        {of.sends}
        {of.unlike_the_brief && <span className="text-faint block">{of.unlike_the_brief}</span>}
      </td>
      <td className="min-w-36">
        <Choices of={of} />
        <Reroute of={of} name={`${of.from_name} to ${of.to_name}`} onReroute={onReroute} />
      </td>
    </>
  );
}

const Choices = ({ of }: { of: Judged }) =>
  of.choices.map((field) => <Chosen key={field.what} field={field} />);

function Reroute({ of, name, onReroute }: { of: Judged; name: string; onReroute: (link: string) => void }) {
  if (!of.has_picture) return null;
  return (
    <button type="button" className="link text-small" onClick={() => onReroute(of.link)}>
      Re-route<span className="sr-only"> {name}</span>
    </button>
  );
}
