import { useState } from "react";
import { useNavigate } from "react-router";
import { lost, marked, seen } from "../../api/entries";
import { usePlan, useSelection } from "../../api/plan";
import { useProofs } from "../../api/proofs";
import { type PictureRow, type SetupDevice, type SetupView, useSetup, useTick } from "../../api/setup";
import { Pages } from "../../parts/Pages";
import { FirstThing } from "../../parts/Section";
import { SeenWorking } from "../../parts/SeenWorking";
import { Faults } from "./Faults";
import { RunSheet } from "./RunSheet";
import { SetUpList } from "./SetUpList";

/** What is to be set and seen on the day: place by place, each picture as far as it is seen; and the whole list, to print. */
export default function SetUp() {
  return (
    <Pages
      pages={[
        { id: "today", name: "Today", page: <Today /> },
        { id: "faults", name: "Faults", page: <Faults /> },
        { id: "run", name: "Run sheet", page: <RunSheet /> },
        { id: "list", name: "Set-up list", page: <SetUpList /> },
      ]}
    />
  );
}

function Today() {
  const view = useSetup();
  if (!view) return <p className="text-faint">Reading the set-up.</p>;
  if (!view.of)
    return <FirstThing>Plug the gear together in Signal: what is to be set follows from it.</FirstThing>;
  return <Day view={view} />;
}

/** The day, at the place that the hand has chosen; at first at that of what comes next. What is ticked moves nothing from under the hand. */
function Day({ view }: { view: SetupView }) {
  const [place, setPlace] = useState(
    () =>
      view.devices.find((d) => d.id === view.next_device)?.place ??
      view.places.find((p) => p.left > 0)?.id ??
      view.places[0]?.id ??
      "",
  );
  return (
    <>
      <Next view={view} />
      <div className="grid gap-x-5 sm:grid-cols-[150px_minmax(0,1fr)]">
        <Places view={view} here={place} choose={setPlace} />
        <Here view={view} place={place} />
      </div>
    </>
  );
}

/** What comes next and the time to spare, large; and two counts, of the plan and of the day. */
function Next({ view }: { view: SetupView }) {
  const { report } = usePlan().standing;
  const { pick } = useSelection();
  const tick = useTick();
  const stops = report.findings.filter((f) => f.severity === "stops" && !f.accepted).length;
  return (
    <header className="border-ink mb-3 flex flex-wrap items-end justify-between gap-x-6 gap-y-1 border-b pb-2">
      <div className="min-w-0">
        <p className="text-faint text-small">{view.next ? "Next" : ""}</p>
        <p className="flex flex-wrap items-baseline gap-x-4 text-title font-semibold">
          {view.next_device ? (
            <button
              type="button"
              className="link text-left"
              onClick={() => pick({ noun: "device", id: view.next_device })}
            >
              {view.next_says}
            </button>
          ) : (
            view.next_says
          )}
          {view.next && !view.next_device && (
            <button
              type="button"
              className="button text-body font-normal"
              onClick={() => void tick([marked(view.next, true)])}
            >
              Done
            </button>
          )}
        </p>
        <p className={view.short ? "text-accent font-semibold" : ""}>
          {view.short && <span aria-hidden>▲ </span>}
          {view.spare}
        </p>
      </div>
      <p role="status" className="text-right leading-tight">
        <span className="font-mono text-title">
          {view.seen} of {view.of}
        </span>{" "}
        seen today
        <span className="text-faint block text-small">
          {stops
            ? `The plan: ${stops} ${stops === 1 ? "stops" : "stop"} the show`
            : "The plan: nothing stops it"}
        </span>
      </p>
    </header>
  );
}

