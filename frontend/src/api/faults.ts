import { useQuery } from "@tanstack/react-query";
import { api, type Schemas, taken } from "./client";
import type { Entry } from "./entries";
import { newId } from "./outbox";
import { setupKey } from "./setup";

export type FaultsView = Schemas["FaultsView"];
export type FaultLine = Schemas["FaultLine"];
export type FaultStep = Schemas["FaultStep"];
export type FaultPlace = Schemas["FaultPlace"];
export type Begun = Schemas["FaultBegun"];
export type Answer = Schemas["FaultTried"]["answer"];

/** After five minutes the workaround comes first: an open fault is looked at again, in ms. */
const AGAIN_MS = 60_000;

const ask = async (plan: string, first: boolean) =>
  taken(await api.GET("/api/plans/{id}/faults", { params: { path: { id: plan }, query: { first } } }));

/** What to look at first of each picture, for a phone that does not reach the desk: asked for once a version. */
export function useFirstTests(plan: string, version: number | undefined): readonly FaultPlace[] {
  const { data } = useQuery({
    queryKey: ["first tests", plan, version],
    queryFn: () => ask(plan, true),
    enabled: version !== undefined,
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
    networkMode: "always",
  });
  return data?.places ?? [];
}

/** The faults of the day, as often as something was seen or tried while they are looked at. */
export function useFaults(plan: string, version: number | undefined, looked = true) {
  const { data } = useQuery({
    queryKey: [...setupKey(plan), "faults", version],
    queryFn: () => ask(plan, false),
    enabled: looked && version !== undefined,
    placeholderData: (before) => before,
    refetchInterval: (query) => (query.state.data?.faults.some((fault) => fault.open) ? AGAIN_MS : false),
    networkMode: "always",
  });
  return data;
}

const made = () => ({ id: newId(), role: "", at: new Date().toISOString() });

/** A picture that does not appear as it should. */
export const faultBegun = (body: Begun): Entry => ({ ...made(), kind: "fault", body });

/** What a test showed. A setting that it shows to be wrong is open again in the set-up; a picture that is back ends the fault. */
export function answered(fault: string, step: FaultStep, answer: Answer): Entry[] {
  const tried: Entry = { ...made(), kind: "tried", body: { fault, test: step.id, answer } };
  if (step.mends && answer === "good") return [tried, faultEnded(fault, step.id.replace(/^mend:/, ""))];
  if (answer !== "bad" || !step.contradicts.length) return [tried];
  const body = { device: step.device, steps: [...step.contradicts], picture: false, right: false };
  return [tried, { ...made(), kind: "seen", body }];
}

/** The end of a fault; without a cause where nobody knows what it was. */
export const faultEnded = (fault: string, cause = ""): Entry => ({
  ...made(),
  kind: "mended",
  body: { fault, cause },
});
