/**
 * Shows a splash of the house's own where a watch page cannot be reached (W3C Service Workers). The page put it there
 * (`src/public/offline-splash`); nothing else is kept, and nothing that is played comes by here.
 */
const SPLASHES = 'heliphon-splashes';

self.addEventListener('install', () => void self.skipWaiting());
self.addEventListener('activate', (event) => {
  // The page is asked for while the worker wakes up: nobody waits longer for having one.
  event.waitUntil(Promise.all([self.clients.claim(), self.registration.navigationPreload?.enable()]));
});
self.addEventListener('fetch', (event) => {
  if (event.request.mode === 'navigate') event.respondWith(answer(event));
});

async function answer(event) {
  try {
    return (await event.preloadResponse) ?? (await fetch(event.request));
  } catch (error) {
    const splash = await caches.match(new URL(event.request.url).pathname, { cacheName: SPLASHES });
    if (splash) return splash;
    throw error;
  }
}
