import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Schemas, taken } from "../../api/client";
import { usePlan } from "../../api/plan";

type Printed = Schemas["PrintedCard"];

/** A card for the person who sets up the other side: what to enter where, a code to scan, what to check, whom to call. */
export function JoinCards({
  keys,
  only,
  onPrint,
}: {
  keys: boolean;
  only: string | null;
  onPrint: (paper: string) => void;
}) {
  const { standing } = usePlan();
  const { id } = standing;
  const { data: cards = [] } = useQuery({
    queryKey: ["join", id, standing.version, keys],
    queryFn: async ({ signal }) =>
      taken(await api.GET("/api/plans/{id}/join", { params: { path: { id }, query: { keys } }, signal })),
    placeholderData: (before) => before,
  });
  if (!cards.length) return null;
  return (
    <section className={only && !only.startsWith("card-") ? "no-print" : ""} aria-label="Join cards">
      <div className={`border-ink mb-2 border-b pb-1 ${only ? "no-print" : ""}`}>
        <h2>Join cards</h2>
      </div>
      {cards.map((printed) => {
        const name = `card-${printed.card.stream}-${printed.card.device}`;
        return (
          <Card
            key={name}
            printed={printed}
            keys={keys}
            hidden={only !== null && only !== name}
            onPrint={() => onPrint(name)}
          />
        );
      })}
    </section>
  );
}

function Card({
  printed: { card, code },
  keys,
  hidden,
  onPrint,
}: {
  printed: Printed;
  keys: boolean;
  hidden: boolean;
  onPrint: () => void;
}) {
  const { standing } = usePlan();
  const [phone, setPhone] = useState("");
  const file = `/api/plans/${standing.id}/join/${card.stream}/${card.device}.json${keys ? "?keys=true" : ""}`;
  return (
    <article
      className={`border-ink mb-4 break-inside-avoid border p-4 ${hidden ? "no-print" : ""}`}
      aria-label={card.title}
    >
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h3>{card.title}</h3>
        <span className="no-print flex gap-4">
          <button type="button" className="link" onClick={onPrint}>
            Print<span className="sr-only"> {card.title}</span>
          </button>
          <a className="link" href={file} download>
            Settings file<span className="sr-only"> for {card.title}</span>
          </a>
        </span>
      </div>
      <p className="margin-note">
        {[standing.plan.show.name, card.at].filter(Boolean).join(", ")}
        {card.secret === "left out" && ". What is secret in it is left out: tell it by telephone"}
        {card.secret === "in clear" && ". With what is secret in clear: not for everybody"}
      </p>
      <div className="mt-2 flex flex-wrap gap-6">
        <dl className="grid min-w-0 flex-1 basis-80 grid-cols-[auto_minmax(0,1fr)] content-start gap-x-4 gap-y-1">
          {card.enters.map((line) => (
            <div key={line.where + line.what} className="contents">
              <dt className="text-faint">{line.where}</dt>
              <dd className={line.where === "Set" ? "" : "font-mono break-all"}>{line.what}</dd>
            </div>
          ))}
          <dt className="text-faint">You should see</dt>
          <dd>{card.sees}</dd>
          <dt className="text-faint">If not, call</dt>
          <dd>
            <span>{card.calls}</span>
            <input
              className="field mt-1 max-w-56"
              aria-label={`Telephone on the card: ${card.title}`}
              placeholder="telephone"
              value={phone}
              onChange={(event) => setPhone(event.target.value)}
            />
          </dd>
        </dl>
        <ul className="basis-64 space-y-1 text-small">
          {card.checks.map((check) => (
            <li key={check} className="flex gap-2">
              <span aria-hidden className="border-ink mt-[3px] inline-block h-3 w-3 shrink-0 border" />
              {check}
            </li>
          ))}
        </ul>
        {code.length > 0 && <Code rows={code} says={card.code} />}
      </div>
    </article>
  );
}

/** A QR code, dark on white in both themes: scanners want it so. */
function Code({ rows, says }: { rows: readonly string[]; says: string }) {
  const path = rows
    .flatMap((row, y) => [...row].map((dark, x) => (dark === "1" ? `M${x} ${y}h1v1h-1z` : "")))
    .join("");
  return (
    <svg
      viewBox={`0 0 ${rows.length} ${rows.length}`}
      width={168}
      height={168}
      role="img"
      className="shrink-0"
    >
      <title>{`To be scanned: ${says}`}</title>
      <rect width={rows.length} height={rows.length} fill="#fff" />
      <path d={path} fill="#000" shapeRendering="crispEdges" />
    </svg>
  );
}
