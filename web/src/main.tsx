import "@fontsource-variable/commissioner";
import "@fontsource-variable/fraunces";
import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import { MutationCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router/dom";
import { ahead } from "./ahead";
import { Refusal } from "./api/client";
import { Notices, say } from "./parts/Notices";
import { sentenceOf } from "./parts/words";
import { router } from "./routes";
import { theme } from "./theme/theme";

const queries = new QueryClient({
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

ahead(window.location.pathname, queries);

// the app opens without a network; a browser that refuses simply needs one
if (import.meta.env.PROD) void navigator.serviceWorker?.register("/sw.js").catch(() => undefined);

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <ThemeProvider theme={theme}>
        <CssBaseline />
        <QueryClientProvider client={queries}>
          <RouterProvider router={router} />
          <Notices />
        </QueryClientProvider>
      </ThemeProvider>
    </StrictMode>,
  );
}
