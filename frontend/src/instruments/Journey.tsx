import type { Schemas } from "../api/client";
import { STATE_WORDS, StateMark } from "../parts/StateMark";

type Waypoint = Schemas["WaypointLine"];

const KINDS: Record<Waypoint["kind"], string> = {
  socket: "socket",
  network: "network",
  router: "router",
  line: "line",
  internet: "internet",
  nowhere: "nowhere",
};

/** The way of a call, hop by hop from caller to listener: the thread ends where the call does. */
export function Journey({ journey }: { journey: Schemas["JourneyLine"] }) {
  const end = journey.ends_at ?? journey.waypoints.length;
  return (
    <figure aria-label={journey.title}>
      <figcaption className="text-small font-semibold">{journey.title}</figcaption>
      <ol className="mt-1">
        {journey.waypoints.map((at, n) => (
          <li
            key={`${n} ${at.says}`}
            className={`grid grid-cols-[22px_68px_minmax(0,1fr)] gap-x-2 text-small ${n > end ? "text-faint" : ""}`}
          >
            <Thread
              kind={at.kind}
              first={n === 0}
              last={n === journey.waypoints.length - 1}
              ends={n === end}
              gone={n > end}
            />
            <span className="text-faint pt-[3px] text-note">{KINDS[at.kind]}</span>
            <span className="py-[2px]">
              {at.says}
              {at.state !== "holds" && n <= end && (
                <span className="ml-2 inline-flex items-center gap-1 align-middle">
                  <StateMark state={at.state} />
                  <strong>{n === end ? "it ends here" : STATE_WORDS[at.state]}</strong>
                </span>
              )}
              {at.why && !at.finding && n <= end && <span className="block">{at.why}</span>}
            </span>
          </li>
        ))}
      </ol>
      <p className="margin-note">
        {journey.ends_at !== null && journey.ends_at !== undefined
          ? journey.ends_at < journey.waypoints.length - 1
            ? "What is faint is where it would go on."
            : "The call gets no further."
          : journey.waypoints.every((at) => at.state === "holds")
            ? "It gets through, and its answers come back the same way."
            : "It goes on as if what is not sure held."}
      </p>
    </figure>
  );
}

/** One knot of the thread: a ring for a socket, a bar for a network, a lozenge for a router, two strokes for a line. */
function Thread({
  kind,
  first,
  last,
  ends,
  gone,
}: {
  kind: Waypoint["kind"];
  first: boolean;
  last: boolean;
  ends: boolean;
  gone: boolean;
}) {
  const ink = gone ? "var(--faint)" : "var(--ink)";
  const loose = kind === "internet" || kind === "nowhere";
  return (
    <div className="relative min-h-[24px]">
      <svg width={22} className="absolute inset-0 h-full" aria-hidden="true">
        {!first && (
          <line
            x1={11}
            x2={11}
            y1={0}
            y2={12}
            stroke={ink}
            strokeWidth={1.5}
            strokeDasharray={gone ? "2 3" : loose ? "5 3" : undefined}
          />
        )}
        {!last && !ends && (
          <line
            x1={11}
            x2={11}
            y1={12}
            y2="100%"
            stroke={ink}
            strokeWidth={1.5}
            strokeDasharray={gone ? "2 3" : loose ? "5 3" : undefined}
          />
        )}
        {kind === "socket" && (
          <circle cx={11} cy={12} r={4.5} fill="var(--sheet)" stroke={ink} strokeWidth={1.5} />
        )}
        {kind === "network" && <line x1={3} x2={19} y1={12} y2={12} stroke={ink} strokeWidth={3} />}
        {kind === "router" && (
          <path d="M11 6l6 6-6 6-6-6z" fill="var(--sheet)" stroke={ink} strokeWidth={1.5} />
        )}
        {kind === "line" && <path d="M5 9.5h12M5 14.5h12" stroke={ink} strokeWidth={1.5} />}
        {ends && <path d="M4 17l14-10" stroke="var(--accent)" strokeWidth={2.5} />}
      </svg>
    </div>
  );
}
