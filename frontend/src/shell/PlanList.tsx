import { useQuery } from "@tanstack/react-query";
import { Suspense, useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, Refused, type Schemas, type Standing, taken } from "../api/client";
import { set } from "../api/edits";
import { FORM } from "../api/form";
import { newId } from "../api/outbox";
import { whenChanged } from "../api/tabs";
import { FileButton } from "../parts/FileButton";
import { Select } from "../parts/inputs";
import { HERE, moment, wall } from "../parts/numbers";
import { FirstThing, Section } from "../parts/Section";
import { Waiting } from "../parts/Waiting";
import { apart } from "./loading";

type Listed = Schemas["Listed"];

const DeleteDialog = apart(() => import("./DeleteDialog"));

/** Where it starts: the plans there are, a new one, or one from a file. */
export function PlanList() {
  const navigate = useNavigate();
  const [trouble, setTrouble] = useState<string | null>(null);
  const [importing, setImporting] = useState<AbortController | null>(null);
  /** What was deleted since this page was opened: it goes for good when the page is left. */
  const going = useGoing();
  const [twin, setTwin] = useState<Standing | null>(null);
  const [leaving, setLeaving] = useState<Schemas["Listed"] | null>(null);
  /** One id for what is typed now: pressed twice, or sent again after a lost answer, one plan is begun. */
  const request = useRef(newId());
  const {
    data: plans,
    error,
    refetch,
  } = useQuery({
    queryKey: ["plans"],
    queryFn: async () => taken(await api.GET("/api/plans")),
  });
  useEffect(() => whenChanged(() => void refetch()), [refetch]);
  const openWhen = async (made: Promise<Standing>) => {
    try {
      const plan = await made;
      request.current = newId();
      if (plan.free_name) void refetch();
      if (plan.free_name) setTwin(plan);
      else navigate(`/plans/${plan.id}/brief`);
    } catch (problem) {
      setTrouble(whyNot(problem));
    }
  };
  const importFile = async (chosen: File) => {
    const stop = new AbortController();
    setImporting(stop);
    try {
      return await imported(chosen, stop.signal);
    } finally {
      setImporting(null);
    }
  };
  return (
    <main className="mx-auto max-w-3xl p-6">
      <h1 className="mb-1 text-title font-semibold">Humble Relay</h1>
      <p className="text-faint mb-6">
        Plans how video gets from the cameras to the viewers, and says whether it will arrive.
      </p>
      {trouble && (
        <p role="alert" className="border-accent bg-wash mb-4 border-l-4 px-3 py-2">
          {trouble}
        </p>
      )}
      {twin && (
        <SameName plan={twin} onTrouble={setTrouble} onOpen={() => navigate(`/plans/${twin.id}/brief`)} />
      )}
      <Section title="Plans">
        {error && <FirstThing>The server cannot be reached.</FirstThing>}
        {plans?.length === 0 && (
          <FirstThing>No plan yet. Give the show a name below to begin one.</FirstThing>
        )}
        <ul>
          {plans?.map((plan, i) => (
            <li
              key={plan.id}
              className="border-rule flex flex-wrap items-baseline justify-between gap-x-4 border-b py-1.5"
            >
              {going.plans.has(plan.id) ? (
                <Going
                  plan={plan}
                  onUndo={() => going.back(plan.id)}
                  onNow={() => void going.now(plan.id).then(() => refetch())}
                />
              ) : (
                <PlanLine
                  plan={plan}
                  proved={i < PROVED}
                  onRenamed={(said) => {
                    setTrouble(said);
                    void refetch();
                  }}
                  onCopy={() => void openWhen(copied(plan.id))}
                  onDelete={() => setLeaving(plan)}
                />
              )}
            </li>
          ))}
        </ul>
      </Section>
      <Section title="Begin">
        <BeginForm
          plans={plans ?? []}
          onTyped={() => {
            request.current = newId();
          }}
          onBegin={(name, start) => {
            if (name) void openWhen(start ? copied(start, name, true) : begun(name, request.current));
            else setTrouble("Write the name of the show first.");
          }}
          onImport={(chosen) => void openWhen(importFile(chosen))}
        />
      </Section>
      {importing && <Waiting on="Reading the plan file" onCancel={() => importing.abort()} />}
      <Examples onOpen={(made) => void openWhen(made)} />
      {leaving && (
        <Suspense>
          <DeleteDialog
            plan={leaving}
            onClose={(gone) => {
              setLeaving(null);
              if (gone) going.go(leaving);
            }}
          />
        </Suspense>
      )}
    </main>
  );
}