function Places(props: { view: SetupView; here: string; choose: (place: string) => void }) {
  const { view, here, choose } = props;
  return (
    <nav aria-label="Places" className="max-sm:mb-3">
      <ol>
        {view.places.map((place) => (
          <li key={place.id}>
            <button
              type="button"
              aria-current={place.id === here ? "location" : undefined}
              className={`border-rule flex min-h-9 w-full cursor-pointer items-center justify-between border-b text-left ${place.id === here ? "font-semibold" : ""}`}
              onClick={() => choose(place.id)}
            >
              <span className={place.id === here ? "underline decoration-2 underline-offset-4" : ""}>
                {place.name}
              </span>
              <span className="font-mono text-small">
                {place.left ? (
                  <>
                    {place.left}
                    <span className="sr-only"> left</span>
                  </>
                ) : (
                  <span className="font-sans">all seen</span>
                )}
              </span>
            </button>
          </li>
        ))}
      </ol>
    </nav>
  );
}

/** What is left at a place: settings that nothing shows, then the pictures; what is seen already is folded. */
function Here({ view, place }: { view: SetupView; place: string }) {
  const tick = useTick();
  const [last, setLast] = useState<PictureRow | null>(null);
  const devices = view.devices.filter((d) => d.place === place);
  const asking = devices.filter((d) => d.ask.length > 0);
  const pictures = view.pictures.filter((p) => p.place === place);
  const open = pictures.filter((p) => p.state === "open");
  const every = asking.map((d) => seen(d.id, d.ask));
  const name = view.places.find((p) => p.id === place)?.name ?? "";
  return (
    <section aria-label={name} className="min-w-0">
      <div className="flex items-baseline justify-between">
        <h2>{name}</h2>
        {asking.length > 1 && (
          <button type="button" className="link text-small" onClick={() => void tick(every)}>
            All {asking.length} devices here are seen
          </button>
        )}
      </div>
      {asking.map((device) => (
        <DeviceRow key={device.id} device={device} />
      ))}
      {open.length > 0 && <h3 className="text-faint mt-3 text-small">Pictures to look at</h3>}
      {open.map((row) => (
        <Picture key={row.id} row={row} onSeen={() => setLast(row)} />
      ))}
      {last && <KeepAsTrial key={last.id} row={last} />}
      {!asking.length && !open.length && <p className="py-2">Nothing is left here.</p>}
      <Done
        devices={devices.filter((d) => !d.ask.length)}
        pictures={pictures.filter((p) => p.state !== "open")}
      />
    </section>
  );
}

function DeviceRow({ device }: { device: SetupDevice }) {
  const { pick, selected } = useSelection();
  const tick = useTick();
  const asked = device.steps.filter((step) => device.ask.some((a) => a.step === step.id));
  const again = asked.find((step) => step.note)?.note;
  return (
    <div
      className={`border-rule flex min-h-11 items-center gap-3 border-b py-1 ${selected === device.id ? "bg-sheet" : ""}`}
    >
      <span className="text-faint w-6 shrink-0 text-right font-mono text-small">{device.number}</span>
      <button
        type="button"
        className="min-w-0 flex-1 cursor-pointer text-left leading-tight"
        onClick={() => pick({ noun: "device", id: device.id })}
      >
        <span className="link">{device.name}</span>
        <span className="text-faint block text-small">
          {[...new Set(asked.map((step) => step.says))].join(", ")}
          {again && <strong className="text-ink font-semibold"> ({again})</strong>}
        </span>
      </button>
      <button
        type="button"
        className="button shrink-0"
        onClick={() => void tick([seen(device.id, device.ask)])}
      >
        Seen<span className="sr-only">: {device.name}</span>
      </button>
    </div>
  );
}

