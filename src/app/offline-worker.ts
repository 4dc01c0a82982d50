/**
 * Keeps a copy of the application in the browser, so that it also begins where its server can't be reached.
 * A page is asked of the server first, so that a newer version is seen at once; the other files are named by their content: a kept one is never an old one.
 */
import { addRoute, cleanupOutdatedCaches, matchPrecache, type PrecacheEntry, precache } from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';

declare const self: { readonly __WB_MANIFEST: PrecacheEntry[] };

/** How long the server may take for a page before the kept one is shown, ms. */
const PATIENCE = 4000;

precache(self.__WB_MANIFEST);
cleanupOutdatedCaches();

// Before the files' own route, which would give the kept page without asking.
registerRoute(
  new NavigationRoute(
    async ({ request }) => {
      const kept = await matchPrecache('/index.html');
      try {
        const answer = await fetch(request, kept && { signal: AbortSignal.timeout(PATIENCE) });
        return answer.status >= 500 && kept ? kept : answer;
      } catch (e) {
        if (kept) return kept;
        throw e;
      }
    },
    // A text is opened like a page and is none.
    { denylist: [/\.txt$/] },
  ),
);
addRoute();
