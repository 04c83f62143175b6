import { type QueryKey, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";

/** After so long the server gives up by itself, in s. */
const LONGEST_S = 20;

/** That something is being worked out, for how long by now, and a way to let it be. Quick answers never show it. */
export function Waiting({ on, query, onCancel }: { on: string; query?: QueryKey; onCancel?: () => void }) {
  const client = useQueryClient();
  const [since, setSince] = useState(0);
  useEffect(() => {
    const began = performance.now();
    const tick = window.setInterval(() => setSince((performance.now() - began) / 1000), 200);
    return () => window.clearInterval(tick);
  }, []);
  if (since < 0.4) return null;
  const cancel = () => {
    if (query) void client.cancelQueries({ queryKey: query });
    onCancel?.();
  };
  return (
    <p role="status" className="mt-2 flex items-center gap-3">
      <span>
        {on}, {Math.floor(since)} s
      </span>
      <progress aria-label={on} max={LONGEST_S} value={since} className="accent-accent w-40" />
      <button type="button" className="button" onClick={cancel}>
        Cancel
      </button>
    </p>
  );
}
