import type { Schemas } from "../../api/client";
import { shown } from "../../parts/numbers";
import { Section } from "../../parts/Section";

/** The same pictures pushed to each, or once to a relay: what it costs in upload, and from which measured upload on it fits. */
export function Compare({ comparisons }: { comparisons: Schemas["Comparison"][] }) {
  if (!comparisons.length) return null;
  return (
    <Section
      title="Pushed to each, or once to a relay"
      aside="the pictures as they are now; in brackets: from which measured upload on, in Mb/s, it fits"
    >
      {comparisons.map((comparison) => (
        <div key={comparison.uplink} className="overflow-x-auto">
          <table className="w-full">
            <thead>
              <tr>
                <th>By {comparison.name}</th>
                <th>Pushes</th>
                <th>Required</th>
                {comparison.manners[0]?.fits.map((fit) => (
                  <th key={fit.school}>
                    {fit.name}: {shown(fit.allowed_mbps)} Mb/s
                  </th>
                ))}
                <th>Later by</th>
                <th>When the relay fails</th>
              </tr>
            </thead>
            <tbody>
              {comparison.manners.map((manner) => (
                <tr key={manner.name}>
                  <td>
                    {manner.name}
                    {manner.now && <span className="text-faint"> (as planned)</span>}
                  </td>
                  <td className="font-mono">{manner.pushes}</td>
                  <td className="font-mono whitespace-nowrap">{shown(manner.asked_mbps)} Mb/s</td>
                  {manner.fits.map((fit) => (
                    <td key={fit.school}>
                      {fit.fits ? "fits" : <span className="font-semibold">too little</span>}
                      {fit.fits_from_mbps !== null && fit.fits_from_mbps !== undefined && (
                        <span className="text-faint inline-block font-mono text-small whitespace-nowrap">
                          {" "}
                          (from {shown(fit.fits_from_mbps)})
                        </span>
                      )}
                    </td>
                  ))}
                  <td className="whitespace-nowrap">
                    {!manner.relayed
                      ? "nothing"
                      : manner.later_ms === null || manner.later_ms === undefined
                        ? "not measured"
                        : `${shown(manner.later_ms / 1000)} s`}
                  </td>
                  <td>{manner.breaks ? `${manner.breaks}.` : "There is none."}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      ))}
    </Section>
  );
}
