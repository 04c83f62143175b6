import type { Schemas } from "../../api/client";
import { shown } from "../../parts/numbers";

/** A bonded line as its parts: what each brings, and what is left when some are gone. */
export function Bond({ bond, asked }: { bond: Schemas["BondView"]; asked: number }) {
  const whole = bond.parts.reduce((sum, part) => sum + part.middle_mbps, 0);
  return (
    <div className="mt-3">
      <div className="border-rule flex h-7 border" aria-hidden>
        {bond.parts.map((part, n) => (
          <div
            key={part.uplink}
            className="overflow-hidden border-r px-1.5 text-note leading-7 whitespace-nowrap last:border-r-0"
            style={{
              width: `${(100 * part.middle_mbps) / whole}%`,
              background: n % 2 ? "var(--wash)" : "var(--rule)",
            }}
          >
            {part.name}
          </div>
        ))}
      </div>
      <div className="overflow-x-auto">
        <table className="mt-2">
          <thead>
            <tr>
              <th>Part</th>
              <th>Carrier</th>
              <th>Median</th>
              <th>Round trip</th>
              <th>Share</th>
              <th>Data in the show</th>
              <th>Left without it</th>
            </tr>
          </thead>
          <tbody>
            {bond.parts.map((part) => (
              <tr key={part.uplink}>
                <td>{part.name}</td>
                <td>{part.carrier || "not said"}</td>
                <td className="font-mono">{shown(part.middle_mbps)} Mb/s</td>
                <td className="font-mono">
                  {part.rtt_ms === null || part.rtt_ms === undefined
                    ? "not measured"
                    : `${shown(part.rtt_ms)} ms`}
                </td>
                <td className="font-mono">{Math.round(100 * part.share)} %</td>
                <td className="font-mono">
                  {part.data_gb === null || part.data_gb === undefined ? "" : `${shown(part.data_gb)} GB`}
                </td>
                <td className="font-mono">
                  {shown(part.without_mbps)} Mb/s {part.without_mbps >= asked ? "fits" : "too little"}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-2">
        All together, over the minutes of the show:{" "}
        <span className="font-mono">
          {shown(bond.low_mbps)} to {shown(bond.high_mbps)}
        </span>{" "}
        Mb/s, middle <span className="font-mono">{shown(bond.middle_mbps)}</span>, simulated from the
        measurements with what the lines share.
        {bond.buffer_ms !== null && bond.buffer_ms !== undefined && (
          <>
            {" "}
            Packets must be held <span className="font-mono">{shown(bond.buffer_ms)}</span> ms to be put in
            order
            {bond.holds_ms !== null && bond.holds_ms !== undefined && (
              <>
                ; the gateway holds them <span className="font-mono">{shown(bond.holds_ms)}</span> ms
              </>
            )}
            .
          </>
        )}
      </p>
      <details className="mt-1">
        <summary className="link text-small">What is left when some are gone</summary>
        <table className="mt-1 text-small">
          <tbody>
            {bond.left.map((left) => (
              <tr key={left.gone}>
                <td className="pr-6">without {left.gone}</td>
                <td className="font-mono">
                  {shown(left.low_mbps)} Mb/s {left.fits ? "fits" : "too little"}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </div>
  );
}
