/* Beside the pages: without a network it shows the last seen Today, passports and times, which say that they are old.
   It answers for whole pages and their styles alone; what a page sends or asks by itself goes past it. */
"use strict";
const PAGES = "pages", PARTS = "parts";
/* Today, a screen's passport, the chart, the wall's sheet, the rack, and the pages that record what a device may keep. */
const KEPT = [
  /^\/$/, /^\/screens\/[A-Za-z0-9-]+\/$/, /^\/expose\/chart\/(print\/)?$/, /^\/screens\/rack\/$/,
  /^\/screens\/[A-Za-z0-9-]+\/(tension|place|do\/\w+)\/$/, /^\/coat\/[A-Za-z]+-?[0-9][A-Za-z0-9-]*\/$/,
  /^\/stencil\/[A-Za-z0-9-]+\/(wash|inspect)\/$/, /^\/press\/[A-Za-z0-9-]+\/(out|back)\/$/,
];
const FRESH_MS = 600000;
const MOST_PAGES = 120;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

/* Whoever signs out takes the pages along. */
self.addEventListener("message", (event) => {
  if (event.data === "forget") event.waitUntil(caches.delete(PAGES));
  else if (event.data.ahead) event.waitUntil(Promise.all(event.data.ahead.map(fetchAhead)));
});

/* What can be done to a screen that somebody looks at is there before the network goes. */
async function fetchAhead(path) {
  const kept = await (await caches.open(PAGES)).match(path);
  if (kept && Date.now() - Date.parse(kept.headers.get("X-Kept-At")) < FRESH_MS) return;
  try { await take(path, await fetch(path)); } catch { /* No network: what is there is there. */ }
}

async function take(path, answer) {
  if (!answer.ok || answer.redirected || !KEPT.some((known) => known.test(path))) return;
  const headers = new Headers(answer.headers);
  headers.set("X-Kept-At", new Date().toISOString());
  await keep(PAGES, path, new Response(await answer.clone().blob(), { headers }));
}

async function keep(name, request, answer) {
  const cache = await caches.open(name);
  await cache.put(request, answer);
  const keys = name === PAGES ? await cache.keys() : [];
  for (const old of keys.slice(0, Math.max(0, keys.length - MOST_PAGES))) await cache.delete(old);
}

async function page(request) {
  const { pathname, search } = new URL(request.url);
  try {
    const answer = await fetch(request);
    if (!search) await take(pathname, answer);
    return answer;
  } catch {
    const kept = await (await caches.open(PAGES)).match(pathname);
    return kept ? await old(kept) : new Response(NOTHING, { status: 503, headers: { "Content-Type": "text/html; charset=utf-8" } });
  }
}

/* The page as it was, with the moment it was seen: its own script says so at its top. */
async function old(kept) {
  const html = await kept.text();
  const headers = new Headers(kept.headers);
  return new Response(html.replace("<body", `<body data-kept-at="${kept.headers.get("X-Kept-At")}"`), { headers });
}

const NOTHING = `<!doctype html><html lang="en-GB" data-light="safelight"><meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1"><title>Offline · Frimble</title>
<link rel="stylesheet" href="/static/ui/css/tokens.css"><link rel="stylesheet" href="/static/ui/css/frimble.css">
<main><h1>Offline</h1><p>This page was not seen on this device before. Today, passports, the chart and the rack that were
seen open without a network.</p><p><a class="button" href="/">To the last seen Today</a></p></main></html>`;

async function part(request) {
  const cache = await caches.open(PARTS), kept = await cache.match(request);
  try {
    const answer = await fetch(request);
    /* Written only when it changed: most pages are made of the same few files. */
    const changed = !kept || kept.headers.get("Last-Modified") !== answer.headers.get("Last-Modified");
    if (answer.ok && changed) await cache.put(request, answer.clone());
    return answer;
  } catch (fault) {
    if (kept) return kept;
    throw fault;
  }
}

self.addEventListener("fetch", (event) => {
  const { request } = event, { pathname, origin } = new URL(request.url);
  if (request.method !== "GET" || origin !== self.location.origin) return;
  if (request.mode === "navigate") event.respondWith(page(request));
  else if (pathname.startsWith("/static/")) event.respondWith(part(request));
});
