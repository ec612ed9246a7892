/** What the first screen will ask for, asked while its script is still on the way; the page named the same to the browser. */
import type { QueryClient } from "@tanstack/react-query";
import places from "../ahead.json";
import {
  buildsQuery,
  colouringQuery,
  inksQuery,
  sessionQuery,
  setQuery,
  setsQuery,
  stocksQuery,
} from "./api/queries";

/** Behind each answer that `ahead.json` names and that is kept by its address alone. */
const QUERIES: Record<string, (queries: QueryClient, id: number) => unknown> = {
  "/api/builds": (queries) => queries.prefetchQuery(buildsQuery),
  "/api/sets": (queries) => queries.prefetchQuery(setsQuery),
  "/api/sets/$1": (queries, id) => queries.prefetchQuery(setQuery(id)),
  "/api/inks": (queries) => queries.prefetchQuery(inksQuery()),
  "/api/stocks": (queries) => queries.prefetchQuery(stocksQuery),
  "/api/colourings/$1": (queries, id) => queries.prefetchQuery(colouringQuery(id)),
};

/** Who is here, and what this address shows; whoever asks for it later finds it under way or there. */
export function ahead(path: string, queries: QueryClient): void {
  void queries.prefetchQuery(sessionQuery);
  for (const { address, asks } of places) {
    const found = new RegExp(address).exec(path);
    if (found) for (const ask of asks) void QUERIES[ask]?.(queries, Number(found[1]));
  }
}