/** A plan in the list: when and where it is, and how far it is proven. */
function PlanLine(props: {
  plan: Listed;
  proved: boolean;
  onRenamed: (trouble: string | null) => void;
  onCopy: () => void;
  onDelete: () => void;
}) {
  const { plan, proved } = props;
  const [naming, setNaming] = useState(false);
  const action = (words: string, does: () => void) => (
    <button type="button" className="link" onClick={does}>
      {words}
      <span className="sr-only"> {plan.name}</span>
    </button>
  );
  const when = plan.starts ? `${wall(plan.starts).day}, ${wall(plan.starts).time}` : "no date yet";
  return (
    <>
      <span>
        {naming ? (
          <Rename
            plan={plan}
            onDone={(said) => {
              setNaming(false);
              props.onRenamed(said);
            }}
          />
        ) : (
          <Link className="link" to={`/plans/${plan.id}/brief`}>
            {plan.name}
          </Link>
        )}
        <span className="margin-note block">
          {[when, plan.where, `changed ${moment(plan.changed_at, undefined)}`].filter(Boolean).join(" · ")}
          {proved && <ProofCount id={plan.id} version={plan.version} />}
        </span>
      </span>
      <span className="flex items-baseline gap-4">
        {action("Rename", () => setNaming(true))}
        {action("Copy", props.onCopy)}
        {action("Delete", props.onDelete)}
      </span>
    </>
  );
}

/** A new plan: its name, and the plan that it starts as; or one from a file. */
function BeginForm(props: {
  plans: readonly Listed[];
  onTyped: () => void;
  onBegin: (name: string, start: string) => void;
  onImport: (chosen: File) => void;
}) {
  const [name, setName] = useState("");
  const [start, setStart] = useState("");
  return (
    <form
      className="flex flex-wrap items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        props.onBegin(name.trim(), start);
      }}
    >
      <div className="w-80">
        <label htmlFor="show-name" className="text-faint block text-note">
          Name of the show
        </label>
        <input
          id="show-name"
          className="field"
          value={name}
          maxLength={80}
          onChange={(event) => {
            setName(event.target.value);
            props.onTyped();
          }}
        />
      </div>
      {props.plans.length > 0 && (
        <Select
          label="Start from"
          width="w-52"
          none="nothing yet"
          value={start}
          options={props.plans.map((plan) => [plan.id, plan.name] as const)}
          choose={setStart}
        />
      )}
      {start && <CarriedOver from={start} />}
      <button type="submit" className="button button-main">
        Begin a plan
      </button>
      <span className="text-faint pb-1">or</span>
      <FileButton
        label="Plan file"
        words="Import a plan file"
        accept="application/json,.json"
        onFile={props.onImport}
      />
    </form>
  );
}

/** What a show takes over from another's plan, before it is begun. */
function CarriedOver({ from }: { from: string }) {
  const { data } = useQuery({
    queryKey: ["next-show", from],
    queryFn: async () =>
      taken(await api.GET("/api/plans/{id}/next-show", { params: { path: { id: from } } })),
  });
  if (!data) return null;
  const said = [
    ["Taken over", data.carried],
    ["To be checked again", data.again],
    ["Left behind", data.left],
  ] as const;
  return (
    <dl aria-label="What is taken over" className="w-full text-small">
      {said.map(([what, lines]) =>
        lines.length ? (
          <div key={what} className="flex gap-2">
            <dt className="text-faint w-36 shrink-0">{what}</dt>
            <dd>{lines.join("; ")}</dd>
          </div>
        ) : null,
      )}
    </dl>
  );
}