/** A picture with the way it comes, inked as far as it is seen. */
function Picture({ row, onSeen }: { row: PictureRow; onSeen: () => void }) {
  const tick = useTick();
  const { pick } = useSelection();
  const { id } = usePlan().standing;
  const navigate = useNavigate();
  const say = (right: boolean) => {
    if (right) onSeen();
    void tick([seen(row.device, row.proves, { picture: true, right })]);
  };
  return (
    <div className="border-rule flex min-h-11 items-center gap-3 border-b py-0.5">
      <span className="text-faint w-6 shrink-0 text-right font-mono text-small">{row.number}</span>
      <div className="min-w-0 flex-1 leading-tight">
        <p>
          {row.at}
          {row.note && <strong className="font-semibold"> ({row.note})</strong>}
        </p>
        <ol className="mt-1 flex items-center" aria-label="Its path">
          {row.segments.map((segment, n) => (
            <li key={segment.device} className={`flex min-w-0 items-center ${n ? "flex-1" : ""}`}>
              {n > 0 && (
                <span
                  aria-hidden
                  className={`min-w-3 flex-1 ${segment.inked ? "border-ink border-t-4" : "border-faint border-t-2 border-dashed"}`}
                />
              )}
              <button
                type="button"
                className={`max-w-40 cursor-pointer truncate px-1 text-note ${segment.inked ? "font-semibold" : "text-faint"}`}
                onClick={() => pick({ noun: "device", id: segment.device })}
              >
                {segment.name}
                <span className="sr-only">{segment.inked ? ", seen" : ", not seen yet"}</span>
              </button>
            </li>
          ))}
        </ol>
      </div>
      <span className="flex shrink-0 items-center gap-3 max-sm:flex-col">
        <button
          type="button"
          className="link text-note"
          onClick={() => {
            say(false);
            navigate(`/plans/${id}/set-up/faults?dark=${encodeURIComponent(row.id)}`);
          }}
        >
          Not appearing<span className="sr-only">: {row.at}</span>
        </button>
        <button type="button" className="button" onClick={() => say(true)}>
          Picture seen<span className="sr-only">: {row.at}</span>
        </button>
      </span>
    </div>
  );
}

/** A picture that was seen may settle what is still asked of a link on its way, once it is said under what conditions. */
function KeepAsTrial({ row }: { row: PictureRow }) {
  const wanted = useProofs().data?.wanted ?? [];
  const asked = wanted.filter(
    (fact) => fact.kept_in === "survey" && fact.things.some((thing) => row.links.includes(thing.id)),
  );
  return asked.map((fact) => (
    <section
      key={fact.id}
      aria-label="Keep it as a trial"
      className="bg-sheet border-ink mt-3 border-l-4 p-3"
    >
      <p className="mb-1 font-semibold">{fact.question}</p>
      {fact.things.slice(0, 1).map((thing) => (
        <SeenWorking
          key={thing.id}
          noun={thing.noun as "link"}
          thing={thing.id}
          label="The picture is seen: kept as a trial, under these conditions"
        />
      ))}
    </section>
  ));
}

/** What is seen already: each to be opened again by what happened to it. */
function Done({ devices, pictures }: { devices: SetupDevice[]; pictures: PictureRow[] }) {
  const tick = useTick();
  const { pick } = useSelection();
  const set = devices.filter((device) => device.steps.some((step) => step.state !== "open"));
  if (!set.length && !pictures.length) return null;
  return (
    <details className="mt-3">
      <summary className="link cursor-pointer text-small">
        {set.length} {set.length === 1 ? "device" : "devices"}, {pictures.length}{" "}
        {pictures.length === 1 ? "picture" : "pictures"} seen
      </summary>
      {set.map((device) => (
        <div key={device.id} className="border-rule flex min-h-9 items-center justify-between gap-3 border-b">
          <button type="button" className="link" onClick={() => pick({ noun: "device", id: device.id })}>
            {device.name}
          </button>
          <button
            type="button"
            className="link text-small"
            onClick={() => void tick([lost(device.id, "power-off")])}
          >
            It was restarted<span className="sr-only">: {device.name}</span>
          </button>
        </div>
      ))}
      {pictures.map((row) => (
        <p key={row.id} className="border-rule border-b py-1 text-small">
          {row.at}: {row.note}
        </p>
      ))}
    </details>
  );
}
