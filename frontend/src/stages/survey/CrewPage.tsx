import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Schemas, taken } from "../../api/client";
import { usePlan } from "../../api/plan";
import { wall } from "../../parts/numbers";
import { FirstThing, Section } from "../../parts/Section";

type Crew = Schemas["CrewOfPlan"];

/** The crew's phones: the code that lets them in, as letters and for the camera; who is in, and out again. */
export function CrewPage() {
  const { id } = usePlan().standing;
  const client = useQueryClient();
  const path = { id };
  const { data: crew } = useQuery({
    queryKey: ["crew", id],
    queryFn: async () => taken(await api.GET("/api/plans/{id}/crew", { params: { path } })),
    refetchInterval: 5000,
  });
  const told = (now: Crew) => client.setQueryData(["crew", id], now);
  if (!crew) return null;
  return (
    <>
      <Section
        title="Let phones in"
        aside="the crew reads this plan and writes into its log, and does nothing else"
      >
        {crew.at.length > 0 ? (
          <div className="flex flex-wrap gap-8">
            {crew.at.map((at) => (
              <figure key={at.url}>
                <Modules rows={at.code} />
                <figcaption className="mt-1 max-w-72">
                  <span className="font-mono text-small whitespace-nowrap">{at.url.split("#")[0]}</span>
                  <span className="text-faint block text-small">{at.says}</span>
                </figcaption>
              </figure>
            ))}
            <div>
              <p className="text-faint">Code of the crew</p>
              <p className="font-mono text-figure">{crew.code}</p>
              <button
                type="button"
                className="link"
                onClick={async () =>
                  told(taken(await api.POST("/api/plans/{id}/crew/code", { params: { path } })))
                }
              >
                Make another code
              </button>
              <p className="margin-note mt-3 max-w-96">{crew.how}</p>
            </div>
          </div>
        ) : (
          <FirstThing>{crew.how}</FirstThing>
        )}
      </Section>
      <Section title="Phones of the crew">
        {crew.members.length ? (
          <table className="w-full">
            <thead>
              <tr>
                <th>Who</th>
                <th>Joined</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {crew.members.map((member) => (
                <tr key={member.id} className={member.revoked ? "text-faint" : ""}>
                  <td>{member.name}</td>
                  <td className="whitespace-nowrap">
                    {wall(member.joined_at).day}, {wall(member.joined_at).time}
                  </td>
                  <td>
                    {member.revoked ? (
                      "sent away"
                    ) : (
                      <button
                        type="button"
                        className="link"
                        onClick={async () =>
                          told(
                            taken(
                              await api.DELETE("/api/plans/{id}/crew/{member}", {
                                params: { path: { id, member: member.id } },
                              }),
                            ),
                          )
                        }
                      >
                        Send away<span className="sr-only"> {member.name}</span>
                      </button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        ) : (
          <FirstThing>No phone has joined yet.</FirstThing>
        )}
      </Section>
    </>
  );
}

/** A code for a camera: dark modules on light, in either theme, with its quiet zone. */
function Modules({ rows }: { rows: readonly string[] }) {
  const dark = rows.flatMap((row, y) =>
    [...row].flatMap((bit, x) => (bit === "1" ? [`M${x} ${y}h1v1h-1z`] : [])),
  );
  return (
    <svg
      viewBox={`0 0 ${rows.length} ${rows.length}`}
      className="h-56 w-56 bg-white"
      role="img"
      aria-label="Code for a phone's camera"
      shapeRendering="crispEdges"
    >
      <path d={dark.join("")} fill="#000" />
    </svg>
  );
}
