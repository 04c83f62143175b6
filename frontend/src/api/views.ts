import {
  replaceEqualDeep,
  type SkipToken,
  skipToken,
  useQueries,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { useCallback } from "react";
import { api, type Edit, type Schemas, taken } from "./client";
import { usePlan, useTrial } from "./plan";

export type Views = Omit<Schemas["StageView"], "unanswered">;

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

/** How a view is asked for, of the plan as it stands or as it would be after some edits, and what it is kept by. */
function asked(drawn: keyof Views, id: string, stamp: number, trying: Edit[] | null) {
  const path = { id, drawn };
  return {
    queryKey: ["view", id, drawn, stamp, trying],
    queryFn: async ({ signal }: { signal: AbortSignal }) =>
      likeBefore(
        `${id}/${drawn}`,
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
    gcTime: 60_000,
  };
}

/** What a stage draws: of the plan as it stands, or as it would be after the edits that are being looked at. What is
 * asked from, and not only looked at, is `of` the plan as it stands. */
export function useView<S extends keyof Views>(
  drawn: S,
  of: "plan" | "trial" = "trial",
): NonNullable<Views[S]> | null {
  const { standing, stamp } = usePlan();
  const { trying } = useTrial();
  const { data } = useQuery({
    ...asked(drawn, standing.id, stamp, of === "trial" ? trying : null),
    select: (view) => view[drawn] ?? null,
    placeholderData: (before) => before,
  });
  return data ?? null;
}

/** Asks for views before the page that draws them is there, so that the server works while it is being made. */
export function useAhead(): (drawn: readonly (keyof Views)[]) => void {
  const { standing, stamp } = usePlan();
  const { trying } = useTrial();
  const client = useQueryClient();
  return useCallback(
    (drawn) => {
      for (const each of drawn) void client.prefetchQuery(asked(each, standing.id, stamp, trying));
    },
    [client, standing.id, stamp, trying],
  );
}
