import { useState } from "react";
import type { Schemas } from "../api/client";
import { lost, seen } from "../api/entries";
import type { PictureRow, SetupDevice, SetupView } from "../api/setup";
import { TakePhotograph } from "./TakePhotograph";
import type { Log } from "./useLog";

type Write = Log["write"];

/** What is to be set where one stands, a device under the other: its values large, one tick for all that no picture shows; then the
 * pictures to look at. */
export function ToSetUp(props: {
  view: SetupView;
  place: string;
  write: Write;
  goTo: (place: string) => void;
  notAppearing: (picture: string) => void;
}) {
  const { view, place, write } = props;
  const devices = view.devices.filter((d) => d.place === place);
  const pictures = view.pictures.filter((p) => p.place === place);
  const asking = devices.filter((d) => d.ask.length > 0);
  const open = pictures.filter((p) => p.state === "open");
  const rest = view.places.find((p) => p.id !== place && p.left > 0);
  return (
    <>
      <p className="text-faint mb-2">
        <span className="font-mono">
          {view.seen} of {view.of}
        </span>{" "}
        seen today
      </p>
      {asking.map((device, n) => (
        <Device key={device.id} device={device} write={write} open={n === 0} />
      ))}
      {open.map((row) => (
        <Picture key={row.id} row={row} write={write} notAppearing={props.notAppearing} />
      ))}
      {!asking.length && !open.length && (
        <p className="py-2 text-head">
          Nothing is left here.{" "}
          {rest && (
            <button type="button" className="link min-h-11" onClick={() => props.goTo(rest.id)}>
              Next: {rest.name}, {rest.left} left
            </button>
          )}
        </p>
      )}
      {devices
        .filter((d) => !d.ask.length)
        .map((device) => (
          <Device key={device.id} device={device} write={write} />
        ))}
    </>
  );
}

function Device({ device, write, open = false }: { device: SetupDevice; write: Write; open?: boolean }) {
  const asked = device.steps.filter((step) => device.ask.some((a) => a.step === step.id));
  const [each, setEach] = useState(false);
  const others = device.steps.filter((step) => !asked.includes(step));
  return (
    <details className="border-rule border-b py-3" open={open}>
      <summary className="cursor-pointer text-head font-semibold">
        {device.name}
        {asked.length > 0 && (
          <span className="text-faint block text-small font-normal">
            {[...new Set(asked.map((step) => step.says))].join(", ")}
          </span>
        )}
      </summary>
      {asked.map((step) => (
        <Step key={step.id} step={step} device={device} write={write} alone={each} />
      ))}
      {device.ask.length > 0 && (
        <button
          type="button"
          className="button button-main mt-3 min-h-14 w-full text-head"
          onClick={() => void write([seen(device.id, device.ask)])}
        >
          {asked.length > 1 ? `All ${asked.length} are right` : "It is right"}
          <span className="sr-only">: {device.name}</span>
        </button>
      )}
      {asked.length > 1 && !each && (
        <button type="button" className="link min-h-11" onClick={() => setEach(true)}>
          Not all of them<span className="sr-only">: {device.name}</span>
        </button>
      )}
      {others.map((step) => (
        <Step key={step.id} step={step} device={device} write={write} alone={false} />
      ))}
      <div className="mt-2 grid grid-cols-2 items-end gap-2">
        <button
          type="button"
          className="button min-h-14"
          onClick={() => void write([lost(device.id, "power-off")])}
        >
          It was restarted<span className="sr-only">: {device.name}</span>
        </button>
        <TakePhotograph
          label="Photograph it"
          text={device.name}
          of={{ noun: "device", thing: device.id }}
          write={write}
        />
      </div>
    </details>
  );
}

function Step(props: {
  step: Schemas["StepLine"];
  device: SetupDevice;
  write: Write;
  /** Whether it is ticked by itself too, where not all is right. */
  alone: boolean;
}) {
  const { step, device, write, alone } = props;
  return (
    <div className="border-faint mt-3 border-l-2 pl-2 leading-snug">
      <div className="flex items-start justify-between gap-2">
        <p>
          <strong>{step.says}</strong>
          <span className="text-faint block text-small">
            {step.where}
            {step.state === "open" ? (step.by_picture ? "; the picture shows it" : `: ${step.looks}`) : ""}
          </span>
        </p>
        {alone && (
          <button
            type="button"
            className="button min-h-11 shrink-0"
            onClick={() => void write([seen(device.id, [{ step: step.id, stamp: step.stamp }])])}
          >
            Right<span className="sr-only">: {step.says}</span>
          </button>
        )}
      </div>
      {step.values.map((value) =>
        value.prose ? (
          <p key={value.value}>{value.value}</p>
        ) : (
          <p key={value.label + value.value}>
            <span className="text-faint block text-small">{value.label}</span>
            <span className="font-mono text-title wrap-anywhere">{value.value}</span>
          </p>
        ),
      )}
      {step.note && <p className="text-small">{step.note}</p>}
    </div>
  );
}

function Picture(props: { row: PictureRow; write: Write; notAppearing: (picture: string) => void }) {
  const { row, write, notAppearing } = props;
  const say = (right: boolean) => void write([seen(row.device, row.proves, { picture: true, right })]);
  return (
    <section aria-label={`Picture at ${row.at}`} className="border-rule border-b py-3">
      <p className="text-head font-semibold">{row.at}</p>
      <p className="text-faint text-small">
        {row.segments.map((s) => s.name).join(" → ")}
        {row.note && ` (${row.note})`}
      </p>
      <div className="mt-2 grid gap-2">
        <button type="button" className="button button-main min-h-14 text-head" onClick={() => say(true)}>
          Picture seen
        </button>
        <button
          type="button"
          className="button min-h-12"
          onClick={() => {
            say(false);
            notAppearing(row.id);
          }}
        >
          Not appearing
        </button>
      </div>
    </section>
  );
}
