import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, type Problem, Refused, type Schemas, taken } from "../api/client";
import { Walk } from "./Walk";

/** The crew's page: who has joined walks; who has not types the code, which the camera brings along. */
export default function Crew() {
  useEffect(keepReloadable, []);
  const { data: me, error } = useQuery({
    queryKey: ["me"],
    queryFn: async () => taken(await api.GET("/api/me")),
    retry: (count, failed) => !(failed instanceof Refused) && count < 2,
    staleTime: Number.POSITIVE_INFINITY,
    refetchOnWindowFocus: false,
  });
  const [joined, setJoined] = useState<Schemas["Access"] | null>(null);
  const who = joined ?? (me?.kind === "crew" ? me : null);
  if (who) return <Walk plan={who.plan} role={who.name} />;
  if (!me && !error) return <p className="p-4">Calling the desk.</p>;
  return <Join onJoined={setJoined} engineer={me?.kind === "engineer"} />;
}
/** Where the page is served securely, it can be reloaded without the server, and installed; elsewhere it has to stay open. */
function keepReloadable() {
  if (window.isSecureContext && "serviceWorker" in navigator)
    void navigator.serviceWorker.register("/sw.js", { scope: "/crew" }).catch(() => {});
}

function Join(props: { onJoined: (who: Schemas["Access"]) => void; engineer: boolean }) {
  const { onJoined, engineer } = props;
  const [code, setCode] = useState(decodeURIComponent(window.location.hash.slice(1)));
  const [name, setName] = useState("");
  const [trouble, setTrouble] = useState("");
  const join = async () => {
    try {
      const { data, error } = await api.POST("/api/join", { body: { code, name } });
      setTrouble(error ? (error as Problem).detail : "");
      if (data) onJoined(data);
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
