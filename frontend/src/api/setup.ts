import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { api, type Schemas, taken } from "./client";
import type { Entry } from "./entries";
import { useEdits, usePlan } from "./plan";

export type SetupView = Schemas["SetupView"];
export type SetupDevice = Schemas["SetupDevice"];
export type PictureRow = Schemas["PictureRow"];

export const setupKey = (plan: string) => ["setup", plan] as const;

export const askSetup = async (plan: string) =>
  taken(await api.GET("/api/plans/{id}/setup", { params: { path: { id: plan } } }));

const ofTheDay = (plan: string, version: number) => ({
  queryKey: [...setupKey(plan), "day", version],
  queryFn: () => askSetup(plan),
});

/** The set-up of the day; asked for again when the plan changes, and when something was seen. */
export function useSetup(): SetupView | undefined {
  const { standing } = usePlan();
  const { data } = useQuery({
    ...ofTheDay(standing.id, standing.version),
    placeholderData: (before) => before,
  });
  return data;
}

/** Asks for it before the page that draws it is there. */
export function useSetupAhead(): () => void {
  const { standing } = usePlan();
  const client = useQueryClient();
  return useCallback(
    () => void client.prefetchQuery(ofTheDay(standing.id, standing.version)),
    [client, standing.id, standing.version],
  );
}

/** The count of the day is asked for once the hand rests, in ms: it stands in the way of nothing. */
const RESTS_MS = 1500;

/** How much of it was seen today. */
export function useSetupCount(): Schemas["SetupCount"] | undefined {
  const { standing } = usePlan();
  const [version, setVersion] = useState<number | null>(null);
  useEffect(() => {
    const wait = window.setTimeout(() => setVersion(standing.version), RESTS_MS);
    return () => window.clearTimeout(wait);
  }, [standing.version]);
  const { data } = useQuery({
    queryKey: [...setupKey(standing.id), "count", version],
    enabled: version !== null,
    queryFn: async () =>
      taken(await api.GET("/api/plans/{id}/setup/count", { params: { path: { id: standing.id } } })),
    placeholderData: (before) => before,
  });
  return data;
}

/** Writes down what was seen: on the screen at once, as the server says it a moment later. */
export function useTick() {
  const { standing } = usePlan();
  const { write } = useEdits();
  const client = useQueryClient();
  return useCallback(
    async (entries: Entry[]) => {
      const queryKey = [...setupKey(standing.id), "day", standing.version];
      client.setQueryData<SetupView>(queryKey, (view) => view && entries.reduce(ticked, view));
      await write(entries);
    },
    [client, standing.id, standing.version, write],
  );
}

/** The view as it is drawn until the server has said what a tick comes to. */
export function ticked(view: SetupView, entry: Entry): SetupView {
  if (entry.kind !== "seen") return view;
  const { steps, right, picture } = entry.body;
  const these = new Set(steps.map((s) => s.step));
  const state = right === false ? "open" : picture ? "implied" : "seen";
  return {
    ...view,
    devices: view.devices.map((device) => ({
      ...device,
      ask: right === false ? device.ask : device.ask.filter((s) => !these.has(s.step)),
      steps: device.steps.map((step) =>
        these.has(step.id) && step.state === (right === false ? step.state : "open")
          ? { ...step, state }
          : step,
      ),
    })),
    pictures: view.pictures.map((row) =>
      these.has(`picture:${row.id}`)
        ? {
            ...row,
            state: right === false ? ("open" as const) : ("seen" as const),
            segments: row.segments.map((s) => ({ ...s, inked: right !== false })),
          }
        : row,
    ),
  };
}
