/// <reference lib="webworker" />
// What makes the player's page open without a connection, after it was opened once.
import { clientsClaim } from "workbox-core";
import { cleanupOutdatedCaches, createHandlerBoundToURL, precacheAndRoute, type PrecacheEntry } from "workbox-precaching";
import { NavigationRoute, registerRoute } from "workbox-routing";

declare const self: ServiceWorkerGlobalScope & { __WB_MANIFEST: PrecacheEntry[] };

precacheAndRoute(self.__WB_MANIFEST); // written in by scripts/offline.mjs
cleanupOutdatedCaches();
registerRoute(new NavigationRoute(createHandlerBoundToURL("/practice.html"), { allowlist: [/^\/p\//] }));
void self.skipWaiting();
clientsClaim();
