import { useQuery } from "@tanstack/react-query";
import { api, type Schemas, taken } from "../../api/client";
import { usePlan, useSelection } from "../../api/plan";
import { Figure } from "../../parts/Figure";
import { shown } from "../../parts/numbers";
import { Section } from "../../parts/Section";

/** The ways of one device, from the core; nothing is asked while no device is chosen. */
export function useTrace(device: string | null) {
  const { standing } = usePlan();
  return useQuery({
    queryKey: ["trace", standing.id, standing.version, device],
    enabled: device !== null,
    queryFn: async () =>
      taken(
        await api.GET("/api/plans/{id}/trace/{device}", {
          params: { path: { id: standing.id, device: device ?? "" } },
        }),
      ),
  }).data;
}

/** Every way that begins, ends or passes at the chosen device, hop by hop. */
export function Ways({
  trace,
  onWant,
}: {
  trace: Schemas["Trace"];
  /** Asks the finder to start or to end here. */
  onWant: (ends: { source?: string; end?: string }) => void;
}) {
  const { standing } = usePlan();
  const { select } = useSelection();
  const name = standing.plan.devices.find((d) => d.id === trace.device)?.name ?? trace.device;
  return (
    <Section
      title={trace.ways[0]?.source === trace.device ? `Where ${name} goes` : `What reaches ${name}`}
      aside={
        <span className="no-print flex gap-4">
          <button type="button" className="link" onClick={() => onWant({ source: trace.device })}>
            Get it somewhere
          </button>
          <button type="button" className="link" onClick={() => onWant({ end: trace.device })}>
            Get a picture to it
          </button>
          <button type="button" className="link" onClick={() => select(null)}>
            Let go
          </button>
        </span>
      }
    >
      {trace.nothing && <p>{trace.nothing}</p>}
      {trace.ways.map((way) => (
        <details key={way.title} className="border-rule border-t py-1" open={trace.ways.length === 1}>
          <summary className="flex cursor-pointer items-baseline justify-between gap-4">
            <span>
              <span aria-hidden className="text-faint pr-1 font-mono">
                ›
              </span>
              {way.title}
              <span className="text-faint">
                {" "}
                · {way.hops.length} hop{way.hops.length === 1 ? "" : "s"}
              </span>
            </span>
            <Figure working={way.delay} />
          </summary>
          <table className="mt-1 mb-2 w-full text-small">
            <thead>
              <tr>
                <th>By</th>
                <th>From</th>
                <th>To</th>
                <th>Picture</th>
                <th className="text-right">Delay so far</th>
              </tr>
            </thead>
            <tbody>
              {way.hops.map((hop) => (
                <tr key={hop.link}>
                  <td className="whitespace-nowrap">{hop.what}</td>
                  <td>{hop.from_name}</td>
                  <td>{hop.to_name}</td>
                  <td>
                    {hop.format}
                    {hop.carries && `, ${hop.carries}`}
                    {hop.becomes && <span className="text-faint block">{hop.becomes}</span>}
                  </td>
                  <td className="text-right font-mono whitespace-nowrap">{shown(hop.delay_ms)} ms</td>
                </tr>
              ))}
            </tbody>
          </table>
        </details>
      ))}
    </Section>
  );
}
