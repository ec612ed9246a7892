/** What the first screen will ask for, asked while its script is still on the way. */
import type { QueryClient } from "@tanstack/react-query";
import { api, data } from "./api/client";
import { keys } from "./api/keys";

type Ask = (queries: QueryClient, found: RegExpExecArray) => void;

const PLACES: [RegExp, Ask][] = [
  [
    /^\/$/,
    (queries) => {
      void queries.prefetchQuery({ queryKey: keys.builds, queryFn: () => data(api.GET("/api/builds")) });
    },
  ],
  [
    /^\/builds\/\d+\/colourings\/(\d+)(\/|$)/,
    (queries, [, pk]) => {
      const id = Number(pk);
      void queries.prefetchQuery({
        queryKey: keys.colouring(id),
        queryFn: () => data(api.GET("/api/colourings/{id}", { params: { path: { id } } })),
      });
    },
  ],
  [
    /^\/inks\/?$/,
    (queries) => {
      void queries.prefetchQuery({
        queryKey: keys.inks(),
        queryFn: () => data(api.GET("/api/inks", { params: { query: {} } })),
      });
    },
  ],
  [
    /^\/sets\/?$/,
    (queries) => {
      void queries.prefetchQuery({ queryKey: keys.sets, queryFn: () => data(api.GET("/api/sets")) });
    },
  ],
  [
    /^\/sets\/(\d+)$/,
    (queries, [, pk]) => {
      const id = Number(pk);
      void queries.prefetchQuery({
        queryKey: keys.set(id),
        queryFn: () => data(api.GET("/api/sets/{id}", { params: { path: { id }, query: {} } })),
      });
    },
  ],
];

/** Who is here, and what this address shows; whoever asks for it later finds it under way or there. */
export function ahead(path: string, queries: QueryClient): void {
  void queries.prefetchQuery({
    queryKey: keys.session,
    queryFn: () => data(api.GET("/api/session")),
    staleTime: 60_000,
  });
  for (const [place, ask] of PLACES) {
    const found = place.exec(path);
    if (found) ask(queries, found);
  }
}
