/// <reference lib="webworker" />
/**
 * Keeps a released app usable without a network: its page and scripts. Records are kept by the app itself.
 * The server fills in the list of files when it serves this worker.
 */
const worker = self as unknown as ServiceWorkerGlobalScope;
const SHELL = '__SHELL__' as unknown as string[];
const scope = new URL(worker.registration.scope).pathname;
const CACHE = `shell-__VERSION__-${scope}`;

worker.addEventListener('install', (e) => {
  e.waitUntil(
    (async () => {
      const cache = await caches.open(CACHE);
      await cache.addAll([scope, ...SHELL]);
      await worker.skipWaiting();
    })(),
  );
});

worker.addEventListener('activate', (e) => {
  e.waitUntil(
    (async () => {
      for (const key of await caches.keys()) if (key.endsWith(scope) && key !== CACHE) await caches.delete(key);
      await worker.clients.claim();
    })(),
  );
});

worker.addEventListener('fetch', (e) => {
  const url = new URL(e.request.url);
  if (e.request.method !== 'GET' || url.origin !== location.origin) return;
  if (url.pathname.startsWith('/assets/')) e.respondWith(kept(e.request));
  else if (url.pathname.startsWith(scope) && !url.pathname.endsWith('/sw.js')) e.respondWith(fresh(e.request));
});

/** A note of the host, as the push service brought it; null for what is none. */
function noteIn(data: PushMessageData | null): { id: string; title: string; words: string } | null {
  try {
    const { id, title, words } = data!.json() as Record<string, unknown>;
    return typeof id === 'string' && typeof title === 'string' && typeof words === 'string'
      ? { id, title, words }
      : null;
  } catch {
    return null;
  }
}

const pages = async (): Promise<readonly WindowClient[]> =>
  (await worker.clients.matchAll({ type: 'window', includeUncontrolled: true })).filter((c) =>
    new URL(c.url).pathname.startsWith(scope),
  );

worker.addEventListener('push', (e) => {
  e.waitUntil(
    (async () => {
      const note = noteIn(e.data);
      // Whoever looks at the app is told there.
      if (!note || (await pages()).some((c) => c.visibilityState === 'visible')) return;
      await worker.registration.showNotification(note.title, { body: note.words, tag: note.id });
    })(),
  );
});

worker.addEventListener('notificationclick', (e) => {
  e.notification.close();
  e.waitUntil(
    (async () => {
      const [page] = await pages();
      await (page ? page.focus() : worker.clients.openWindow(scope));
    })(),
  );
});

/** Built files never change under one name: what is kept is as good as new. */
async function kept(request: Request): Promise<Response> {
  const cache = await caches.open(CACHE);
  const found = await cache.match(request);
  if (found) return found;
  const answer = await fetch(request);
  if (answer.ok) await cache.put(request, answer.clone());
  return answer;
}

/** So long, in milliseconds, a page waits for a server that does not answer before it opens as it was kept. */
const WAIT_MS = 2500;

/** Pages, icons and the manifest: from the server when it answers, otherwise as they were kept. */
async function fresh(request: Request): Promise<Response> {
  const cache = await caches.open(CACHE);
  const key = request.mode === 'navigate' ? scope : request;
  const asked = fetch(request).then(async (answer) => {
    if (answer.ok) await cache.put(key, answer.clone());
    return answer;
  });
  const late = new Promise<null>((resolve) => {
    setTimeout(() => resolve(null), WAIT_MS);
  });
  try {
    return (await Promise.race([asked, late])) ?? (await cache.match(key)) ?? (await asked);
  } catch {
    return (await cache.match(key)) ?? Response.error();
  }
}
