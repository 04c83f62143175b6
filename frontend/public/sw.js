// The crew's page in a secure context: what was read last is there when the server is not. Elsewhere there is no such worker, and the
// page has to stay open.
const KEPT = "humble-relay-crew-1";
const PAGE = "/crew";

self.addEventListener("install", (event) => {
  self.skipWaiting();
  event.waitUntil(caches.open(KEPT).then((kept) => kept.add(PAGE)));
});

self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

/** What is read, and not what is told as it happens. */
const isRead = (path) => path === "/api/me" || /^\/api\/plans\/[^/]+\/walk$/.test(path);

async function newest(request, as) {
  const kept = await caches.open(KEPT);
  try {
    const answer = await fetch(request);
    // Who is out of the crew is told so, and reads nothing more.
    if (answer.ok) await kept.put(as, answer.clone());
    else await kept.delete(as);
    return answer;
  } catch (lost) {
    const before = await kept.match(as);
    if (before) return before;
    throw lost;
  }
}

async function once(request) {
  const kept = await caches.open(KEPT);
  const before = await kept.match(request);
  if (before) return before;
  const answer = await fetch(request);
  if (answer.ok) await kept.put(request, answer.clone());
  return answer;
}

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const { origin, pathname } = new URL(request.url);
  if (request.method !== "GET" || origin !== self.location.origin) return;
  if (request.mode === "navigate" && pathname === PAGE) event.respondWith(newest(request, PAGE));
  else if (pathname.startsWith("/assets/")) event.respondWith(once(request));
  else if (isRead(pathname)) event.respondWith(newest(request, pathname));
});
