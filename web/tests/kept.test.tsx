/** The log and everything else that is kept: photographs against prediction, what cards teach, the account, a set followed. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { createMemoryRouter, RouterProvider } from "react-router";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Import, LessonFound, MadeCard, PhotographRead } from "../src/api/client";
import { keys } from "../src/api/keys";
import { Component as Account } from "../src/views/account/Account";
import { Against } from "../src/views/log/Against";
import { Component as Learn } from "../src/views/log/Learn";
import { Photographs } from "../src/views/log/Photographs";
import { Component as Follow } from "../src/views/sets/bring/Follow";
import { served, show } from "./shown";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const job = (state: string, more: object = {}) => ({
  id: 1,
  kind: "x",
  state,
  share: 0.5,
  doing: "Packing builds",
  sentence: "",
  ...more,
});
const made = { id: 2, name: "Thank-you", photographs: [] as number[] } as unknown as MadeCard;
const colour = { hex: "#aa3322", lab: [40, 40, 30], clipped: false };

type Found = NonNullable<PhotographRead["found"]>;
const element = (name: string, change: object = {}) => ({
  element: name, predicted: colour, found: { ...colour, hex: "#992211" }, de00: 5.2, margin: 1.5, differs: true,
  words: "paler and more orange", guess: "", share: 1, ...change,
}); // prettier-ignore
const found = (elements: object[], off_mm = 0.02) => ({ elements, off_mm, patches: 12 }) as unknown as Found;

describe("a photograph against what was predicted", () => {
  it("is wiped from one to the other by a pointer or by keys", () => {
    const seen = show(<Against made={made} number={1} found={found([element("koi")])} />);
    const edge = screen.getByRole("slider", { name: "From predicted to photographed" });
    const over = seen.container.querySelectorAll("img")[1] as HTMLElement;
    expect(getComputedStyle(over).clipPath).toContain("50%");
    fireEvent.change(edge, { target: { value: "80" } });
    expect(getComputedStyle(over).clipPath).toContain("80%");
  });

  it("counts the parts that came out otherwise", () => {
    show(
      <Against
        made={made}
        number={1}
        found={found([element("koi"), element("water", { differs: false })])}
      />,
    );
    expect(screen.getByText(/^1 of 2 parts came out otherwise than predicted/)).toBeTruthy();
    expect(screen.getAllByRole("listitem")).toHaveLength(2);
    // no photograph tells hundredths of a millimetre
    expect(screen.getByText(/Outlines meet to about 0.1 mm/)).toBeTruthy();
  });

  it("says so where all came out as predicted", () => {
    show(<Against made={made} number={1} found={found([element("koi", { differs: false })], 0.24)} />);
    expect(screen.getByText(/^It came out as predicted, as far as a photograph can tell/)).toBeTruthy();
    expect(screen.getByText(/0.2 mm/)).toBeTruthy();
  });
});

describe("photographs of a made card", () => {
  const where = "/api/records/2/photographs";

  it("are taken by the simulated camera, on the card that they lie on", async () => {
    const sent = served({ [`POST ${where}/simulated`]: made, "GET /api/stocks": [] });
    show(<Photographs made={made} />, { known: [[keys.stocks, [{ key: "white", name: "White smooth" }]]] });
    fireEvent.mouseDown(screen.getByRole("combobox", { name: "It lies on" }));
    fireEvent.click(screen.getByRole("option", { name: "White smooth" }));
    fireEvent.click(screen.getByRole("button", { name: "Try it with the simulated camera" }));
    await waitFor(() => expect(sent.some((s) => s.method === "POST")).toBe(true));
    expect(sent.find((s) => s.method === "POST")?.body).toEqual({ seed: 2, around: "white" });
  });

  it("say why one was not read, and can be read once more or taken away", async () => {
    const read = {
      photograph: 9,
      ready: true,
      around: "",
      found: null,
      job: job("failed", { sentence: "A shadow lies on it." }),
    };
    const sent = served({
      [`GET ${where}/9/reading`]: read,
      [`POST ${where}/9/reading`]: read,
      [`DELETE ${where}/9`]: {},
      "GET /api/stocks": [],
    });
    show(<Photographs made={{ ...made, photographs: [9] }} />, { known: [[keys.stocks, []]] });
    await waitFor(() => expect(screen.getByRole("alert").textContent).toContain("A shadow lies on it."));
    fireEvent.click(screen.getByRole("button", { name: "Take photograph 1 away" }));
    await waitFor(() =>
      expect(sent.some((s) => s.method === "DELETE" && s.path === `${where}/9`)).toBe(true),
    );
  });
});

const lesson = (change: object = {}) =>
  ({ readable: 6, in_force: 0, kept: false, job: null, said: null, ...change }) as unknown as LessonFound;
const said = {
  cards: 6, before: 2.9, after: 0.7, hands: { light: 0.88 }, passed_over: ["Card 4 has no bare card."],
  pads: [{ ink: "campion", name: "Campion", before: colour, after: colour, words: "deeper", strength: 1.3, cards: 3, de00: 4.2 }],
  builds: [{ build: 1, colouring: 2, name: "Thank-you", elements: [{ element: "koi", before: colour, after: colour, words: "redder", de00: 3.1 }] }],
}; // prettier-ignore

describe("what cards teach", () => {
  it("is asked for once there are photographs, and not before", () => {
    show(<Learn />, { known: [[keys.lesson, lesson({ readable: 0 })]] });
    expect((screen.getByRole("button", { name: "Ask 0 cards" }) as HTMLButtonElement).disabled).toBe(true);
    expect(screen.getByRole("status").textContent).toContain("No photograph was read yet");
  });

  it("is shown on pads and builds before it is kept", async () => {
    const sent = served({
      "POST /api/lesson/keep": {},
      "GET /api/lesson": lesson({ said, kept: true, in_force: 1 }),
      "GET /api/drawer/history": { revision: 1, undo: null, redo: null },
    });
    show(<Learn />, { known: [[keys.lesson, lesson({ said })]] });
    expect(screen.getByText(/^6 cards came out 2.9 away .* they are 0.7 away/)).toBeTruthy();
    expect(screen.getByText(/Your light hand lays 12 % less than usual/)).toBeTruthy();
    expect(screen.getByText("Card 4 has no bare card. It was passed over.")).toBeTruthy();
    expect(within(screen.getByRole("region", { name: "Pads" })).getByText(/^Campion: deeper/)).toBeTruthy();
    expect(within(screen.getByRole("region", { name: "Builds" })).getByText(/^koi: redder/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Predict by it from now on" }));
    await waitFor(() => expect(sent.some((s) => s.path === "/api/lesson/keep")).toBe(true));
  });

  it("is taken off where something is in force, and is busy while it is found out", () => {
    show(<Learn />, {
      known: [[keys.lesson, lesson({ in_force: 2, job: job("running", { doing: "Comparing" }) })]],
    });
    expect(
      (screen.getByRole("button", { name: "Take off what was learned" }) as HTMLButtonElement).disabled,
    ).toBe(true);
    expect(screen.getByRole("progressbar", { name: "Comparing" })).toBeTruthy();
  });

  it("says why it came to nothing", () => {
    show(<Learn />, {
      known: [
        [keys.lesson, lesson({ job: job("failed", { sentence: "The cards contradict each other." }) })],
      ],
    });
    expect(screen.getByRole("alert").textContent).toBe("The cards contradict each other.");
  });
});

describe("everything, out and in", () => {
  it("is packed, fetched, and counted", () => {
    const out = {
      ready: true,
      job: job("done"),
      told: { inks: 45, sets: 4, builds: 6, records: 6, photographs: 6 },
    };
    show(<Account />, { known: [[keys.account, { empty: false, out, into: null }]] });
    expect(
      screen.getByText("Packed: 45 pads, 4 sets, 6 builds, 6 cards in the log, 6 photographs."),
    ).toBeTruthy();
    expect(screen.getByRole("link", { name: "Fetch the archive" }).getAttribute("href")).toBe(
      "/api/account/archive.zip",
    );
    expect(screen.queryByRole("button", { name: "Bring an archive in" })).toBeNull();
  });

  it("goes into an empty account only, and says why it did not", () => {
    const into = { ready: false, job: job("failed", { sentence: "This archive is damaged." }), told: null };
    show(<Account />, { known: [[keys.account, { empty: true, out: null, into }]] });
    expect(screen.getByRole("button", { name: "Bring an archive in" })).toBeTruthy();
    expect(screen.getByRole("alert").textContent).toBe("This archive is damaged.");
    expect(screen.queryByRole("link", { name: "Fetch the archive" })).toBeNull();
  });

  it("cannot be packed twice at once", () => {
    const out = { ready: true, job: job("running"), told: null };
    show(<Account />, { known: [[keys.account, { empty: false, out, into: null }]] });
    expect((screen.getByRole("button", { name: "Pack it anew" }) as HTMLButtonElement).disabled).toBe(true);
    expect(screen.queryByRole("link", { name: "Fetch the archive" })).toBeNull();
    expect(screen.getByText("Packing builds …")).toBeTruthy();
  });
});

describe("a set on its way in, followed", () => {
  const item = (change: Partial<Import>): Import => ({
    id: 3, name: "Otter", state: "failed", share: 1, doing: "", sentence: "", source: "drawing", files: 1, guessed: false,
    options: { name: "Otter", kind: "stencil", width_mm: null, height_mm: null, by: "layer", visible: false },
    sheets: [], draft: null, left_out: [], ...change,
  }) as unknown as Import; // prettier-ignore
  const follow = (found: Import) => {
    const queries = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } });
    queries.setQueryData(keys.session, { name: "ada", units: "in" });
    queries.setQueryData(keys.import(3), found);
    const router = createMemoryRouter(
      [
        { path: "/sets/bring-in/:importId", element: <Follow /> },
        { path: "/sets", element: <p>the library</p> },
      ],
      { initialEntries: ["/sets/bring-in/3"] },
    );
    render(
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
      </QueryClientProvider>,
    );
    return queries;
  };

  it("asks for the width of a drawing that has none, in her units", async () => {
    const sent = served({ "POST /api/imports/3/again": item({ state: "reading" }) });
    follow(item({ sentence: "This drawing does not say how large it is; give its width." }));
    const read = screen.getByRole("button", { name: "Read it again" }) as HTMLButtonElement;
    expect(read.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText("Width of the drawing, in"), { target: { value: "4 1/4" } });
    fireEvent.click(read);
    await waitFor(() =>
      expect(sent.find((s) => s.method === "POST")?.body).toMatchObject({ options: { width_mm: 107.95 } }),
    );
  });

  it("shows the photograph and its corners where no opening was found", async () => {
    const sent = served({ "POST /api/imports/3/again": item({ state: "reading" }) });
    const sheet = (n: number) => ({
      title: `Sheet ${n}`, name: "a.jpg", turn: 0, mirrored: false, dropped: [], retouches: [], may_be_off: [], places: [], blinded: [], together: [], lines_apart: null, by_ruler: null, corners: [[0, 0], [9, 0], [9, 9], [0, 9]],
      photo: `/p/${n}`, photo_size: [10, 10], openings: [], doubtful: [],
    }); // prettier-ignore
    follow(
      item({
        source: "photograph",
        sentence: "No opening was found on any of these sheets.",
        sheets: [sheet(1), sheet(2)] as never,
      }),
    );
    fireEvent.click(screen.getByRole("button", { name: "Sheet 2" }));
    fireEvent.keyDown(screen.getByRole("slider", { name: /^Top left corner/ }), { key: "ArrowRight" });
    fireEvent.click(screen.getByRole("button", { name: "Read again from these corners" }));
    await waitFor(() => expect(sent.some((s) => s.method === "POST")).toBe(true));
    const body = sent.find((s) => s.method === "POST")?.body as {
      sheets: { at: number; corners?: number[][] }[];
    };
    expect(body.sheets).toEqual([{ at: 0 }, { at: 1, corners: [[1, 0], [9, 0], [9, 9], [0, 9]] }]); // prettier-ignore
  });

  it("is let go, and then it is gone", async () => {
    served({ "DELETE /api/imports/3": {}, "GET /api/imports": { under_way: [], limits: {} } });
    follow(item({ sentence: "This is not a picture that can be read." }));
    fireEvent.click(screen.getByRole("button", { name: "Let it go" }));
    expect(await screen.findByText("the library")).toBeTruthy();
  });

  it("does not put back what was pressed since, when an earlier answer comes", async () => {
    const titles = ["a", "b", "c"];
    const sheet = (title: string) => ({ title, name: title, turn: 0, mirrored: false, dropped: [], retouches: [], may_be_off: [], places: [], blinded: [], together: [], lines_apart: null, by_ruler: null, corners: null, photo: null, photo_size: [], openings: [], doubtful: [] }); // prettier-ignore
    const draft = (order: string[]) => ({
      width_mm: 10,
      height_mm: 10,
      overlaps: [],
      elements: [],
      sheets: order.map((name, n) => ({
        number: n + 1,
        name,
        openings: 1,
        groups: [],
        shapes: [],
        marks: "",
      })),
    });
    const ready = (order: string[]) =>
      item({ state: "ready", sheets: order.map(sheet) as never, draft: draft(order) as never });
    const waiting: ((order: string[]) => void)[] = [];
    vi.stubGlobal("fetch", (request: Request) => {
      const answer = (order: string[]) =>
        new Response(JSON.stringify(ready(order)), {
          status: 200,
          headers: { "Content-Type": "application/json" },
        });
      if (request.method === "GET") return Promise.resolve(answer(titles));
      return new Promise((done) => waiting.push((order) => done(answer(order))));
    });
    follow(ready(titles));
    const order = () =>
      screen
        .getAllByRole("button", { name: /^Show sheet/ })
        .map((b) => b.textContent?.["Show sheet 1. ".length]);
    fireEvent.click(screen.getByRole("button", { name: "Later" }));
    await waitFor(() => expect(order()).toEqual(["b", "a", "c"]));
    fireEvent.click(screen.getByRole("button", { name: "Later" }));
    await waitFor(() => expect(order()).toEqual(["b", "c", "a"]));
    await waitFor(() => expect(waiting).toHaveLength(1));
    waiting[0]?.(["b", "a", "c"]);
    await waitFor(() => expect(waiting).toHaveLength(2));
    expect(order()).toEqual(["b", "c", "a"]);
    waiting[1]?.(["b", "c", "a"]);
    await waitFor(() => expect(order()).toEqual(["b", "c", "a"]));
  });
});
