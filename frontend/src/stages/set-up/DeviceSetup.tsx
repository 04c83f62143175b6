import { seen } from "../../api/entries";
import { usePlan } from "../../api/plan";
import { type SetupDevice, useSetup, useTick } from "../../api/setup";

/** What to set on the device that is picked: the values large, to be read aloud; each step ticked by itself where not all is right. */
export function DeviceSetup({ id }: { id: string }) {
  const view = useSetup();
  const device = view?.devices.find((d) => d.id === id);
  if (!view) return null;
  if (!device) return <p className="px-3 py-2">Nothing is to be set on it for this plan.</p>;
  return (
    <section aria-label={device.name} className="space-y-3 px-3 py-2">
      <header>
        <h3 className="text-head leading-tight">{device.name}</h3>
        <p className="text-faint text-small">{device.about}</p>
      </header>
      <Steps device={device} />
    </section>
  );
}

function Steps({ device }: { device: SetupDevice }) {
  const tick = useTick();
  const plan = usePlan().standing.id;
  return (
    <ol>
      {device.steps.map((step) => (
        <li key={step.id} className="border-rule border-b py-2">
          <div className="flex items-start justify-between gap-2">
            <p className="leading-tight font-semibold">
              {step.says}
              <span className="text-faint block text-small font-normal">{step.where}</span>
            </p>
            <span className="shrink-0 text-right text-small">
              {step.state === "open" ? (
                <button
                  type="button"
                  className="button"
                  onClick={() => void tick([seen(device.id, [{ step: step.id, stamp: step.stamp }])])}
                >
                  Seen<span className="sr-only">: {step.says}</span>
                </button>
              ) : (
                <button
                  type="button"
                  className="link"
                  onClick={() =>
                    void tick([seen(device.id, [{ step: step.id, stamp: step.stamp }], { right: false })])
                  }
                >
                  Not right<span className="sr-only">: {step.says}</span>
                </button>
              )}
            </span>
          </div>
          {step.values.length > 0 && (
            <dl className="mt-1">
              {step.values.map((value) =>
                value.prose ? null : (
                  <div key={value.label + value.value}>
                    <dt className="text-faint text-note">{value.label}</dt>
                    <dd className="font-mono text-title leading-tight wrap-anywhere">{value.value}</dd>
                  </div>
                ),
              )}
            </dl>
          )}
          {step.file && (
            <a className="link" href={`/api/plans/${plan}/join/${step.file}/${device.id}.json`} download>
              Settings file
              <span className="sr-only">
                {" "}
                of {step.file} for {device.name}
              </span>
            </a>
          )}
          {step.values.map((value) => value.prose && <p key={value.value}>{value.value}</p>)}
          <p className="margin-note">
            {STATES[step.state]}
            {step.note && ` ${step.note}`}
            {step.state === "open" && (step.by_picture ? "The picture shows it." : `Right: ${step.looks}.`)}
          </p>
        </li>
      ))}
    </ol>
  );
}

const STATES: Record<SetupDevice["steps"][number]["state"], string> = {
  open: "",
  seen: "Seen",
  implied: "Shown by a picture,",
  carried: "Seen on an earlier day,",
};
