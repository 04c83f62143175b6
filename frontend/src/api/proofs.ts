import { useQuery } from "@tanstack/react-query";
import { api, taken } from "./client";
import { usePlan } from "./plan";

/** The whole proof of one aim; asked for once it is opened. */
export function useProof(aim: string) {
  const { standing, stamp } = usePlan();
  const path = { id: standing.id, aim };
  return useQuery({
    queryKey: ["proof", standing.id, stamp, aim],
    queryFn: async () => taken(await api.GET("/api/plans/{id}/proofs/{aim}", { params: { path } })),
    placeholderData: (before) => before,
  });
}

/** The proofs of the plan, a line each, as it stands, and the facts wanted; asked for by the screens that show them. */
export function useProofs() {
  const { standing, stamp } = usePlan();
  return useQuery({
    queryKey: ["proofs", standing.id, stamp],
    queryFn: async () =>
      taken(await api.GET("/api/plans/{id}/proofs", { params: { path: { id: standing.id } } })),
    placeholderData: (before) => before,
  });
}
