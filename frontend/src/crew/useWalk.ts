import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, Refused, taken } from "../api/client";
import { type Entry, OF_THE_DAY } from "../api/entries";
import { listen } from "../api/events";
import { askSetup, setupKey, ticked } from "../api/setup";
import { factKey, keyOf } from "./ToFindOut";
import type { View, Written } from "./useLog";

/** Much happens at once: a plan that has changed is asked for again a moment after. */
const TOGETHER_MS = 250;
/** What was sent in one message is told entry by entry. */
const SENT_TOGETHER_MS = 30;

/** The walk as the server has it. What others find and tick is struck off as it is told: no phone has the plan judged for that. */
export function useWalk(plan: string) {
  const client = useQueryClient();
  const next = useRef<ReturnType<typeof setTimeout>>(undefined);
  const day = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => {
    const queryKey = ["walk", plan];
    const ask = () => {
      clearTimeout(next.current);
      next.current = setTimeout(() => client.invalidateQueries({ queryKey }), TOGETHER_MS);
    };
    const stop = listen(plan, (news) => {
      if ("version" in news) ask();
      if (!("entry" in news)) return;
      client.setQueryData<View>(queryKey, (view) => view && struckOff(view, news.entry));
      if (!OF_THE_DAY.has(news.entry.kind)) return;
      clearTimeout(day.current);
      day.current = setTimeout(
        () => client.invalidateQueries({ queryKey: setupKey(plan) }),
        SENT_TOGETHER_MS,
      );
    });
    return () => {
      clearTimeout(next.current);
      clearTimeout(day.current);
      stop();
    };
  }, [plan, client]);
  return useQuery({
    queryKey: ["walk", plan],
    queryFn: async () => taken(await api.GET("/api/plans/{id}/walk", { params: { path: { id: plan } } })),
    placeholderData: (before) => before,
    retry: (_, failed) => !(failed instanceof Refused && failed.problem.status === 401),
    networkMode: "always",
  });
}

/** The set-up of the day as the crew reads it, with what was ticked on this phone and is not sent yet. */
export function useDay(plan: string, version: number | undefined, written: readonly Written[]) {
  const { data } = useQuery({
    queryKey: [...setupKey(plan), version],
    queryFn: () => askSetup(plan),
    enabled: version !== undefined,
    placeholderData: (before) => before,
    networkMode: "always",
  });
  const here = written.filter((one) => one.entry.kind === "seen" && !one.why && !one.sent);
  return data && here.reduce((view, one) => ticked(view, one.entry), data);
}

/** The papers as the crew reads them: asked for before they are opened, so that they are here without the server too. */
export function useWalkPapers(plan: string, version: number | undefined) {
  const { data } = useQuery({
    queryKey: ["walk papers", plan, version],
    queryFn: async () =>
      taken(await api.GET("/api/plans/{id}/walk/papers", { params: { path: { id: plan } } })),
    enabled: version !== undefined,
    placeholderData: (before) => before,
    networkMode: "always",
    staleTime: Number.POSITIVE_INFINITY,
  });
  return data ?? [];
}

/** The walk without the question that was answered, or with the task ticked as it was. */
function struckOff(view: View, entry: Entry): View {
  if (entry.kind === "task") {
    const { task, done } = entry.body;
    return {
      ...view,
      tasks: view.tasks.map((each) => (each.id === task ? { ...each, done: done ?? true } : each)),
    };
  }
  if (entry.kind !== "fact") return view;
  const key = factKey(entry.body);
  const places = view.places.map((place) => ({
    ...place,
    facts: place.facts.filter((fact) => keyOf(fact) !== key),
  }));
  return { ...view, places };
}
