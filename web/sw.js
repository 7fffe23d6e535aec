// The application without the server: what a build holds is kept, so that a bench starts although the server is away.
// What was done there is kept by the pages themselves; nothing of the shop's data passes through here.
const VERSION = '__VERSION__';
const FILES = ['__FILES__'];

self.addEventListener('install', (event) => {
  event.waitUntil(
    caches
      .open(VERSION)
      .then((cache) => cache.addAll(FILES))
      .then(() => self.skipWaiting()),
  );
});

self.addEventListener('activate', (event) => {
  const old = caches.keys().then((names) => names.filter((name) => name !== VERSION));
  event.waitUntil(
    old.then((names) => Promise.all(names.map((name) => caches.delete(name)))).then(() => self.clients.claim()),
  );
});

self.addEventListener('fetch', (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== 'GET' || url.origin !== self.location.origin || url.pathname.startsWith('/api/')) return;
  if (request.mode === 'navigate') {
    // Every screen is the one page; the server's copy of it goes first.
    event.respondWith(fetch(request).catch(() => caches.match('/')));
    return;
  }
  event.respondWith(caches.match(request).then((kept) => kept ?? fetch(request)));
});
