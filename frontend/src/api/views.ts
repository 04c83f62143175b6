import { replaceEqualDeep, type SkipToken, skipToken, useQueries, useQuery } from "@tanstack/react-query";
import { api, type Schemas, taken } from "./client";
import { usePlan, useTrial } from "./plan";

type Views = Omit<Schemas["StageView"], "unanswered">;

const latest = new Map<string, Schemas["StageView"]>();

/** What stays the same over a change stays the same object: who draws it is not drawn again. Compared once a view. */
function likeBefore(of: string, view: Schemas["StageView"]): Schemas["StageView"] {
  const shared = replaceEqualDeep(latest.get(of), view);
  latest.set(of, shared);
  return shared;
}

const DRAWN: readonly (keyof Views)[] = [
  "brief",
  "survey",
  "gear",
  "signal",
  "signal_links",
  "addresses",
  "addresses_calls",
  "addresses_typed",
  "addresses_giving",
  "bandwidth",
  "bandwidth_bitrates",
  "bandwidth_comparisons",
];

/** Why a stage cannot draw one of its views, in words; nothing where it can. */
export function useUnanswered(stage: string): string {
  const { standing, stamp } = usePlan();
  const { trying } = useTrial();
  return useQueries({
    queries: DRAWN.filter((drawn) => drawn.split("_")[0] === stage).map((drawn) => ({
      queryKey: ["view", standing.id, drawn, stamp, trying],
      queryFn: skipToken as SkipToken,
    })),
    combine: (found) => {
      const why = found.map(({ data }) => (data as Schemas["StageView"] | undefined)?.unanswered);
      const first = why.find((each) => each);
      return first ? `${first.wrong}. ${first.do}` : "";
    },
  });
}

/** What a stage draws: of the plan as it stands, or as it would be after the edits that are being looked at. What is
 * asked from, and not only looked at, is `of` the plan as it stands. */
export function useView<S extends keyof Views>(
  drawn: S,
  of: "plan" | "trial" = "trial",
): NonNullable<Views[S]> | null {
  const { standing, stamp } = usePlan();
  const { trying: looked } = useTrial();
  const trying = of === "trial" ? looked : null;
  const path = { id: standing.id, drawn };
  const { data } = useQuery({
    queryKey: ["view", standing.id, drawn, stamp, trying],
    queryFn: async ({ signal }) =>
      likeBefore(
        `${standing.id}/${drawn}`,
        taken(
          trying
            ? await api.POST("/api/plans/{id}/views/{drawn}", {
                params: { path },
                body: { edits: trying },
                signal,
              })
            : await api.GET("/api/plans/{id}/views/{drawn}", { params: { path }, signal }),
        ),
      ),
    structuralSharing: false,
    select: (view) => view[drawn] ?? null,
    placeholderData: (before) => before,
    gcTime: 60_000,
  });
  return data ?? null;
}
