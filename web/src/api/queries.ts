/** Questions that are asked from more than one place: by a view, and ahead of it. */
import { queryOptions } from "@tanstack/react-query";
import { api, data, Refusal } from "./client";
import { keys } from "./keys";

export const sessionQuery = queryOptions({
  queryKey: keys.session,
  queryFn: () => data(api.GET("/api/session")),
  staleTime: 60_000,
});

export const buildsQuery = queryOptions({
  queryKey: keys.builds,
  queryFn: () => data(api.GET("/api/builds")),
});

export const setsQuery = queryOptions({ queryKey: keys.sets, queryFn: () => data(api.GET("/api/sets")) });

export const stocksQuery = queryOptions({
  queryKey: keys.stocks,
  queryFn: () => data(api.GET("/api/stocks")),
});

export const inksQuery = (stock?: string) =>
  queryOptions({
    queryKey: keys.inks(stock),
    queryFn: () => data(api.GET("/api/inks", { params: { query: stock ? { stock } : {} } })),
  });

export const setQuery = (id: number, change?: number) =>
  queryOptions({
    queryKey: keys.set(id, change),
    queryFn: () =>
      data(
        api.GET("/api/sets/{id}", {
          params: { path: { id }, query: change === undefined ? {} : { change } },
        }),
      ),
    staleTime: 300_000,
  });

export const colouringQuery = (id: number) =>
  queryOptions({
    queryKey: keys.colouring(id),
    queryFn: () => data(api.GET("/api/colourings/{id}", { params: { path: { id } } })),
  });

/** What is on its way in. */
export const importQuery = (id: number) =>
  queryOptions({
    queryKey: keys.import(id),
    // the answer waits a moment for the reading to end: most drawings are read within a second
    queryFn: () =>
      data(api.GET("/api/imports/{id}", { params: { path: { id }, query: { patience_ms: 700 } } })),
    retry: (count, error) => !(error instanceof Refusal && error.status === 404) && count < 100,
    retryDelay: 1200,
  });
