/** What the tabs of one browser tell each other: which plan came to which version. */

interface News {
  id: string;
  version: number;
}

const channel = typeof BroadcastChannel === "undefined" ? null : new BroadcastChannel("humble-relay");

/** Tells the other tabs. */
export const tellTabs = (news: News) => channel?.postMessage(news);

/** Calls when another tab changed a plan; gives back what ends it. */
export function whenChanged(hear: (news: News) => void): () => void {
  const listen = (event: MessageEvent<News>) => hear(event.data);
  channel?.addEventListener("message", listen);
  return () => channel?.removeEventListener("message", listen);
}
