import { useCallback, useEffect, useRef, useState } from "react";
import { api, type Problem, Refused, type Schemas, taken } from "../api/client";
import type { Entry } from "../api/entries";
import { acknowledged, keep, photograph, photographSent, waiting } from "./kept";

const AGAIN_MS = 1500;
const AT_ONCE = 50;

/** A photograph is there before its entry says so. One that the server cannot read is left out, and its entry says what it was of. */
async function sendPhotograph(plan: string, id: string) {
  const data = await photograph(id);
  if (!data) return;
  const { error, response } = await api.POST("/api/plans/{id}/photographs", {
    params: { path: { id: plan } },
    body: { id, data },
  });
  if (error && response.status !== 422) throw new Refused(error as Problem);
  await photographSent(id);
}

export type View = Schemas["WalkView"];
export type Log = ReturnType<typeof useLog>;

export interface Written {
  entry: Entry;
  /** Whether the server has it; why it does not take it, where it does not. */
  sent: boolean;
  why: string;
}

/** The log as this phone writes it: kept here first, then sent until the server has it, each once however often it is sent. */
export function useLog(plan: string, role: string) {
  const [written, setWritten] = useState<readonly Written[]>([]);
  const [reached, setReached] = useState(true);
  const [sentAway, setSentAway] = useState(false);
  const sending = useRef(false);

  const send = useCallback(async () => {
    if (sending.current) return;
    sending.current = true;
    try {
      for (;;) {
        const entries = (await waiting(plan)).slice(0, AT_ONCE);
        if (!entries.length) break;
        for (const entry of entries)
          if (entry.kind === "photograph") await sendPhotograph(plan, entry.body.photo);
        const body = { entries, role, zone: "", clock: new Date().toISOString() };
        const said = taken(
          await api.POST("/api/plans/{id}/entries", { params: { path: { id: plan } }, body }),
        );
        await acknowledged(said.entries.map(({ id }) => id));
        const why = new Map(said.entries.map((each) => [each.id, each.why]));
        setWritten((now) =>
          now.map((one) =>
            why.has(one.entry.id)
              ? { ...one, sent: !why.get(one.entry.id), why: why.get(one.entry.id) ?? "" }
              : one,
          ),
        );
        setReached(true);
      }
    } catch (error) {
      setReached(error instanceof Refused);
      setSentAway(error instanceof Refused && error.problem.status === 401);
    } finally {
      sending.current = false;
    }
  }, [plan, role]);

  useEffect(() => {
    // What a page before this one could not send.
    void waiting(plan).then((entries) => {
      setWritten((now) => [
        ...entries
          .filter((e) => !now.some((one) => one.entry.id === e.id))
          .map((entry) => ({ entry, sent: false, why: "" })),
        ...now,
      ]);
      void send();
    });
    const again = setInterval(() => void send(), AGAIN_MS);
    window.addEventListener("online", send);
    return () => {
      clearInterval(again);
      window.removeEventListener("online", send);
    };
  }, [plan, send]);

  const write = useCallback(
    async (entries: Entry[]) => {
      for (const entry of entries) await keep(plan, entry);
      setWritten((now) => [...now, ...entries.map((entry) => ({ entry, sent: false, why: "" }))]);
      void send();
    },
    [plan, send],
  );
  return { written, reached, sentAway, write };
}
