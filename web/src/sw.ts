/**
 * The page without its server: scripts, styles and fonts lie on the device; the page and what was last asked come from
 * there when the server does not answer. Writes are never touched: they wait in their own queues.
 */
import { ExpirationPlugin } from "workbox-expiration";
import { precacheAndRoute, type PrecacheEntry } from "workbox-precaching";
import { registerRoute } from "workbox-routing";
import { CacheFirst, NetworkFirst } from "workbox-strategies";

declare const self: {
  __WB_MANIFEST: (string | PrecacheEntry)[];
  skipWaiting: () => Promise<void>;
  clients: { claim: () => Promise<void> };
  addEventListener: (kind: string, f: (e: { waitUntil: (p: Promise<unknown>) => void }) => void) => void;
};

self.addEventListener("install", (e) => e.waitUntil(self.skipWaiting()));
self.addEventListener("activate", (e) => e.waitUntil(self.clients.claim()));

precacheAndRoute(self.__WB_MANIFEST);

// There is one page, whatever the address; the last one that came is kept with its headers.
const PAGE = new URL("/", location.origin).href;
registerRoute(
  ({ request }) => request.mode === "navigate",
  new NetworkFirst({
    cacheName: "page",
    plugins: [{ cacheKeyWillBeUsed: () => Promise.resolve(PAGE) }],
  }),
);

const LIVE =
  /^\/api\/(clock|instruments|data|copies|backup)|\/search\/|\/looking|\.(ics|csv|zip|md)$|\/journal$/;
registerRoute(
  ({ url }) => /^\/api\/builds\/[^/]+\/pictures\//.test(url.pathname),
  new CacheFirst({ cacheName: "pictures", plugins: [new ExpirationPlugin({ maxEntries: 400 })] }),
);
registerRoute(
  ({ url, sameOrigin }) => sameOrigin && url.pathname.startsWith("/api/") && !LIVE.test(url.pathname),
  new NetworkFirst({
    cacheName: "asked",
    plugins: [
      new ExpirationPlugin({ maxEntries: 300 }),
      { cacheWillUpdate: ({ response }) => Promise.resolve(response.status === 200 ? response : null) },
    ],
  }),
);
