import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { api, Refused, type Schemas, taken } from "../../api/client";
import { measured } from "../../api/entries";
import { useEdits, usePlan } from "../../api/plan";
import { Select, TextInput } from "../../parts/inputs";
import { shown } from "../../parts/numbers";
import { Section } from "../../parts/Section";
import { Wrong } from "../../parts/Wrong";

type Run = Schemas["MeasurementRun"];

const BUILDING = [
  ["unknown", "not noted"],
  ["busy", "in use"],
  ["empty", "empty"],
] as const;

/** What is measured against: a simulated line, or one's own meter or iperf3 server at an address; all as typed. */
interface Asked {
  against: string;
  host: string;
  port: string;
  seconds: string;
}
const USUAL_PORT: Record<string, number> = { meter: 8118, iperf3: 5201 };
const isOwn = (against: string) => against in USUAL_PORT;

/** The request to the server; nothing while an address is missing. */
function requestOf({ against, host, port, seconds }: Asked, uplink: string) {
  const own = isOwn(against);
  if (own && !host.trim()) return null;
  return {
    uplink,
    line: own ? null : against,
    host: own ? host.trim() : "",
    port: Number(port) || (USUAL_PORT[against] ?? 8118),
    by: against === "iperf3" ? ("iperf3" as const) : ("meter" as const),
    seconds: Math.min(30, Math.max(1, Number(seconds) || 5)),
  };
}

/** Looks at a run again and again while it runs. */
function useLook(run: Run | null, set: (run: Run) => void, fail: (error: unknown) => void) {
  const [id, state] = [run?.id, run?.state];
  useEffect(() => {
    if (state !== "running" || !id) return;
    const look = window.setInterval(() => {
      api
        .GET("/api/meter/{run}", { params: { path: { run: id } } })
        .then((answer) => set(taken(answer)))
        .catch(fail);
    }, 300);
    return () => window.clearInterval(look);
  }, [id, state, set, fail]);
}

function Against({ asked, ask }: { asked: Asked; ask: (part: Partial<Asked>) => void }) {
  const lines = useQuery({
    queryKey: ["simulated lines"],
    queryFn: async () => taken(await api.GET("/api/meter/lines")),
    staleTime: Number.POSITIVE_INFINITY,
  }).data;
  return (
    <>
      <Select
        label="Against"
        width="w-80"
        value={asked.against}
        options={[
          ["meter", "a meter of one's own, by its address"],
          ["iperf3", "an iperf3 server of one's own"],
          ...(lines ?? []).map((line) => [line.id, `simulated: ${line.name}`] as const),
        ]}
        choose={(against) => ask({ against })}
      />
      {isOwn(asked.against) && (
        <>
          <TextInput
            label="Its address"
            width="w-56"
            mono
            placeholder="meter.example"
            value={asked.host}
            write={(host) => ask({ host })}
          />
          <TextInput
            label="Port"
            width="w-24"
            mono
            placeholder={String(USUAL_PORT[asked.against])}
            value={asked.port}
            write={(port) => ask({ port })}
          />
        </>
      )}
      <TextInput
        label="For, in s"
        width="w-28"
        mono
        value={asked.seconds}
        write={(seconds) => ask({ seconds })}
      />
    </>
  );
}

/** Measures now: against a line that is only simulated, a meter of one's own, or iperf3; what comes of it is added. */
export function Meter({ uplink, name }: { uplink: string; name: string }) {
  const { standing } = usePlan();
  const { write } = useEdits();
  const [asked, setAsked] = useState<Asked>({ against: "meter", host: "", port: "", seconds: "5" });
  const [busy, setBusy] = useState<(typeof BUILDING)[number][0]>("unknown");
  const [run, setRun] = useState<Run | null>(null);
  const [said, setSaid] = useState("");
  const [wrong, setWrong] = useState<string | null>(null);
  const kept = useRef<string | null>(null);
  const fail = useCallback((error: unknown) => {
    setWrong(
      error instanceof Refused ? error.message : "The server cannot be reached: nothing was measured.",
    );
  }, []);

  const begin = async () => {
    setWrong(null);
    setSaid("");
    const body = requestOf(asked, uplink);
    if (!body) return setWrong("Write the address of the meter, or choose a simulated line.");
    try {
      const path = { id: standing.id };
      setRun(taken(await api.POST("/api/plans/{id}/meter", { params: { path }, body })));
    } catch (error) {
      fail(error);
    }
  };

  useLook(run, setRun, fail);
  useEffect(() => {
    if (!run || run.state === "running" || kept.current === run.id) return;
    kept.current = run.id;
    if (run.state === "failed") setWrong(run.wrong);
    if (run.state === "cancelled") setSaid("Cancelled: nothing was measured.");
    const found = run.measurement;
    if (run.state !== "done" || !found) return;
    const row = { ...found, conditions: busy };
    write([measured(row)], standing.plan.show.zone).then((added) => {
      if (added) setSaid(`${shown(found.up_mbps)} Mb/s up on ${name}, added.`);
    }, fail);
  }, [run, busy, write, name, standing.plan.show.zone, fail]);

  const running = run?.state === "running";
  return (
    <Section
      title="Measure now"
      aside="from this machine: plug it into the socket the encoder will use. A meter of one's own: humble-relay meter, at the far end"
    >
      <div className="flex flex-wrap items-end gap-3">
        <Against asked={asked} ask={(part) => setAsked((now) => ({ ...now, ...part }))} />
        <Select
          label="The building is"
          width="w-40"
          value={busy}
          options={BUILDING}
          choose={(is) => is && setBusy(is)}
        />
        {running ? (
          <button
            type="button"
            className="button"
            onClick={() =>
              void api.DELETE("/api/meter/{run}", { params: { path: { run: run.id } } }).catch(fail)
            }
          >
            Cancel
          </button>
        ) : (
          <button type="button" className="button" onClick={() => void begin()}>
            Measure {name}
          </button>
        )}
      </div>
      {running && (
        <p role="status" className="mt-2 flex items-center gap-3">
          <progress
            aria-label={`Measuring ${name}`}
            max={1}
            value={run.passed}
            className="accent-accent w-56"
          />
          <span className="font-mono">{run.passed ? `${shown(run.mbps)} Mb/s` : "probing"}</span>
        </p>
      )}
      {said && (
        <p role="status" className="mt-2">
          {said}
        </p>
      )}
      {wrong && <Wrong>{wrong}</Wrong>}
    </Section>
  );
}
