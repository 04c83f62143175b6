import { useState } from "react";
import { api, taken } from "../api/client";
import { usePlan } from "../api/plan";

/** What the server puts in a secret's place. */
const MARK = /•([0-9a-f]{8})•/g;

/** Says that parts of a text are hidden, and shows them when asked. */
export function HiddenParts({ text, of }: { text: string | undefined; of: string }) {
  const { standing } = usePlan();
  const [shown, setShown] = useState<string[] | null>(null);
  const marks = [...new Set(Array.from((text ?? "").matchAll(MARK), (found) => found[1] ?? ""))];
  if (!marks.length) return null;
  const reveal = async () => {
    if (shown) return setShown(null);
    setShown(
      await Promise.all(
        marks.map(async (mark) => {
          const path = { id: standing.id, mark };
          return taken(await api.GET("/api/plans/{id}/hidden/{mark}", { params: { path } })).text;
        }),
      ),
    );
  };
  return (
    <p className="margin-note mt-1">
      {marks.length === 1 ? "A part" : `${marks.length} parts`} of this may be a secret and{" "}
      {marks.length === 1 ? "is" : "are"} hidden.{" "}
      <button type="button" className="link" onClick={() => void reveal()}>
        {shown ? "Hide" : "Show"}
        <span className="sr-only"> what is hidden in {of}</span>
      </button>
      {shown && <span className="block font-mono break-all">{shown.join(" · ")}</span>}
    </p>
  );
}
