/** What was asked of the server, kept; what it refuses, said. */
import { MutationCache, QueryClient } from "@tanstack/react-query";
import { Refusal } from "./api/client";
import { say } from "./parts/said";
import { sentenceOf } from "./parts/words";

export const queries = new QueryClient({
  mutationCache: new MutationCache({
    // one place says every refusal that its own view does not show
    onError: (error, _given, _context, mutation) => {
      if (mutation.meta?.ownTrouble) return;
      const otherwise = mutation.meta?.otherwise;
      say({
        sentence: sentenceOf(error, typeof otherwise === "string" ? otherwise : "That could not be done."),
      });
    },
  }),
  defaultOptions: {
    queries: {
      staleTime: 15_000,
      retry: (count, error) => error instanceof Refusal && error.status === 0 && count < 30,
      retryDelay: 1500,
      networkMode: "always",
    },
    mutations: { networkMode: "always" },
  },
});
