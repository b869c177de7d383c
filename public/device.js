/**
 * Holds the page of a device at a checkpoint, so that it opens without a network. Nothing else of
 * Hand Stamp is held.
 */
const store = 'hand-stamp-device-1';

self.addEventListener('install', () => void self.skipWaiting());
self.addEventListener('activate', (event) => {
  event.waitUntil(
    caches
      .keys()
      .then((names) => Promise.all(names.filter((n) => n !== store).map((n) => caches.delete(n))))
      .then(() => self.clients.claim()),
  );
});

/** What the page that is open now is made of. */
self.addEventListener('message', (event) => {
  const { keep } = event.data ?? {};
  if (!Array.isArray(keep)) return;
  event.waitUntil(
    caches
      .open(store)
      .then((cache) =>
        Promise.allSettled(keep.map(async (url) => (await cache.match(url)) ?? cache.add(url))),
      ),
  );
});

const isPart = (path) =>
  path.startsWith('/_next/static/') || path.startsWith('/api/fonts/') || path === '/icon.svg';

self.addEventListener('fetch', (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== 'GET' || url.origin !== self.location.origin) return;
  // the page anew while there is a network, since its parts change with it
  if (request.mode === 'navigate' && url.pathname === '/k') {
    event.respondWith(
      fetch(request)
        .then(async (answer) => {
          if (answer.ok) await (await caches.open(store)).put('/k', answer.clone());
          return answer;
        })
        .catch(async () => (await caches.match('/k')) ?? Response.error()),
    );
    return;
  }
  // parts have names of their own that change with what is in them
  if (isPart(url.pathname))
    event.respondWith(
      caches.match(request).then(
        (held) =>
          held ??
          fetch(request).then(async (answer) => {
            if (answer.ok) await (await caches.open(store)).put(request, answer.clone());
            return answer;
          }),
      ),
    );
});
