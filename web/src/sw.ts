/// <reference lib="webworker" />
// The service worker: keeps the application itself in the browser, so that a page at the mat
// can be loaded again while the server is away. Records are none of its business.

const scope = self as unknown as ServiceWorkerGlobalScope;
const SHELL = "shell";
const INDEX = "/index.html";
const MANIFEST = "/manifest-of-files.json";

interface Built {
  file: string;
  css?: string[];
  assets?: string[];
}

/** Fetches every file of the application that is not there yet, and forgets those of others. */
async function fill() {
  const cache = await caches.open(SHELL);
  const answer = await fetch(MANIFEST, { cache: "no-cache" });
  const built: Record<string, Built> = await answer.json();
  const files = Object.values(built).flatMap(({ file, css = [], assets = [] }) => [
    file,
    ...css,
    ...assets,
  ]);
  const wanted = new Set(files.map((file) => new URL(`/${file}`, location.origin).href));
  const there = new Set((await cache.keys()).map(({ url }) => url));
  await cache.add(new Request(INDEX, { cache: "no-cache" }));
  await Promise.all([...wanted].filter((url) => !there.has(url)).map((url) => cache.add(url)));
  const kept = wanted.add(new URL(INDEX, location.origin).href);
  await Promise.all([...there].filter((url) => !kept.has(url)).map((url) => cache.delete(url)));
}

/** Keeps the application as it is now, when it is another than the one that is kept. */
async function renew(now: Response) {
  const before = await caches.match(INDEX);
  if ((await before?.text()) !== (await now.text())) await fill();
}

/** A page: from the server, or as it was kept while nobody answers. */
async function page(event: FetchEvent): Promise<Response> {
  try {
    const answer = await fetch(event.request);
    // A proxy that stands for a server which is away says so.
    if (answer.status < 500) {
      const isPage = answer.headers.get("content-type")?.startsWith("text/html");
      if (answer.ok && isPage) event.waitUntil(renew(answer.clone()));
      return answer;
    }
  } catch {}
  return (await caches.match(INDEX)) ?? Response.error();
}

/** A file whose name tells its content. */
async function file(request: Request): Promise<Response> {
  const kept = await caches.match(request);
  if (kept) return kept;
  const answer = await fetch(request);
  if (answer.ok) await (await caches.open(SHELL)).put(request, answer.clone());
  return answer;
}

scope.addEventListener("install", (event) => {
  event.waitUntil(fill().then(() => scope.skipWaiting()));
});
scope.addEventListener("activate", (event) => event.waitUntil(scope.clients.claim()));
scope.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== location.origin) return;
  if (request.mode === "navigate" && !url.pathname.startsWith("/api/")) {
    event.respondWith(page(event));
  } else if (url.pathname.startsWith("/assets/")) event.respondWith(file(request));
});
