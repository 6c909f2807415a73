// Keeps the cards that were opened, so that they open again without signal.
"use strict";

const SHELF = "gale-nook-cards-2";
const ASSETS = [
  "/static/card.css",
  "/static/card.js",
  "/static/work-cards.css",
  "/static/work-cards.js",
  "/static/log-nights.js",
  "/static/drawing.css",
];
const ours = (url) =>
  /^\/jobs\/\d+\/(spot\/card|build\/phone|log\/phone)$/.test(url.pathname) ||
  ASSETS.includes(url.pathname);

self.addEventListener("install", (event) =>
  event.waitUntil(
    caches
      .open(SHELF)
      .then((shelf) => shelf.addAll(ASSETS))
      .then(() => self.skipWaiting()),
  ),
);
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));
self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (event.request.method !== "GET" || url.origin !== location.origin || !ours(url)) return;
  event.respondWith(
    (async () => {
      const shelf = await caches.open(SHELF);
      try {
        const fresh = await fetch(event.request);
        if (fresh.ok) await shelf.put(event.request, fresh.clone());
        return fresh;
      } catch {
        return (await shelf.match(event.request)) ?? Response.error();
      }
    })(),
  );
});
