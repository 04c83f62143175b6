import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Problem, Refused, taken } from "../api/client";
import { Walk } from "./Walk";

/** The crew's page: who has joined walks; who has not types the code, which the camera brings along. */
export default function Crew() {
  const client = useQueryClient();
  const { data: me, error } = useQuery({
    queryKey: ["me"],
    queryFn: async () => taken(await api.GET("/api/me")),
    retry: (count, failed) => !(failed instanceof Refused) && count < 2,
    staleTime: Number.POSITIVE_INFINITY,
    refetchOnWindowFocus: false,
  });
  if (me?.kind === "crew") return <Walk plan={me.plan} role={me.name} />;
  if (!me && !error) return <p className="p-4">Calling the desk.</p>;
  return (
    <Join
      onJoined={() => client.invalidateQueries({ queryKey: ["me"] })}
      engineer={me?.kind === "engineer"}
    />
  );
}

function Join({ onJoined, engineer }: { onJoined: () => void; engineer: boolean }) {
  const [code, setCode] = useState(decodeURIComponent(window.location.hash.slice(1)));
  const [name, setName] = useState("");
  const [trouble, setTrouble] = useState("");
  const join = async () => {
    try {
      const { error } = await api.POST("/api/join", { body: { code, name } });
      setTrouble(error ? (error as Problem).detail : "");
      if (!error) onJoined();
    } catch {
      setTrouble("The desk is not reached. Is this phone on the show's network?");
    }
  };
  return (
    <main className="mx-auto max-w-md p-4">
      <h1 className="mb-4 text-title font-semibold">Join the crew</h1>
      {engineer && (
        <p className="mb-4">This device is an engineer's already: what it writes here is the crew's.</p>
      )}
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault();
          void join();
        }}
      >
        <label className="block">
          <span className="text-faint block">Code of the crew, on the screen at the desk</span>
          <input
            className="field min-h-12 font-mono text-title"
            value={code}
            autoComplete="off"
            autoCapitalize="off"
            spellCheck={false}
            onChange={(event) => setCode(event.target.value)}
          />
        </label>
        <label className="block">
          <span className="text-faint block">Who you are, by role</span>
          <input
            className="field min-h-12 text-title"
            placeholder="camera, Slipway"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <button
          type="submit"
          className="button button-main min-h-14 w-full text-head"
          disabled={!code || !name.trim()}
        >
          Join
        </button>
        {trouble && (
          <p role="alert" className="text-accent font-semibold">
            {trouble}
          </p>
        )}
      </form>
    </main>
  );
}
