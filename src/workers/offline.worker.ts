/**
 * The service worker: keeps a copy of the app in the browser, so that it opens without a network. Pages come from the
 * network wherever there is one, and so do the files that have the same name in every build.
 */

/** What the server puts in front of this script. */
declare const OFFLINE: { readonly build: string; readonly files: readonly string[] };

interface LifeEvent extends Event {
  waitUntil(work: Promise<unknown>): void;
}
interface RequestEvent extends LifeEvent {
  readonly request: Request;
  respondWith(response: Promise<Response>): void;
}
interface WorkerScope {
  readonly clients: { claim(): Promise<void> };
  addEventListener(type: "install" | "activate", listener: (event: LifeEvent) => void): void;
  addEventListener(type: "fetch", listener: (event: RequestEvent) => void): void;
}

const scope = self as unknown as WorkerScope;
const CACHE = `echo-pocket-${OFFLINE.build}`;
const SHELF = "/";
/** One workspace serves all beats: the page reads from its address which one is meant. */
const WORKSPACE = "/beat/any";
const NAMED_BY_CONTENT = "/_next/static/";

scope.addEventListener("install", (event) => event.waitUntil(keepAll()));
scope.addEventListener("activate", (event) => event.waitUntil(forgetOthers().then(() => scope.clients.claim())));
scope.addEventListener("fetch", (event) => {
  const { request } = event;
  const { origin, pathname } = new URL(request.url);
  if (request.method !== "GET" || origin !== location.origin) return;
  if (request.mode === "navigate")
    event.respondWith(networkFirst(request, pathname.startsWith("/beat/") ? WORKSPACE : pathname));
  else if (OFFLINE.files.includes(decodeURI(pathname)))
    event.respondWith(
      pathname.startsWith(NAMED_BY_CONTENT) ? keptFirst(request, pathname) : networkFirst(request, pathname),
    );
});

async function keepAll(): Promise<void> {
  const cache = await caches.open(CACHE);
  await cache.addAll([SHELF, WORKSPACE, ...OFFLINE.files.map(encodeURI)]);
}

async function forgetOthers(): Promise<void> {
  const names = await caches.keys();
  await Promise.all(names.filter((name) => name !== CACHE).map((name) => caches.delete(name)));
}

/** For what has the same name in every build: page and audio thread must be of one. */
async function networkFirst(request: Request, keptAs: string): Promise<Response> {
  try {
    return await fetch(request);
  } catch (error) {
    const kept = await keptFile(keptAs);
    if (!kept) throw error;
    return kept;
  }
}

async function keptFirst(request: Request, keptAs: string): Promise<Response> {
  return (await keptFile(keptAs)) ?? fetch(request);
}

function keptFile(keptAs: string): Promise<Response | undefined> {
  return caches.match(keptAs, { cacheName: CACHE });
}
