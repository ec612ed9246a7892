/** A part shown as the application shows it: with queries that are answered here, a route, and what the server is sent. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import type { ReactElement } from "react";
import { MemoryRouter } from "react-router";
import { vi } from "vitest";
import { keys } from "../src/api/keys";

export interface Sent {
  method: string;
  path: string;
  body: unknown;
}

type Answer = unknown;
type Answers = Record<string, Answer>;

/** Answers by “METHOD /path”; what was asked for, in its order. An answer with a status of 400 and more is a refusal. */
export function served(answers: Answers): Sent[] {
  const sent: Sent[] = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    const path = new URL(request.url).pathname;
    const text = await request.clone().text();
    sent.push({ method: request.method, path, body: text ? JSON.parse(text) : null });
    const found = answers[`${request.method} ${path}`];
    if (found === undefined)
      return new Response(JSON.stringify({ sentence: "Nothing is here." }), { status: 404 });
    const status = (found as { status?: unknown }).status;
    const refused = typeof status === "number" && status >= 400;
    return new Response(JSON.stringify(found), {
      status: refused ? status : 200,
      headers: { "Content-Type": "application/json" },
    });
  });
  return sent;
}

interface Around {
  units?: "in" | "mm";
  known?: [readonly unknown[], unknown][];
}

export function show(part: ReactElement, { units = "in", known = [] }: Around = {}) {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } });
  queries.setQueryData(keys.session, { name: "ada", units, demo: false });
  for (const [key, value] of known) queries.setQueryData(key, value);
  const around = (inner: ReactElement) => (
    <QueryClientProvider client={queries}>
      <MemoryRouter>{inner}</MemoryRouter>
    </QueryClientProvider>
  );
  const seen = render(around(part));
  return { ...seen, queries, again: (next: ReactElement) => seen.rerender(around(next)) };
}
