/** What the first screen will ask for, asked while its script is still on the way. */
import type { QueryClient } from "@tanstack/react-query";
import { buildsQuery, colouringQuery, inksQuery, sessionQuery, setQuery, setsQuery } from "./api/queries";

const PLACES: [RegExp, (queries: QueryClient, id: number) => unknown][] = [
  [/^\/$/, (queries) => queries.prefetchQuery(buildsQuery)],
  [/^\/inks\/?$/, (queries) => queries.prefetchQuery(inksQuery())],
  [/^\/sets\/?$/, (queries) => queries.prefetchQuery(setsQuery)],
  [/^\/sets\/(\d+)$/, (queries, id) => queries.prefetchQuery(setQuery(id))],
  [/^\/builds\/\d+\/colourings\/(\d+)(\/|$)/, (queries, id) => queries.prefetchQuery(colouringQuery(id))],
];

/** Who is here, and what this address shows; whoever asks for it later finds it under way or there. */
export function ahead(path: string, queries: QueryClient): void {
  void queries.prefetchQuery(sessionQuery);
  for (const [place, ask] of PLACES) {
    const found = place.exec(path);
    if (found) void ask(queries, Number(found[1]));
  }
}