async function imported(chosen: File, signal: AbortSignal): Promise<Standing> {
  const headers = { "Content-Type": "application/json" };
  const answer = await fetch("/api/plans/import", { method: "POST", headers, body: chosen, signal });
  const body = await answer.json();
  return taken<Standing>({ response: answer, ...(answer.ok ? { data: body } : { error: body }) });
}

/** Why no plan came of it, in a sentence. */
function whyNot(problem: unknown): string {
  if (problem instanceof Refused) return problem.message;
  return problem instanceof DOMException && problem.name === "AbortError"
    ? "Cancelled. Look at the list: what was sent before may have been taken in."
    : "The server cannot be reached. Nothing was changed.";
}

const begun = async (name: string, request: string) =>
  taken(
    await api.POST("/api/plans", {
      params: { header: { "Idempotency-Key": request } },
      body: {
        show: { name, content: "mixed", record: false, zone: HERE, sessions: [], call: "", notes: "" },
      },
    }),
  );

/** Of so many plans, the last changed ones, the state of the proofs is said in the list: each is a judgement of its own. */
const PROVED = 12;

const copied = async (id: string, name?: string, next_show = false) =>
  taken(
    await api.POST("/api/plans/{id}/copy", {
      params: {
        path: { id },
        query: { ...(name && { name }), next_show },
        header: { "Idempotency-Key": newId() },
      },
    }),
  );

const deletion = (plan: Listed) =>
  fetch(`/api/plans/${plan.id}`, {
    method: "DELETE",
    headers: { "If-Match": `"${plan.version}"`, "Content-Type": "application/json" },
    keepalive: true,
  });

/** The plans that were deleted here: each can be taken back until this page is left, and goes for good then. */
function useGoing() {
  const [plans, setPlans] = useState<ReadonlyMap<string, Listed>>(new Map());
  const now = useRef(plans);
  now.current = plans;
  const put = (change: (next: Map<string, Listed>) => void) =>
    setPlans((before) => {
      const next = new Map(before);
      change(next);
      return next;
    });
  useEffect(() => {
    const leave = () => {
      for (const plan of now.current.values()) void deletion(plan);
      now.current = new Map();
    };
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      leave();
    };
  }, []);
  return {
    plans,
    go: (plan: Listed) => put((next) => next.set(plan.id, plan)),
    back: (id: string) => put((next) => next.delete(id)),
    now: async (id: string) => {
      const plan = now.current.get(id);
      if (plan) await deletion(plan);
      put((next) => next.delete(id));
    },
  };
}

/** A plan that is being deleted. */
function Going({ plan, onUndo, onNow }: { plan: Listed; onUndo: () => void; onNow: () => void }) {
  return (
    <>
      <span>
        <span className="text-faint line-through">{plan.name}</span>
        <span className="margin-note block">
          Deleted. It goes for good, keys too, when this page is left.
        </span>
      </span>
      <span className="flex items-baseline gap-4">
        <button type="button" className="link" onClick={onUndo}>
          Undo<span className="sr-only"> deleting {plan.name}</span>
        </button>
        <button type="button" className="link" onClick={onNow}>
          For good now<span className="sr-only">: {plan.name}</span>
        </button>
      </span>
    </>
  );
}

/** How many of the pictures that must arrive are proven. */
function ProofCount({ id, version }: { id: string; version: number }) {
  const { data } = useQuery({
    queryKey: ["proofs", id, version],
    queryFn: async () => taken(await api.GET("/api/plans/{id}/proofs", { params: { path: { id } } })),
    staleTime: 60_000,
  });
  if (!data) return null;
  if (!data.proofs.length) return " · nothing asked for yet";
  const proven = data.proofs.filter((proof) => proof.state === "proven").length;
  return ` · ${proven} of ${data.proofs.length} proven`;
}

