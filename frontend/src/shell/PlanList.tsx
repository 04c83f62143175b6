import { useQuery } from "@tanstack/react-query";
import { Suspense, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, Refused, type Schemas, type Standing, taken } from "../api/client";
import { newId } from "../api/outbox";
import { FirstThing, Section } from "../parts/Section";
import { apart } from "./loading";

const DeleteDialog = apart(() => import("./DeleteDialog"));

/** Where it starts: the plans there are, a new one, or one from a file. */
export function PlanList() {
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const [trouble, setTrouble] = useState<string | null>(null);
  const [leaving, setLeaving] = useState<Schemas["Listed"] | null>(null);
  /** One id for what is typed now: pressed twice, or sent again after a lost answer, one plan is begun. */
  const request = useRef(newId());
  const file = useRef<HTMLInputElement>(null);
  const {
    data: plans,
    error,
    refetch,
  } = useQuery({
    queryKey: ["plans"],
    queryFn: async () => taken(await api.GET("/api/plans")),
  });
  const openWhen = async (made: Promise<Standing>) => {
    try {
      navigate(`/plans/${(await made).id}/brief`);
      request.current = newId();
    } catch (problem) {
      setTrouble(
        problem instanceof Refused ? problem.message : "The server cannot be reached. Nothing was changed.",
      );
    }
  };
  const begin = async () =>
    taken(
      await api.POST("/api/plans", {
        params: { header: { "Idempotency-Key": request.current } },
        body: { show: { name: name.trim(), content: "mixed", record: false, zone: "", notes: "" } },
      }),
    );
  const importFile = async (chosen: File) => {
    const headers = { "Content-Type": "application/json" };
    const answer = await fetch("/api/plans/import", { method: "POST", headers, body: chosen });
    const body = await answer.json();
    return taken<Standing>({ response: answer, ...(answer.ok ? { data: body } : { error: body }) });
  };
  return (
    <main className="mx-auto max-w-3xl p-6">
      <h1 className="mb-1 text-[22px] font-semibold">Humble Relay</h1>
      <p className="text-faint mb-6">
        Plans how video gets from the cameras to the viewers, and says whether it will arrive.
      </p>
      {trouble && (
        <p role="alert" className="border-accent bg-wash mb-4 border-l-4 px-3 py-2">
          {trouble}
        </p>
      )}
      <Section title="Plans">
        {error && <FirstThing>The server cannot be reached.</FirstThing>}
        {plans?.length === 0 && (
          <FirstThing>No plan yet. Give the show a name below to begin one.</FirstThing>
        )}
        <ul>
          {plans?.map((plan) => (
            <li key={plan.id} className="border-rule flex items-baseline justify-between border-b py-1.5">
              <Link className="link" to={`/plans/${plan.id}/brief`}>
                {plan.name}
              </Link>
              <span className="flex items-baseline gap-4">
                <span className="margin-note">
                  version {plan.version}, changed{" "}
                  {new Date(plan.changed_at).toLocaleString("en-GB", {
                    dateStyle: "medium",
                    timeStyle: "short",
                  })}
                </span>
                <button type="button" className="link" onClick={() => setLeaving(plan)}>
                  Delete<span className="sr-only"> {plan.name}</span>
                </button>
              </span>
            </li>
          ))}
        </ul>
      </Section>
      <Section title="Begin">
        <form
          className="flex items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            if (name.trim()) void openWhen(begin());
            else setTrouble("Write the name of the show first.");
          }}
        >
          <div className="w-80">
            <label htmlFor="show-name" className="text-faint block text-[12px]">
              Name of the show
            </label>
            <input
              id="show-name"
              className="field"
              value={name}
              maxLength={80}
              onChange={(event) => {
                setName(event.target.value);
                request.current = newId();
              }}
            />
          </div>
          <button type="submit" className="button button-main">
            Begin a plan
          </button>
          <span className="text-faint pb-1">or</span>
          <button type="button" className="button" onClick={() => file.current?.click()}>
            Import a plan file
          </button>
          <input
            ref={file}
            type="file"
            accept="application/json,.json"
            className="sr-only"
            aria-label="Plan file"
            tabIndex={-1}
            onChange={(event) => {
              const chosen = event.target.files?.[0];
              event.target.value = "";
              if (chosen) void openWhen(importFile(chosen));
            }}
          />
        </form>
      </Section>
      <Examples onOpen={(made) => void openWhen(made)} />
      {leaving && (
        <Suspense>
          <DeleteDialog
            plan={leaving}
            onClose={(gone) => {
              setLeaving(null);
              if (gone) void refetch();
            }}
          />
        </Suspense>
      )}
    </main>
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
                className="link shrink-0 text-[13px]"
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
