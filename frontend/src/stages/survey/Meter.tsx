import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { api, Refused, type Schemas, taken } from "../../api/client";
import { useEdits, usePlan } from "../../api/plan";
import { shown } from "../../parts/numbers";
import { Section } from "../../parts/Section";
import { Wrong } from "../../parts/Wrong";

type Run = Schemas["MeasurementRun"];

/** Measures now: against a line that is only simulated, a meter of one's own, or iperf3; what comes of it is added. */
export function Meter({ uplink, name }: { uplink: string; name: string }) {
  const { standing } = usePlan();
  const { measure } = useEdits();
  const lines = useQuery({
    queryKey: ["simulated lines"],
    queryFn: async () => taken(await api.GET("/api/meter/lines")),
    staleTime: Number.POSITIVE_INFINITY,
  }).data;
  const [against, setAgainst] = useState("meter");
  const [host, setHost] = useState("");
  const [port, setPort] = useState("");
  const [seconds, setSeconds] = useState("5");
  const [busy, setBusy] = useState("unknown");
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
    const own = against === "meter" || against === "iperf3";
    if (own && !host.trim()) return setWrong("Write the address of the meter, or choose a simulated line.");
    try {
      setRun(
        taken(
          await api.POST("/api/plans/{id}/meter", {
            params: { path: { id: standing.id } },
            body: {
              uplink,
              line: own ? null : against,
              host: own ? host.trim() : "",
              port: Number(port) || (against === "iperf3" ? 5201 : 8118),
              by: against === "iperf3" ? "iperf3" : "meter",
              seconds: Math.min(30, Math.max(1, Number(seconds) || 5)),
            },
          }),
        ),
      );
    } catch (error) {
      fail(error);
    }
  };

  useEffect(() => {
    if (run?.state !== "running") return;
    const path = { run: run.id };
    const look = window.setInterval(() => {
      api
        .GET("/api/meter/{run}", { params: { path } })
        .then((answer) => setRun(taken(answer)))
        .catch(fail);
    }, 300);
    return () => window.clearInterval(look);
  }, [run?.id, run?.state, fail]);

  useEffect(() => {
    if (!run || run.state === "running" || kept.current === run.id) return;
    kept.current = run.id;
    if (run.state === "failed") setWrong(run.wrong);
    if (run.state === "cancelled") setSaid("Cancelled: nothing was measured.");
    const found = run.measurement;
    if (run.state !== "done" || !found) return;
    const row = { ...found, conditions: busy as "empty" | "busy" | "unknown" };
    measure([row], standing.plan.show.zone).then((added) => {
      if (added) setSaid(`${shown(found.up_mbps)} Mb/s up on ${name}, added.`);
    }, fail);
  }, [run, busy, measure, name, standing.plan.show.zone, fail]);

  const running = run?.state === "running";
  const own = against === "meter" || against === "iperf3";
  return (
    <Section
      title="Measure now"
      aside="from this machine: plug it into the socket the encoder will use. A meter of one's own: humble-relay meter, at the far end"
    >
      <div className="flex flex-wrap items-end gap-3">
        <label className="w-80">
          <span className="text-faint block text-[12px]">Against</span>
          <select
            className="field"
            aria-label="Against"
            value={against}
            onChange={(e) => setAgainst(e.target.value)}
          >
            <option value="meter">a meter of one's own, by its address</option>
            <option value="iperf3">an iperf3 server of one's own</option>
            {(lines ?? []).map((line) => (
              <option key={line.id} value={line.id}>
                simulated: {line.name}
              </option>
            ))}
          </select>
        </label>
        {own && (
          <>
            <label className="w-56">
              <span className="text-faint block text-[12px]">Its address</span>
              <input
                className="field font-mono"
                placeholder="meter.example"
                value={host}
                onChange={(e) => setHost(e.target.value)}
              />
            </label>
            <label className="w-24">
              <span className="text-faint block text-[12px]">Port</span>
              <input
                className="field font-mono"
                placeholder={against === "iperf3" ? "5201" : "8118"}
                value={port}
                onChange={(e) => setPort(e.target.value)}
              />
            </label>
          </>
        )}
        <label className="w-28">
          <span className="text-faint block text-[12px]">For, in s</span>
          <input className="field font-mono" value={seconds} onChange={(e) => setSeconds(e.target.value)} />
        </label>
        <label className="w-40">
          <span className="text-faint block text-[12px]">The building is</span>
          <select
            className="field"
            aria-label="The building is"
            value={busy}
            onChange={(e) => setBusy(e.target.value)}
          >
            <option value="unknown">not noted</option>
            <option value="busy">in use</option>
            <option value="empty">empty</option>
          </select>
        </label>
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
