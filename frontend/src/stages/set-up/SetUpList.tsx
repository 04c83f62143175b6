import { usePlan } from "../../api/plan";
import { useSetup } from "../../api/setup";
import { printPage } from "../../parts/printing";
import { Section } from "../../parts/Section";

/** The whole list with numbers to tick on paper, place by place; what was ticked there is typed as numbers into the command bar. */
export function SetUpList() {
  const view = useSetup();
  const { standing } = usePlan();
  if (!view) return <p className="text-faint">Reading the set-up.</p>;
  return (
    <Section
      title="Set-up list"
      aside={
        <button type="button" className="link no-print" onClick={() => printPage()}>
          Print
        </button>
      }
    >
      <p className="text-faint mb-2 text-small">
        {standing.plan.show.name}, version {standing.version}. What is ticked on paper is typed as{" "}
        <span className="font-mono">1 2 5-8 seen</span> into the command bar. Keys are masked.
      </p>
      {view.places.map((place) => (
        <section key={place.id} aria-label={place.name} className="mb-4 break-inside-avoid">
          <h3 className="border-ink border-b">{place.name}</h3>
          {view.devices
            .filter((d) => d.place === place.id)
            .map((device) => (
              <div key={device.id} className="border-rule border-b py-1">
                <p>
                  <Tick number={device.number} done={!device.ask.length} /> <strong>{device.name}</strong>{" "}
                  <span className="text-faint text-small">{device.about}</span>
                </p>
                {device.steps.map((step) => (
                  <p key={step.id} className="pl-14 text-small">
                    {step.says}
                    {step.values.length > 0 && (
                      <span className="font-mono">
                        {" "}
                        {step.values.map((v) => (v.prose ? v.value : `${v.label}: ${v.value}`)).join("; ")}
                      </span>
                    )}
                    <span className="text-faint">
                      {" "}
                      {step.where}
                      {step.by_picture ? ", shown by the picture" : `: ${step.looks}`}
                    </span>
                  </p>
                ))}
              </div>
            ))}
          {view.pictures
            .filter((p) => p.place === place.id)
            .map((row) => (
              <p key={row.id} className="border-rule border-b py-1">
                <Tick number={row.number} done={row.state !== "open"} /> Picture at {row.at}
              </p>
            ))}
        </section>
      ))}
    </Section>
  );
}

/** A box to tick on paper, with its number; none where nothing is asked. */
function Tick({ number, done }: { number: number; done: boolean }) {
  return (
    <span className="inline-flex w-12 items-center gap-2 font-mono text-small">
      {number > 0 && (
        <>
          <span
            aria-hidden
            className={`border-ink inline-block h-3.5 w-3.5 border ${done ? "bg-ink" : ""}`}
          />
          {number}
          {done && <span className="sr-only"> seen</span>}
        </>
      )}
    </span>
  );
}