/** Gives a plan another name; what is wrong, where it cannot be. */
async function renamed(plan: Pick<Listed, "id" | "version">, name: string): Promise<string | null> {
  try {
    taken(
      await api.POST("/api/plans/{id}/edits", {
        params: {
          path: { id: plan.id },
          header: { "if-match": `"${plan.version}"`, "Idempotency-Key": newId() },
        },
        body: { edits: [set("show", null, "name", name)], why: "", form: FORM },
      }),
    );
    return null;
  } catch (problem) {
    return problem instanceof Refused
      ? problem.message
      : "The server cannot be reached. Nothing was changed.";
  }
}

/** Said of a plan that came in under a name that another one has: another name is offered. */
function SameName({
  plan,
  onTrouble,
  onOpen,
}: {
  plan: Standing;
  onTrouble: (trouble: string | null) => void;
  onOpen: () => void;
}) {
  const offered = plan.free_name ?? "";
  const rename = async () => {
    const trouble = await renamed(plan, offered);
    onTrouble(trouble);
    if (!trouble) onOpen();
  };
  return (
    <div role="alert" className="border-accent bg-wash mb-4 border-l-4 px-3 py-2">
      <p>
        The new plan is called {plan.plan.show.name}, and so is another one here. The list tells them apart
        only by when they were changed.
      </p>
      <p className="mt-2 flex flex-wrap gap-4">
        <button type="button" className="button button-main" onClick={() => void rename()}>
          Call the new one {offered}
        </button>
        <button type="button" className="button" onClick={onOpen}>
          Open it under the same name
        </button>
      </p>
    </div>
  );
}

/** The name of a show as a field; Enter keeps it, Escape leaves it. */
function Rename({ plan, onDone }: { plan: Schemas["Listed"]; onDone: (trouble: string | null) => void }) {
  const keep = async (name: string) => {
    if (!name.trim() || name.trim() === plan.name) return onDone(name.trim() ? null : "A show needs a name.");
    onDone(await renamed(plan, name.trim()));
  };
  return (
    <input
      className="field w-72!"
      aria-label={`New name of ${plan.name}`}
      defaultValue={plan.name}
      maxLength={80}
      ref={(field) => field?.select()}
      onKeyDown={(event) => {
        if (event.key === "Enter") void keep(event.currentTarget.value);
        if (event.key === "Escape") onDone(null);
      }}
    />
  );
}

/** One show of each kind of job, to open as a plan of one's own: as it is, or with one thing wrong. */
function Examples({ onOpen }: { onOpen: (made: Promise<Standing>) => void }) {
  const { data: examples } = useQuery({
    queryKey: ["examples"],
    queryFn: async () => taken(await api.GET("/api/examples")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (!examples) return null;
  const open = async (id: string, broken: boolean) =>
    taken(
      await api.POST("/api/examples/{id}/open", {
        params: { path: { id }, query: { broken }, header: { "Idempotency-Key": newId() } },
      }),
    );
  return (
    <Section title="Examples" aside="one show of each kind of job; each opens as a plan of your own">
      <ul>
        {examples.map((example) => (
          <li key={example.id} className="border-rule border-b py-1.5">
            <div className="flex items-baseline justify-between gap-4">
              <button
                type="button"
                className="link text-left"
                onClick={() => onOpen(open(example.id, false))}
              >
                {example.title}
              </button>
              <button
                type="button"
                className="link shrink-0 text-small"
                title={example.twin}
                onClick={() => onOpen(open(example.id, true))}
              >
                With a fault<span className="sr-only"> in {example.title}</span>
              </button>
            </div>
            <p className="margin-note">
              {example.shows} {example.waits_for}
            </p>
          </li>
        ))}
      </ul>
    </Section>
  );
}
