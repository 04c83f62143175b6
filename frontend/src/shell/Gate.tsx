import { useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";
import { api, LOCKED, type Problem } from "../api/client";

/** Asks for the code where the server wants one; what was typed behind it stays as it is. */
export function Gate({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const [locked, setLocked] = useState(false);
  const [code, setCode] = useState("");
  const [trouble, setTrouble] = useState("");
  useEffect(() => {
    const lock = () => setLocked(true);
    window.addEventListener(LOCKED, lock);
    return () => window.removeEventListener(LOCKED, lock);
  }, []);
  const enter = async () => {
    try {
      const { error } = await api.POST("/api/enter", { body: { code } });
      setTrouble(error ? (error as Problem).detail : "");
      if (error) return;
      setCode("");
      setLocked(false);
      await client.invalidateQueries();
    } catch {
      setTrouble("The server cannot be reached.");
    }
  };
  return (
    <>
      {locked && (
        <div className="bg-paper fixed inset-0 z-50 flex items-center justify-center p-4">
          <form
            className="border-ink bg-sheet w-[28rem] border-2 p-4"
            onSubmit={(event) => {
              event.preventDefault();
              void enter();
            }}
          >
            <h1 className="mb-2 text-head font-semibold">Humble Relay</h1>
            <label htmlFor="code" className="block">
              Type the code that is shown where Humble Relay was started.
            </label>
            <div className="mt-2 flex gap-3">
              <input
                id="code"
                className="field font-mono"
                ref={(field) => field?.focus()}
                autoComplete="off"
                spellCheck={false}
                value={code}
                onChange={(event) => setCode(event.target.value)}
              />
              <button type="submit" className="button button-main">
                Enter
              </button>
            </div>
            {trouble && (
              <p role="alert" className="text-accent mt-2 font-semibold">
                {trouble}
              </p>
            )}
          </form>
        </div>
      )}
      {children}
    </>
  );
}
