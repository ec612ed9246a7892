/** The mutation hook, keys of queries, and values that run ahead of the server. */
import { MutationCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { freshKey, useAct } from "../src/api/acts";
import { Refusal } from "../src/api/client";
import { keys, OF_THE_DRAWER } from "../src/api/keys";
import { useAhead } from "../src/parts/useAhead";

afterEach(cleanup);

function world() {
  const said: string[] = [];
  const queries = new QueryClient({
    mutationCache: new MutationCache({
      onError: (error, _given, _context, mutation) => {
        if (!mutation.meta?.ownTrouble) said.push(error.message);
      },
    }),
  });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  );
  return { queries, said, wrapper };
}

describe("useAct", () => {
  it("says a refusal unless its view does", async () => {
    const { said, wrapper } = world();
    const refuse = () => Promise.reject(new Refusal(400, "bad_value", "This is the build's only colouring."));
    const loud = renderHook(() => useAct(refuse), { wrapper });
    await act(() => loud.result.current.mutateAsync().catch(() => undefined));
    const own = renderHook(() => useAct(refuse, { ownTrouble: true }), { wrapper });
    await act(() => own.result.current.mutateAsync().catch(() => undefined));
    expect(said).toEqual(["This is the build's only colouring."]);
  });
  it("asks afresh for what it changes, then goes on", async () => {
    const { queries, wrapper } = world();
    queries.setQueryData(keys.builds, []);
    queries.setQueryData(keys.sets, []);
    const then = vi.fn();
    const made = renderHook(
      () => useAct((n: number) => Promise.resolve(n + 1), { changes: [keys.builds], then }),
      {
        wrapper,
      },
    );
    await act(() => made.result.current.mutateAsync(1));
    expect(queries.getQueryState(keys.builds)?.isInvalidated).toBe(true);
    expect(queries.getQueryState(keys.sets)?.isInvalidated).toBe(false);
    expect(then).toHaveBeenCalledWith(2, 1);
  });
  it("makes first what stands in the line, and a double press is one", async () => {
    const { wrapper } = world();
    const made: string[] = [];
    let answered = () => {};
    const unanswered = new Promise<void>((resolve) => (answered = resolve));
    const mend = renderHook(
      () => useAct(() => unanswered.then(() => made.push("mend")), { line: "import-1" }),
      { wrapper },
    );
    const keep = renderHook(() => useAct(() => Promise.resolve(made.push("keep")), { after: "import-1" }), {
      wrapper,
    });
    act(() => mend.result.current.mutate());
    act(() => keep.result.current.mutate());
    act(() => keep.result.current.mutate());
    await act(() => Promise.resolve());
    expect(made).toEqual([]);
    await act(async () => {
      answered();
      await unanswered;
    });
    await vi.waitFor(() => expect(made).toEqual(["mend", "keep"]));
  });
});

describe("query keys", () => {
  it("one colouring's key begins with that of all, and differs from every other's", () => {
    expect(keys.colouring(4).slice(0, 1)).toEqual([...keys.colourings]);
    expect(keys.colouring(4)).not.toEqual(keys.colouring(5));
    expect(keys.set(3)).not.toEqual(keys.set(3, 0));
  });
  it("a change to the drawer reaches everything that shows pads", () => {
    for (const key of [keys.inks("kraft"), keys.stocks, keys.colouring(1), keys.builds, keys.gaps("x")])
      expect(OF_THE_DRAWER.some((own) => own[0] === key[0])).toBe(true);
  });
  it("keys of changes do not repeat", () => {
    expect(new Set(Array.from({ length: 500 }, freshKey)).size).toBe(500);
    expect(freshKey().length).toBeLessThanOrEqual(64);
  });
});

describe("a value that runs ahead of the server", () => {
  it("six presses are six steps however late the answers come", () => {
    vi.useFakeTimers();
    const { result, rerender } = renderHook(({ value }) => useAhead(value), { initialProps: { value: 50 } });
    for (let press = 1; press <= 6; press += 1) act(() => result.current[1](result.current[0] + 5));
    expect(result.current[0]).toBe(80);
    for (const value of [55, 60, 75]) {
      rerender({ value });
      expect(result.current[0]).toBe(80);
    }
    rerender({ value: 80 });
    act(() => vi.advanceTimersByTime(10));
    rerender({ value: 40 });
    expect(result.current[0]).toBe(40);
    vi.useRealTimers();
  });
  it("a change that was refused falls back to what holds", () => {
    vi.useFakeTimers();
    const { result } = renderHook(() => useAhead(50));
    act(() => result.current[1](70));
    act(() => vi.advanceTimersByTime(6000));
    expect(result.current[0]).toBe(50);
    vi.useRealTimers();
  });
});
