import { replaceEqualDeep, skipToken, useQuery } from "@tanstack/react-query";
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

/** Why a stage cannot draw its view, in words; nothing where it can. */
export function useUnanswered(stage: string): string {
  const { standing, stamp } = usePlan();
  const { trying } = useTrial();
  const { data } = useQuery<Schemas["StageView"]>({
    queryKey: ["view", standing.id, stage, stamp, trying],
    queryFn: skipToken,
  });
  return data?.unanswered ? `${data.unanswered.wrong}. ${data.unanswered.do}` : "";
}

/** What a stage draws: of the plan as it stands, or as it would be after the edits that are being looked at. What is
 * asked from, and not only looked at, is `of` the plan as it stands. */
export function useView<S extends keyof Views>(
  stage: S,
  of: "plan" | "trial" = "trial",
): NonNullable<Views[S]> | null {
  const { standing, stamp } = usePlan();
  const { trying: looked } = useTrial();
  const trying = of === "trial" ? looked : null;
  const path = { id: standing.id, stage };
  const { data } = useQuery({
    queryKey: ["view", standing.id, stage, stamp, trying],
    queryFn: async ({ signal }) =>
      likeBefore(
        `${standing.id}/${stage}`,
        taken(
          trying
            ? await api.POST("/api/plans/{id}/views/{stage}", {
                params: { path },
                body: { edits: trying },
                signal,
              })
            : await api.GET("/api/plans/{id}/views/{stage}", { params: { path }, signal }),
        ),
      ),
    structuralSharing: false,
    select: (view) => view[stage] ?? null,
    placeholderData: (before) => before,
    gcTime: 60_000,
  });
  return data ?? null;
}
