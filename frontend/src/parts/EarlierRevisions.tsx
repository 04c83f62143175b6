import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, Refused, taken } from "../api/client";

/** The way back from a plan whose newest revision cannot be read: to one that can. */
export function EarlierRevisions({ id, onBack }: { id: string; onBack: () => void }) {
  const [trouble, setTrouble] = useState("");
  const { data: entries = [] } = useQuery({
    queryKey: ["history", id],
    queryFn: async () => taken(await api.GET("/api/plans/{id}/history", { params: { path: { id } } })),
  });
  const version = entries[0]?.number ?? 0;
  const goTo = async (number: number) => {
    try {
      const header = { "if-match": `"${version}"` };
      taken(await api.POST("/api/plans/{id}/restore/{number}", { params: { path: { id, number }, header } }));
      onBack();
    } catch (error) {
      setTrouble(error instanceof Refused ? error.message : "The server cannot be reached.");
    }
  };
  if (!entries.length) return null;
  return (
    <>
      {trouble && (
        <p role="alert" className="text-accent mt-2 font-semibold">
          {trouble}
        </p>
      )}
      <table className="mt-4">
        <tbody>
          {entries
            .filter((entry) => !entry.current)
            .map((entry) => (
              <tr key={entry.number}>
                <td className="font-mono">{entry.number}</td>
                <td>{entry.what.join("; ")}</td>
                <td className="text-right">
                  <button type="button" className="button" onClick={() => void goTo(entry.number)}>
                    Go to {entry.number}
                  </button>
                </td>
              </tr>
            ))}
        </tbody>
      </table>
    </>
  );
}
