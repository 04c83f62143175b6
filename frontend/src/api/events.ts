import type { Entry } from "./entries";

/** What happened to a plan, told by the server as it happens. */
export type News = { entry: Entry } | { version: number } | { desk: string; pick: string } | { gone: true };

const LEASE_MS = 4000;
const LOOKS_MS = 1500;

/** Tells what happens to a plan. One connection serves all tabs of a browser: the tab that holds the lease listens, and passes it
 * on to the others. No lock of the browser's is used for it: there are none where a page is not served securely. */
export function listen(plan: string, tell: (news: News) => void): () => void {
  const tab = Math.random().toString(36).slice(2);
  const lease = `humble-relay:listens:${plan}`;
  const others = new BroadcastChannel(`humble-relay:events:${plan}`);
  let source: EventSource | null = null;
  others.onmessage = ({ data }: MessageEvent<News>) => tell(data);
  const heard = (news: News) => {
    tell(news);
    others.postMessage(news);
  };
  const connect = () => {
    source = new EventSource(`/api/plans/${plan}/events`);
    source.addEventListener("entry", ({ data }) => heard({ entry: JSON.parse(data) as Entry }));
    source.addEventListener("version", ({ data }) => heard({ version: Number(data) }));
    source.addEventListener("pick", ({ data }) => heard(JSON.parse(data) as { desk: string; pick: string }));
    source.addEventListener("gone", () => {
      source?.close();
      heard({ gone: true });
    });
  };
  const look = () => {
    const [holder, until] = (localStorage.getItem(lease) ?? "").split(" ");
    const free = !holder || holder === tab || Number(until) < Date.now();
    if (free) {
      localStorage.setItem(lease, `${tab} ${Date.now() + LEASE_MS}`);
      if (!source || source.readyState === EventSource.CLOSED) connect();
    } else if (source) {
      source.close();
      source = null;
    }
  };
  const leave = () => {
    source?.close();
    source = null;
    if (localStorage.getItem(lease)?.startsWith(`${tab} `)) localStorage.removeItem(lease);
  };
  look();
  const looking = setInterval(look, LOOKS_MS);
  window.addEventListener("pagehide", leave);
  return () => {
    clearInterval(looking);
    window.removeEventListener("pagehide", leave);
    leave();
    others.close();
  };
}
