import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, type Schemas, taken } from "../api/client";
import { useFields } from "../api/fields";
import type { PickedNoun } from "../api/pick";
import { usePlan, useSelection } from "../api/plan";
import { FoundOut } from "../parts/FoundOut";
import { moment } from "../parts/numbers";
import { StateMark } from "../parts/StateMark";
import { isShort, ThingFieldInput } from "../parts/ThingFieldInput";
import type { StageId } from "./stages";

type Of = { noun: PickedNoun; id: string };

/** What is said of a thing that is picked: its state in a sentence, the fields that matter on this stage, what it hangs on; all of
 * its fields, folded. Under a finding of it, its state is said already. */
export function ThingBody({ noun, id, under = false }: Of & { under?: boolean }) {
  const { standing, stamp } = usePlan();
  const { pick } = useSelection();
  const stage = (useParams().stage ?? "brief") as StageId;
  const { data, error } = useQuery({
    queryKey: ["thing", standing.id, noun, id, stage, stamp],
    queryFn: async ({ signal }) =>
      taken(
        await api.GET("/api/plans/{id}/things/{noun}/{thing}", {
          params: { path: { id: standing.id, noun, thing: id }, query: { stage } },
          signal,
        }),
      ),
    placeholderData: (before) => (before?.noun === noun && before.id === id ? before : undefined),
    retry: false,
  });
  if (error)
    return (
      <p role="alert" className="px-3 py-2">
        {error.message}
      </p>
    );
  if (!data) return null;
  const finding = data.finding;
  return (
    <section aria-label={data.name} className={`space-y-3 px-3 py-2 ${under ? "border-rule border-t" : ""}`}>
      <header>
        <h3 className="text-head leading-tight">{data.name}</h3>
        <p className="text-faint text-small">{data.about}</p>
      </header>
      {!under && (
        <div className="flex items-start gap-2">
          {data.state && (
            <span className="pt-[3px]">
              <StateMark state={data.state} />
            </span>
          )}
          <p>
            {data.said}{" "}
            {finding && (
              <button type="button" className="link" onClick={() => pick({ finding })}>
                What to do
              </button>
            )}
          </p>
        </div>
      )}
      <ReadAloud addresses={data.addresses} />
      <div className="grid grid-cols-2 gap-x-3 gap-y-2">
        {data.fields.map((field) => (
          <div
            key={`${field.port} ${field.path}`}
            className={isShort(field) && !field.asked ? "" : "col-span-2"}
          >
            {field.asked && <p className="text-small font-semibold">{field.asked}</p>}
            <FoundOut as={field.answered_as}>
              <ThingFieldInput noun={noun} id={id} field={field} />
            </FoundOut>
          </div>
        ))}
      </div>
      <Steps data={data} />
      {data.holds < data.asked && (
        <p className="margin-note">
          {data.holds} of {data.asked} {data.asked === 1 ? "question" : "questions"} about it hold
        </p>
      )}
      <LastChange last={data.last} />
      {data.others > 0 && <Sheet noun={noun} id={id} count={data.fields.length + data.others} />}
    </section>
  );
}

/** Each address large and in groups, with its mask and gateway: read aloud to who types them. */
function ReadAloud({ addresses }: { addresses: Schemas["PickedThing"]["addresses"] }) {
  return addresses.map((at) => (
    <dl key={at.socket} className="border-rule border-y py-1 font-mono">
      <dt className="text-faint font-sans text-note">
        {at.socket}, {at.network}
      </dt>
      <dd className="text-figure leading-9 tracking-tight">
        {at.address ? at.address.replaceAll(".", ".\u200a") : "by DHCP"}
      </dd>
      <dd className="text-head">
        <span className="text-faint font-sans text-note">mask</span> {at.mask || "not known"}
      </dd>
      <dd className="text-head">
        <span className="text-faint font-sans text-note">gateway</span> {at.gateway || "not known"}
      </dd>
    </dl>
  ));
}

/** What it comes from, and where it leads, with a step to each. */
function Steps({ data }: { data: Schemas["PickedThing"] }) {
  const { pick } = useSelection();
  const side = (steps: Schemas["ThingStep"][]) =>
    steps.map((step, n) => (
      <span key={`${step.noun} ${step.id}`}>
        {n > 0 && ", "}
        <button type="button" className="link" onClick={() => pick({ noun: step.noun, id: step.id })}>
          {step.name}
        </button>
      </span>
    ));
  if (!data.before.length && !data.after.length) return null;
  return (
    <p className="text-small">
      {side(data.before)}
      {data.before.length > 0 && <span aria-hidden> → </span>}
      <strong>this</strong>
      {data.after.length > 0 && <span aria-hidden> → </span>}
      {side(data.after)}
    </p>
  );
}

/** What changed it last, and when; nothing of what is as the plan began. */
function LastChange({ last }: { last: Schemas["PickedThing"]["last"] }) {
  const { zone } = usePlan().standing.plan.show;
  if (!last) return null;
  return (
    <p className="margin-note">
      Last changed {moment(last.at, zone)}: {last.what[0]}
      {last.what.length > 1 && `, and ${last.what.length - 1} more`}
    </p>
  );
}

/** All fields of a thing, read when they are opened, found by a word. */
function Sheet({ noun, id, count }: Of & { count: number }) {
  const [open, setOpen] = useState(false);
  const [words, setWords] = useState("");
  const data = useFields(noun, id, open);
  const typed = words.trim().toLowerCase();
  const shown = (data ?? []).filter((f) => `${f.group} ${f.label}`.toLowerCase().includes(typed));
  return (
    <details open={open} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="link">All {count} fields</summary>
      <input
        className="field my-1"
        aria-label="Find a field"
        placeholder="find a field"
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      <div className="space-y-2">
        {shown.map((field, n) => (
          <div key={`${field.port} ${field.path}`}>
            {field.group !== (shown[n - 1]?.group ?? "") && (
              <h4 className="border-rule mt-2 border-t pt-1 font-semibold first-letter:uppercase">
                {field.group}
              </h4>
            )}
            <ThingFieldInput noun={noun} id={id} field={field} />
          </div>
        ))}
        {open && data && !shown.length && <p className="text-faint">No field is called that.</p>}
      </div>
    </details>
  );
}
