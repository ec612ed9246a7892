/** Queries that several views share. */
import { queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { api, data, type Measures, type SetSummary } from "./client";
import { type Job, underWay } from "./jobs";
import { keys, OF_THE_DRAWER } from "./keys";
import {
  buildsQuery,
  importQuery,
  inksQuery,
  sessionQuery,
  setQuery,
  setsQuery,
  stocksQuery,
} from "./queries";

export const useSession = () => useQuery(sessionQuery);

export const useInks = (stock?: string) =>
  useQuery({ ...inksQuery(stock), placeholderData: (before) => before });

export const useStocks = () => useQuery(stocksQuery);

/**
 * The drawer on the card that is asked for, else on the first in the house: that need not be known to ask, and the
 * drawer need not come twice.
 */
export function useDrawer(card: string | undefined) {
  const stocks = useStocks();
  const inks = useInks(card);
  return { inks, stocks, stock: card ?? stocks.data?.[0]?.key };
}

export const useSets = () => useQuery(setsQuery);

/** A set in small, asked for where it is near on the screen; drawn otherwise it is another version. */
export const usePreview = ({ id, version }: SetSummary, near: boolean) =>
  useQuery({
    queryKey: keys.preview(id, version),
    queryFn: () =>
      data(api.GET("/api/sets/{id}/preview", { params: { path: { id }, query: { v: version } } })),
    enabled: near,
    staleTime: Infinity,
    // what it looked like stays until the other is there
    placeholderData: (before) => before,
  });

/** A set opened; `change` is the one it stood at when a build was begun with it. */
export const useSet = (id: number | undefined, change?: number) =>
  useQuery({ ...setQuery(id ?? 0, change), enabled: id !== undefined });

/** What lies on a colouring's panel; the old layout stays on the screen until the new one is there. */
export const useLaid = (id: number, layout: string | undefined) =>
  useQuery({
    queryKey: keys.laid(id, layout ?? ""),
    queryFn: () => data(api.GET("/api/colourings/{id}/panel", { params: { path: { id } } })),
    enabled: layout !== undefined,
    staleTime: Infinity,
    placeholderData: (before) => before,
  });

export const useFormats = () =>
  useQuery({
    queryKey: keys.formats,
    queryFn: () => data(api.GET("/api/formats")),
    staleTime: Infinity,
  });

export const useMeasures = (set: { id: number; revision: number }, wanted: boolean) =>
  useQuery({
    queryKey: keys.measures(set.id, set.revision),
    queryFn: () => measured(set.id),
    enabled: wanted,
    staleTime: Infinity,
    placeholderData: (before) => before,
    refetchInterval: (query) => (underWay(query.state.data?.job) ? 700 : false),
  });

/** What is measured on a set, or the job that measures it where it is large. */
async function measured(id: number): Promise<{ measures?: Measures; job?: Job }> {
  const answer = await api.GET("/api/sets/{id}/measures", { params: { path: { id } } });
  const found = await data(Promise.resolve(answer));
  return answer.response.status === 202 ? { job: found as Job } : { measures: found as Measures };
}

/** What is on its way in, followed while anything is still being read. */
export const useImports = () =>
  useQuery({
    queryKey: keys.imports,
    queryFn: () => data(api.GET("/api/imports")),
    refetchInterval: (query) =>
      query.state.data?.under_way.some((i) => i.state === "reading") ? 700 : false,
  });

export const useImport = (id: number) =>
  useQuery({
    ...importQuery(id),
    refetchInterval: (query) => (query.state.data?.state === "reading" ? 100 : false),
  });

export const useBuilds = () => useQuery(buildsQuery);

export const useGaps = (stock: string | undefined) =>
  useQuery({
    queryKey: keys.gaps(stock),
    queryFn: () => data(api.GET("/api/gaps", { params: { query: stock ? { stock } : {} } })),
    placeholderData: (before) => before,
  });

/** The hues of the map never change while the page is open. */
export const useSectors = () =>
  useQuery({ queryKey: keys.sectors, queryFn: () => data(api.GET("/api/sectors")), staleTime: Infinity });

export const useTools = () => useQuery({ queryKey: keys.tools, queryFn: () => data(api.GET("/api/tools")) });

export const useOpened = (id: number, stock: string | undefined) =>
  useQuery({
    queryKey: keys.opened(id, stock),
    queryFn: () =>
      data(api.GET("/api/inks/{id}/opened", { params: { path: { id }, query: stock ? { stock } : {} } })),
    placeholderData: (before) => before,
  });

export const useDrawerHistory = () =>
  useQuery({ queryKey: keys.drawerHistory, queryFn: () => data(api.GET("/api/drawer/history")) });

export const useSwatchCards = () =>
  useQuery({ queryKey: keys.swatchCards, queryFn: () => data(api.GET("/api/swatch-cards")) });

/** A swatch card, followed while its photograph is being read. */
export const useSwatchCard = (id: number) =>
  useQuery({
    queryKey: keys.swatchCard(id),
    queryFn: () => data(api.GET("/api/swatch-cards/{id}", { params: { path: { id } } })),
    refetchInterval: (query) => (underWay(query.state.data?.job) ? 400 : false),
  });

/** A made card; with what its photographs say of it at once, so that nothing jumps when that comes. */
export const useRecord = (id: number) =>
  useQuery({
    queryKey: keys.record(id),
    queryFn: async ({ client }) => {
      const made = await data(api.GET("/api/records/{id}", { params: { path: { id } } }));
      await Promise.allSettled(
        made.photographs.map((number) =>
          client.ensureQueryData({ ...photographOf(id, number), retry: false }),
        ),
      );
      return made;
    },
  });

const photographOf = (id: number, number: number) =>
  queryOptions({
    queryKey: keys.photograph(id, number),
    queryFn: () =>
      data(
        api.GET("/api/records/{id}/photographs/{photograph}/reading", {
          params: { path: { id, photograph: number } },
        }),
      ),
  });

/** A photograph of a made card, followed while it is being read. */
export const usePhotograph = (id: number, number: number) =>
  useQuery({
    ...photographOf(id, number),
    refetchInterval: (query) => (underWay(query.state.data?.job) ? 500 : false),
  });

/** What photographed cards say, followed while it is being found. */
export const useLesson = () =>
  useQuery({
    queryKey: keys.lesson,
    queryFn: () => data(api.GET("/api/lesson")),
    refetchInterval: (query) => (underWay(query.state.data?.job) ? 500 : false),
  });

/** Inks on their way in, followed while their file is being read. */
export const useInkImport = (id: number) =>
  useQuery({
    queryKey: keys.inkImport(id),
    queryFn: () => data(api.GET("/api/ink-imports/{id}", { params: { path: { id } } })),
    refetchInterval: (query) => (query.state.data?.state === "reading" ? 300 : false),
  });

/** Everything that a change to the drawer may show in is asked for afresh. */
export function useDrawerChanged(): () => Promise<unknown> {
  const queries = useQueryClient();
  return useCallback(
    () => Promise.all(OF_THE_DRAWER.map((queryKey) => queries.invalidateQueries({ queryKey }))),
    [queries],
  );
}
