/**
 * The service worker, made from what was built: the app opens without a network, and the table finds there what it
 * was last given. Everything else is asked of the server, as always.
 */
import { readFileSync } from "node:fs";
import { generateSW } from "workbox-build";

const { cache, page, addresses } = JSON.parse(readFileSync("atTable.json", "utf8"));

const { count, warnings } = await generateSW({
  globDirectory: "dist",
  globPatterns: ["**/*.{js,css,woff2,svg,png,webmanifest}"],
  modifyURLPrefix: { "": "/static/" },
  swDest: "dist/sw.js",
  inlineWorkboxRuntime: true,
  sourcemap: false,
  skipWaiting: true,
  clientsClaim: true,
  cleanupOutdatedCaches: true,
  maximumFileSizeToCacheInBytes: 4_000_000,
  runtimeCaching: [
    {
      urlPattern: ({ request }) => request.mode === "navigate",
      handler: "NetworkFirst",
      options: {
        cacheName: page,
        // one page for every address
        plugins: [{ cacheKeyWillBeUsed: async () => "/" }],
      },
    },
    {
      urlPattern: new RegExp(addresses),
      handler: "NetworkFirst",
      options: { cacheName: cache, expiration: { maxEntries: 240, purgeOnQuotaError: true } },
    },
  ],
});
for (const warning of warnings) console.warn(warning);
if (!count) throw new Error("Nothing was built that could be kept.");
