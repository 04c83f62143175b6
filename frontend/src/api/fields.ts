import { useQuery } from "@tanstack/react-query";
import { api, taken } from "./client";
import type { PickedNoun } from "./pick";
import { usePlan } from "./plan";

/** Every field of a thing, read once they are wanted, and again after each change. */
export function useFields(noun: PickedNoun, id: string, wanted: boolean) {
  const { standing, stamp } = usePlan();
  const { data } = useQuery({
    queryKey: ["fields", standing.id, noun, id, stamp],
    enabled: wanted,
    queryFn: async ({ signal }) =>
      taken(
        await api.GET("/api/plans/{id}/things/{noun}/{thing}/fields", {
          params: { path: { id: standing.id, noun, thing: id } },
          signal,
        }),
      ),
    placeholderData: (before) => before,
  });
  return data;
}
