/** Queries that several views share. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { api, data, Refusal } from "./client";

export const useSession = () =>
  useQuery({ queryKey: ["session"], queryFn: () => data(api.GET("/api/session")), staleTime: 60_000 });

export const useInks = (stock?: string) =>
  useQuery({
    queryKey: ["inks", stock ?? ""],
    queryFn: () => data(api.GET("/api/inks", { params: { query: stock ? { stock } : {} } })),
    placeholderData: (before) => before,
  });

export const useStocks = () =>
  useQuery({ queryKey: ["stocks"], queryFn: () => data(api.GET("/api/stocks")) });

export const useSets = () => useQuery({ queryKey: ["sets"], queryFn: () => data(api.GET("/api/sets")) });

/** A set opened; `change` is the one it stood at when a build was begun with it. */
export const useSet = (id: number | undefined, change?: number) =>
  useQuery({
    queryKey: change === undefined ? ["set", id] : ["set", id, change],
    queryFn: () =>
      data(
        api.GET("/api/sets/{id}", {
          params: { path: { id: id ?? 0 }, query: change === undefined ? {} : { change } },
        }),
      ),
    enabled: id !== undefined,
    staleTime: 300_000,
  });

export const useMeasures = (set: { id: number; head: number | null }, wanted: boolean) =>
  useQuery({
    queryKey: ["measures", set.id, set.head],
    queryFn: () => data(api.GET("/api/sets/{id}/measures", { params: { path: { id: set.id } } })),
    enabled: wanted,
    staleTime: Infinity,
    placeholderData: (before) => before,
  });

/** What is on its way in, followed while anything is still being read. */
export const useImports = () =>
  useQuery({
    queryKey: ["imports"],
    queryFn: () => data(api.GET("/api/imports")),
    refetchInterval: (query) =>
      query.state.data?.under_way.some((i) => i.state === "reading") ? 700 : false,
  });

export const useImport = (id: number) =>
  useQuery({
    queryKey: ["import", id],
    queryFn: () => data(api.GET("/api/imports/{id}", { params: { path: { id } } })),
    refetchInterval: (query) => (query.state.data?.state === "reading" ? 350 : false),
    retry: (count, error) => !(error instanceof Refusal && error.status === 404) && count < 100,
    retryDelay: 1200,
  });

export const useBuilds = () =>
  useQuery({ queryKey: ["builds"], queryFn: () => data(api.GET("/api/builds")) });

export const useGaps = (stock: string | undefined) =>
  useQuery({
    queryKey: ["gaps", stock ?? ""],
    queryFn: () => data(api.GET("/api/gaps", { params: { query: stock ? { stock } : {} } })),
    placeholderData: (before) => before,
  });

export const useTools = () => useQuery({ queryKey: ["tools"], queryFn: () => data(api.GET("/api/tools")) });

export const useOpened = (id: number, stock: string | undefined) =>
  useQuery({
    queryKey: ["opened", id, stock ?? ""],
    queryFn: () =>
      data(api.GET("/api/inks/{id}/opened", { params: { path: { id }, query: stock ? { stock } : {} } })),
    placeholderData: (before) => before,
  });

export const useDrawerHistory = () =>
  useQuery({ queryKey: ["drawer-history"], queryFn: () => data(api.GET("/api/drawer/history")) });

export const useSwatchCards = () =>
  useQuery({ queryKey: ["swatch-cards"], queryFn: () => data(api.GET("/api/swatch-cards")) });

export const useSwatchCard = (id: number) =>
  useQuery({
    queryKey: ["swatch-cards", id],
    queryFn: () => data(api.GET("/api/swatch-cards/{id}", { params: { path: { id } } })),
  });

export const useInkImport = (id: number) =>
  useQuery({
    queryKey: ["ink-imports", id],
    queryFn: () => data(api.GET("/api/ink-imports/{id}", { params: { path: { id } } })),
  });

const OF_THE_DRAWER = [
  "inks",
  "stocks",
  "tools",
  "gaps",
  "opened",
  "drawer-history",
  "swatch-cards",
  "ink-imports",
  "build",
  "tryouts",
];

/** Everything that a change to the drawer may show in is asked for afresh. */
export function useDrawerChanged(): () => Promise<unknown> {
  const queries = useQueryClient();
  return useCallback(
    () => Promise.all(OF_THE_DRAWER.map((key) => queries.invalidateQueries({ queryKey: [key] }))),
    [queries],
  );
}
