import { useQuery } from "@tanstack/react-query";
import { api, taken } from "./client";
import { usePlan } from "./plan";

/** The proofs of the plan as it stands, and the facts wanted; asked for by the screens that show them. */
export function useProofs() {
  const { standing, stamp } = usePlan();
  return useQuery({
    queryKey: ["proofs", standing.id, stamp],
    queryFn: async () =>
      taken(await api.GET("/api/plans/{id}/proofs", { params: { path: { id: standing.id } } })),
    placeholderData: (before) => before,
  });
}
