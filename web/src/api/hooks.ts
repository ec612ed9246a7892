/** Queries that several views share. */
import { useQuery } from "@tanstack/react-query";
import { api, data } from "./client";

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

export const useSet = (id: number | undefined) =>
  useQuery({
    queryKey: ["set", id],
    queryFn: () => data(api.GET("/api/sets/{id}", { params: { path: { id: id ?? 0 } } })),
    enabled: id !== undefined,
    staleTime: 300_000,
  });

export const useBuilds = () =>
  useQuery({ queryKey: ["builds"], queryFn: () => data(api.GET("/api/builds")) });
