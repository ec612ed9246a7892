/** What the service worker keeps for the table: whether all of it is there, and letting it go. */
import { useEffect, useState } from "react";
import atTable from "../../atTable.json";

const OF_THE_TABLE = new RegExp(`^${atTable.addresses}`);

/** Addresses that this page has asked for and that the table needs, as they were asked. */
function asked(): string[] {
  const own = performance
    .getEntriesByType("resource")
    .map((entry) => new URL(entry.name))
    .filter((url) => url.origin === location.origin && OF_THE_TABLE.test(url.pathname + url.search));
  return [...new Set(own.map((url) => url.pathname + url.search))];
}

/** Fetch through the worker what came before it was there. */
async function fill(): Promise<void> {
  await navigator.serviceWorker.ready;
  const [answers, page] = await Promise.all([caches.open(atTable.cache), caches.open(atTable.page)]);
  if (!(await page.match("/"))) await page.add("/");
  for (const address of asked()) {
    if (!(await answers.match(address))) await answers.add(address);
  }
}

/** Whether the table would open here without a network, once ``loaded``. */
export function useKeptForTable(loaded: boolean): boolean {
  const [kept, setKept] = useState(false);
  useEffect(() => {
    if (!loaded || !navigator.serviceWorker || !("caches" in window)) return;
    let here = true;
    fill()
      .then(() => here && setKept(true))
      .catch(() => undefined); // no room, or no network yet: it is then simply not kept
    return () => {
      here = false;
    };
  }, [loaded]);
  return kept;
}

/** Nothing of what was answered to somebody stays here when she signs out. */
export async function forget(): Promise<void> {
  // what she did and the server has not had yet stays: it is hers, and goes when she is back
  for (const key of Object.keys(localStorage))
    if (/^anastrata-(table-last|ticks)-/.test(key)) localStorage.removeItem(key);
  if ("caches" in window) await caches.delete(atTable.cache).catch(() => false);
}
