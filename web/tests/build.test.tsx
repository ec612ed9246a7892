/** What a build says of its changes, and its colourings; changes of a set one after another. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, render, renderHook, screen, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { MemoryRouter, useLocation } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Head, LayerSet, State } from "../src/api/client";
import { Refusal } from "../src/api/client";
import { keys } from "../src/api/keys";
import { Notices } from "../src/parts/Notices";
import { ChangeQueue, type Post } from "../src/views/build/changeQueue";
import { Colourings } from "../src/views/build/Colourings";
import { BuildContext, type Shared } from "../src/views/build/context";
import { Elsewhere } from "../src/views/build/Elsewhere";
import { Kept } from "../src/views/build/Kept";
import { useSetEdits } from "../src/views/sets/opened/useSetEdits";

const head = (revision: number): Head => ({ revision, picture_key: `p${revision}`, name: "A card" }) as Head;
const state = {
  revision: 1,
  build_id: 3,
  colouring: "First colouring",
  colourings: [
    { id: 7, name: "First colouring" },
    { id: 9, name: "On black" },
  ],
} as unknown as State;

const Where = () => <output aria-label="where">{useLocation().pathname}</output>;

function shown(part: ReactNode, queue: ChangeQueue, queries = new QueryClient()) {
  const shared = { id: 7, state, queue } as unknown as Shared;
  return render(
    <QueryClientProvider client={queries}>
      <MemoryRouter initialEntries={["/builds/3/colourings/7/strata"]}>
        <BuildContext.Provider value={shared}>
          {part}
          <Where />
        </BuildContext.Provider>
        <Notices />
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

const queueOf = (post: Post) => {
  const queue = new ChangeQueue(7, () => Promise.resolve(head(1)), post);
  queue.seen(head(1));
  return queue;
};

beforeEach(() => localStorage.clear());
afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("what is said of changes", () => {
  beforeEach(() => {
    vi.useFakeTimers();
  });
  const soon = () => act(() => vi.advanceTimersByTimeAsync(20));
  const said = () => screen.getAllByRole("status")[0]?.textContent?.trim();

  it("everything is kept where nothing waits", () => {
    shown(
      <Kept />,
      queueOf(() => Promise.resolve(head(2))),
    );
    expect(said()).toBe("Everything is kept");
  });

  it.each([
    [0, "No connection: 1 change kept here until it is back"],
    [401, "You are signed out: 1 change kept here. Sign in again"],
    [507, "1 change kept here: The disk is full."],
    [500, "1 change kept here: The disk is full."],
  ])("a change that waits after %i is counted, with the reason", async (status, sentence) => {
    const queue = queueOf(() => Promise.reject(new Refusal(status, "x", "The disk is full.")));
    shown(<Kept />, queue);
    queue.put("set_cards", { cards: 2 });
    await soon();
    expect(said()).toBe(sentence);
    queue.stop();
  });

  it("a clash is told with both ways out", async () => {
    let refuse = true;
    const queue = queueOf(() =>
      refuse
        ? Promise.reject(new Refusal(409, "stale", "It was changed elsewhere."))
        : Promise.resolve(head(3)),
    );
    shown(<Elsewhere />, queue);
    expect(screen.queryByRole("alert")).toBeNull();
    queue.put("set_cards", { cards: 2 });
    await soon();
    expect(screen.getByRole("alert").textContent).toContain(
      "It was changed elsewhere. Your change was not made.",
    );
    refuse = false;
    fireEvent.click(screen.getByRole("button", { name: "Make my change on top" }));
    await soon();
    expect(screen.queryByRole("alert")).toBeNull();
    expect(queue.snapshot().head?.revision).toBe(3);
  });

  it("a change that is never taken can be let go", async () => {
    const queue = queueOf(() =>
      Promise.reject(new Refusal(500, "fault", "Something went wrong on our side.")),
    );
    shown(<Elsewhere />, queue);
    queue.put("set_cards", { cards: 2 });
    await soon();
    expect(screen.getByRole("alert").textContent).toContain("kept here and tried again");
    fireEvent.click(screen.getByRole("button", { name: "Let this change go" }));
    await soon();
    expect(queue.snapshot().waiting).toBe(0);
    expect(localStorage.length).toBe(0);
  });

  it("a refusal is said until it is read", async () => {
    const queue = queueOf(() =>
      Promise.reject(new Refusal(400, "bad_value", "A build is for 1 to 200 cards.")),
    );
    shown(<Elsewhere />, queue);
    queue.put("set_cards", { cards: 900 });
    await soon();
    expect(screen.getByRole("alert").textContent).toContain("1 to 200 cards");
    fireEvent.click(screen.getByRole("button", { name: "All right" }));
    expect(screen.queryByRole("alert")).toBeNull();
  });
});

describe("colourings", () => {
  const asked: [string, string, unknown][] = [];
  beforeEach(() => {
    asked.length = 0;
    vi.stubGlobal("fetch", async (request: Request) => {
      const body = request.method === "GET" ? null : await request.text();
      asked.push([request.method, new URL(request.url).pathname, body ? JSON.parse(body) : null]);
      if (request.method === "DELETE") return new Response(null, { status: 204 });
      const made = request.method === "POST" ? 201 : 200;
      return new Response('{"id": 11}', { status: made, headers: { "content-type": "application/json" } });
    });
  });
  const menu = (item: string) => {
    fireEvent.click(screen.getByTitle("The colourings of this build"));
    fireEvent.click(screen.getByRole("menuitem", { name: item }));
  };
  const where = () => screen.getByLabelText("where").textContent;

  it("another one is opened where this one was", () => {
    shown(
      <Colourings />,
      queueOf(() => Promise.resolve(head(2))),
    );
    menu("On black");
    expect(where()).toBe("/builds/3/colourings/9/strata");
  });

  it("a new one begins from this one and is opened", async () => {
    shown(
      <Colourings />,
      queueOf(() => Promise.resolve(head(2))),
    );
    menu("Another one, begun from this …");
    fireEvent.change(screen.getByLabelText("What it is called"), { target: { value: "  At night  " } });
    fireEvent.keyDown(screen.getByLabelText("What it is called"), { key: "Enter" });
    await waitFor(() => expect(where()).toBe("/builds/3/colourings/11/strata"));
    expect(asked).toEqual([["POST", "/api/builds/3/colourings", { copy: 7, name: "At night" }]]);
  });

  it("a name of blanks is none", () => {
    shown(
      <Colourings />,
      queueOf(() => Promise.resolve(head(2))),
    );
    menu("Another name …");
    fireEvent.change(screen.getByLabelText("What it is called"), { target: { value: "   " } });
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Keep" }).disabled).toBe(true);
    fireEvent.keyDown(screen.getByLabelText("What it is called"), { key: "Enter" });
    expect(asked).toEqual([]);
  });

  it("one that is let go leaves the next one open and a way back", async () => {
    shown(
      <Colourings />,
      queueOf(() => Promise.resolve(head(2))),
    );
    menu("Let this one go");
    await waitFor(() => expect(where()).toBe("/builds/3/colourings/9/strata"));
    fireEvent.click(await screen.findByRole("button", { name: "Bring it back" }));
    await waitFor(() => expect(asked.at(-1)?.slice(0, 2)).toEqual(["POST", "/api/colourings/7/back"]));
  });
});

describe("changes of a set", () => {
  const json = (status: number, body: unknown) =>
    new Response(JSON.stringify(body), { status, headers: { "content-type": "application/json" } });

  function world(answers: (sent: Record<string, unknown>) => Response) {
    const sent: Record<string, unknown>[] = [];
    vi.stubGlobal("fetch", async (request: Request) => {
      const body = (await request.json()) as Record<string, unknown>;
      sent.push(body);
      return answers(body);
    });
    const queries = new QueryClient();
    const set = { id: 5, revision: 1 } as LayerSet;
    queries.setQueryData(keys.set(5), set);
    const wrapper = ({ children }: { children: ReactNode }) => (
      <QueryClientProvider client={queries}>{children}</QueryClientProvider>
    );
    const hook = renderHook(() => useSetEdits(set), { wrapper });
    return { sent, queries, edits: hook.result.current };
  }

  it("two presses at once are two changes, the second on what the first made", async () => {
    const { sent, queries, edits } = world((body) =>
      json(200, { id: 5, revision: Number(body.revision) + 1 }),
    );
    await Promise.all([
      edits.edit("place", { sheet: 1, mirrored: true }),
      edits.edit("place", { sheet: 1, mirrored: true }),
    ]);
    expect(sent.map((s) => s.revision)).toEqual([1, 2]);
    expect(new Set(sent.map((s) => s.edit_key)).size).toBe(2);
    expect(queries.getQueryData<LayerSet>(keys.set(5))?.revision).toBe(3);
  });

  it("a refusal is said and does not stop what follows", async () => {
    render(<Notices />);
    let first = true;
    const { sent, edits } = world((body) => {
      const refused = first;
      first = false;
      return refused
        ? json(400, { code: "bad_value", sentence: "The line must cross one opening.", field: null })
        : json(200, { id: 5, revision: Number(body.revision) + 1 });
    });
    await Promise.all([edits.edit("split", {}), edits.undo(), edits.redo()]);
    expect(sent.map((s) => s.revision)).toEqual([1, 1, 2]);
    expect(screen.getByText("The line must cross one opening.")).toBeTruthy();
  });

  it("changed elsewhere, the set is asked for afresh", async () => {
    const stale = {
      code: "stale",
      sentence: "This set was changed elsewhere.",
      field: "revision",
      revision: 4,
    };
    const { queries, edits } = world(() => json(409, stale));
    await edits.edit("join", { openings: ["a", "b"] });
    expect(queries.getQueryState(keys.set(5))?.isInvalidated).toBe(true);
  });
});
