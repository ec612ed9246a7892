/** Questions that are asked from more than one place: by a view, and ahead of it. */
import { queryOptions } from "@tanstack/react-query";
import { api, data } from "./client";
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
