import { useState } from "react";
import { usePlan, useSelection } from "../api/plan";
import { useProofs } from "../api/proofs";
import { Section } from "../parts/Section";
import { STATE_WORDS, StateMark } from "../parts/StateMark";

/** Every source against every picture that was asked for: whether it arrives there, and how far that is proven. */
export function ArrivalMatrix() {
  const { standing } = usePlan();
  const { selected, select } = useSelection();
  const { data } = useProofs();
  const [most, setMost] = useState({ sources: 24, aims: 12 });
  const matrix = data?.matrix;
  if (!matrix?.sources.length || !matrix.aims.length) return null;
  const name = (id: string) => standing.plan.devices.find((d) => d.id === id)?.name ?? id;
  const title = (aim: string) => data?.proofs.find((p) => p.aim === aim)?.title ?? aim;
  const end = (aim: string) => name(standing.plan.aims.find((a) => a.id === aim)?.end ?? aim);
  const states = new Map(matrix.arrivals.map((a) => [`${a.source} ${a.aim}`, a.state]));
  const words = [...new Set(states.values())];
  const aims = matrix.aims.slice(0, most.aims);
  const sources = matrix.sources.slice(0, most.sources);
  return (
    <Section title="Who arrives where" aside="the weakest hop of each way; select a source to follow it">
      <div className="relative overflow-x-auto">
        <table>
          <thead>
            <tr>
              <th>Source</th>
              {aims.map((aim) => (
                <th key={aim} scope="col" title={title(aim)} className="min-w-20 text-center">
                  {end(aim)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {sources.map((source) => (
              <tr key={source} className={selected === source ? "bg-wash" : ""}>
                <th scope="row" className="text-ink border-rule border-b text-left text-body font-normal">
                  <button type="button" className="cursor-pointer" onClick={() => select(source)}>
                    {name(source)}
                  </button>
                </th>
                {aims.map((aim) => {
                  const state = states.get(`${source} ${aim}`);
                  return (
                    <td key={aim} className="text-center">
                      {state ? (
                        <StateMark state={state} />
                      ) : (
                        <span className="text-faint">
                          <span aria-hidden>–</span>
                          <span className="sr-only">does not arrive</span>
                        </span>
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {(sources.length < matrix.sources.length || aims.length < matrix.aims.length) && (
        <button
          type="button"
          className="button mt-2"
          onClick={() => setMost({ sources: most.sources * 2, aims: most.aims * 2 })}
        >
          Show more of the {matrix.sources.length} sources and {matrix.aims.length} pictures asked for
        </button>
      )}
      <p className="margin-note mt-1 flex flex-wrap gap-x-5">
        {words.map((state) => (
          <span key={state} className="inline-flex items-center gap-1.5">
            <StateMark state={state} /> {STATE_WORDS[state]}
          </span>
        ))}
        <span>– does not arrive</span>
      </p>
    </Section>
  );
}
