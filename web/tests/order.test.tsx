/** The order of work: how it is told, what is wished of it, what is asked of a step; and the table that is set by it. */
import { act, cleanup, fireEvent, renderHook, screen, waitFor, within } from "@testing-library/react";
import type { ReactElement } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Laid, OrderOfWork, State, Table, TableStep } from "../src/api/client";
import { keys } from "../src/api/keys";
import { BuildContext, type Shared } from "../src/views/build/context";
import { Better, Totals } from "../src/views/build/order/Better";
import { cardsSaid, pinsBefore, titleOf, Visits } from "../src/views/build/order/Visits";
import { Why } from "../src/views/build/order/Why";
import { beginAt, Wishes } from "../src/views/build/order/Wishes";
import { clocksOf, dryAt, shown } from "../src/views/build/table/clocks";
import { Forgotten, useAsking } from "../src/views/build/table/Forgotten";
import { SetTable } from "../src/views/build/table/SetTable";
import { StepCard } from "../src/views/build/table/StepCard";
import type { TableHandle } from "../src/views/build/table/useTable";
import { WentWrong } from "../src/views/build/table/WentWrong";
import { served, show } from "./shown";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const step = (kind: string, change: object = {}) => ({
  kind, word: kind, sentence: `${kind} it`, reasons: [], caution: null, minutes: 2, sheet: 1, pass_key: null, element: null,
  key: `${kind}-1`, how: "", who: 1, card: 1, job: null, clock: null, dries: 0, done: [], at: null, inked: null, ...change,
}) as unknown as TableStep; // prettier-ignore
const ink = (key: string, sheet = 1, change: object = {}) => step("ink", { pass_key: key, sheet, key: `ink-${key}`, element: "koi", sentence: `Lay ${key}`, ...change }); // prettier-ignore
const visit = (first: number, steps: TableStep[], change: object = {}) => ({
  cards: [1],
  first,
  minutes: 9,
  steps,
  ...change,
});
const order = (change: object = {}) => ({
  key: "k", cards: 1, minutes: 42, placements: 1, masks: 0, cleanings: 2, waiting: 3, proven: false, words: "Within 4 % of the shortest possible.",
  one_by_one: 42, better: null, job: null, pins: [], returns: [], partings: [], jobs: [], visits: [],
  wishes: { first: "time", hands: 1, heat: false, lead: true, brush_dry: 1, rack: 0, assembly: false, twice: [] }, ...change,
}) as unknown as OrderOfWork; // prettier-ignore
const laid = {
  sheets: [
    { number: 1, kind: "stencil", called: "1", name: "Bases", thing: "image", nouns: { one: "sheet" }, groups: [{ element: "koi" }, { element: "water" }] },
    { number: 2, kind: "stencil", called: "2", name: "Tones", thing: "image", nouns: { one: "sheet" }, groups: [] },
    { number: 3, kind: "words", called: "1", name: "Thank you", thing: "words", nouns: { one: "stamp" }, groups: [] },
  ],
  things: [{ key: "image", kind: "set", name: "Koi" }], nouns: { one: "sheet" },
} as unknown as Laid; // prettier-ignore

function inBuild(part: ReactElement, change = vi.fn()) {
  const seen = show(
    <BuildContext value={{ id: 6, units: "in", change, set: laid } as unknown as Shared}>
      {part}
    </BuildContext>,
  );
  return { ...seen, change };
}
const visits = (of: OrderOfWork, at = 0) =>
  inBuild(<Visits order={of} set={laid} rungs={new Map()} card="#ffffff" at={at} onChoose={vi.fn()} />);

describe("how long it takes", () => {
  it("is said in words that agree, with how short it is", () => {
    show(<Totals order={order()} />);
    expect(
      screen.getByText(/^1 placement, 0 masks, 2 cleanings, 3 min of waiting\. Within 4 %/),
    ).toBeTruthy();
  });

  it("says what is saved by making several cards together", () => {
    show(<Totals order={order({ cards: 3, one_by_one: 120 })} />);
    expect(screen.getByRole("heading", { name: "42 min for 3 cards" })).toBeTruthy();
    expect(screen.getByText("One card after another would take 2 h, 1 h 18 min more.")).toBeTruthy();
  });

  const work = () => ({ stop: { mutate: vi.fn() }, look: { mutate: vi.fn(), isPending: false }, take: { mutate: vi.fn(), isPending: false } }); // prettier-ignore
  it("can be looked for, and a search can be stopped", () => {
    const own = work();
    const seen = show(<Better order={order()} work={own as never} />);
    fireEvent.click(screen.getByRole("button", { name: "Look for a shorter one" }));
    expect(own.look.mutate).toHaveBeenCalled();
    seen.again(<Better order={order({ job: { state: "running", share: 0.4 } })} work={own as never} />);
    fireEvent.click(screen.getByRole("button", { name: "Stop" }));
    expect(own.stop.mutate).toHaveBeenCalled();
  });

  it("is taken or not, and taken back", () => {
    const own = work();
    const seen = show(
      <Better order={order({ better: { minutes: 36, saves: 6, taken: false } })} work={own as never} />,
    );
    expect(screen.getByRole("status").textContent).toContain(
      "An order that takes 36 min, 6 min less. The picture stays the same.",
    );
    fireEvent.click(screen.getByRole("button", { name: "Take it" }));
    expect(own.take.mutate).toHaveBeenLastCalledWith(true);
    seen.again(
      <Better order={order({ better: { minutes: 36, saves: 6, taken: true } })} work={own as never} />,
    );
    fireEvent.click(screen.getByRole("button", { name: "Back to the first order" }));
    expect(own.take.mutate).toHaveBeenLastCalledWith(false);
    seen.again(
      <Better order={order({ better: { minutes: 50, saves: -8, taken: false } })} work={own as never} />,
    );
    expect(screen.getByRole("status").textContent).toContain("by your wishes takes 50 min, 8 min more");
  });
});

describe("the steps", () => {
  const two = order({
    visits: [
      visit(0, [step("place"), ink("a"), ink("b")]),
      visit(3, [step("place", { sheet: 2 }), ink("c", 2)]),
    ],
  });

  it("stand under the sheet that is seated", () => {
    visits(two);
    expect(screen.getAllByRole("heading", { level: 2 }).map((h) => h.textContent)).toEqual([
      "Sheet 1: Bases",
      "Sheet 2: Tones",
    ]);
    const rows = within(screen.getAllByRole("list")[1] as HTMLElement).getAllByRole("listitem");
    expect(rows.map((r) => within(r).getAllByText(/\d/)[0]?.textContent)).toEqual(["4", "5"]);
  });

  it("put a whole sheet before the one above, by a pin for each of its passes", () => {
    const { change } = visits(two);
    fireEvent.click(screen.getByRole("button", { name: "Before sheet 1" }));
    expect(change).toHaveBeenCalledWith("several", {
      edits: [{ kind: "pin_order", values: { before: "c", after: "a" } }],
    });
    expect(pinsBefore(two.visits[0] as never, two.visits[1] as never)).toEqual([{ before: "a", after: "c" }, { before: "b", after: "c" }]); // prettier-ignore
  });

  it("keep a return to a sheet apart, and say where one is", () => {
    const back = [visit(0, [step("place"), ink("a")]), visit(2, [step("place", { sheet: 2 }), ink("c", 2)]), visit(4, [step("place"), ink("b")])]; // prettier-ignore
    const { change } = visits(order({ visits: back }));
    fireEvent.click(screen.getByRole("button", { name: "Keep this return apart" }));
    expect(change).toHaveBeenCalledWith("keep_apart", { passes: ["b"], after: "a" });
    cleanup();
    visits(order({ visits: back, returns: [{ passes: ["b"], sheet: 1, called: "x" }] }));
    expect(screen.getByText("kept apart")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Keep this return apart" })).toBeNull();
  });

  it("tell whose hands and what to mind, and how a time was found where one is chosen", () => {
    const steps = [step("prep", { word: "Cut", who: 2, caution: "Cap the knife.", how: "8 cuts" })];
    visits(order({ visits: [visit(0, steps)] }), 0);
    for (const said of [
      "Cut",
      "Second pair of hands: prep it",
      "Cap the knife.",
      "How the time is found: 8 cuts",
    ])
      expect(screen.getByText(said), said).toBeTruthy();
    // other work waits for nothing that could be followed back
    expect(screen.queryByText("Following it back…")).toBeNull();
  });

  it("are called by their seat, and cards as people count them", () => {
    expect(titleOf(laid, 3)).toBe("Thank you");
    expect(titleOf(laid, null)).toBe("First");
    expect([[[1], 1], [[2], 3], [[1, 2, 3], 3], [[2, 3], 5], [[1, 3], 5]].map(([c, n]) => cardsSaid(c as number[], n as number))).toEqual(["", "card 2", "all 3 cards", "cards 2 to 3", "cards 1, 3"]); // prettier-ignore
  });
});

describe("why a step stands where it does", () => {
  const where = "/api/colourings/6/order/why/3";
  const asked = (answer: object, others: string[] = []) => {
    served({
      [`GET ${where}`]: {
        because: ["Campion is dry in minute 12."],
        earlier: null,
        earlier_key: null,
        cost: null,
        forbids: null,
        ...answer,
      },
    });
    return inBuild(<Why order={order()} place={3} pass="a" others={others} />);
  };

  it("says what it would cost earlier, and does it", async () => {
    const { change } = asked({ earlier: "Thin Ice on water", earlier_key: "b", cost: 1.5 });
    fireEvent.click(
      await screen.findByRole("button", { name: "Do it before Thin Ice on water (2 min more)" }),
    );
    expect(change).toHaveBeenCalledWith("pin_order", { before: "a", after: "b" });
    expect(screen.getByText("Campion is dry in minute 12.")).toBeTruthy();
  });

  it("names the rules where the craft forbids it", async () => {
    asked({ earlier: "Thin Ice on water", earlier_key: "b", forbids: "it lies over the base." });
    expect(await screen.findByText("Not before Thin Ice on water: it lies over the base.")).toBeTruthy();
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("comes back to the sheet for it later", async () => {
    const { change } = asked({}, ["b", "c"]);
    fireEvent.click(await screen.findByRole("button", { name: "Come back to this sheet for it later" }));
    expect(change).toHaveBeenCalledWith("keep_apart", { passes: ["a"], after: "c" });
  });
});

describe("what is wished", () => {
  const wished = (change: object = {}) => {
    const found = inBuild(<Wishes order={order(change)} />);
    fireEvent.click(screen.getByRole("button", { name: "More wishes" }));
    return found.change;
  };
  const choose = (label: string, option: string) => {
    fireEvent.mouseDown(screen.getByRole("combobox", { name: label }));
    fireEvent.click(screen.getByRole("option", { name: option }));
  };

  it("puts cutting and putting together into the work", () => {
    const change = wished();
    choose("Cutting and putting together", "part of the work");
    expect(change).toHaveBeenCalledWith("wish_order", { assembly: true });
  });

  it("takes up a second copy of a stencil sheet, and lets it go again", () => {
    const { wishes } = order();
    const change = wished({ wishes: { ...wishes, twice: [2] } });
    const sheets = within(screen.getByRole("group", { name: "Sheets you have twice" }));
    // words that were printed apart are no sheet of a stencil
    expect(sheets.getAllByRole("button").map((b) => b.getAttribute("aria-pressed"))).toEqual([
      "false",
      "true",
    ]);
    fireEvent.click(sheets.getByRole("button", { name: "Sheet 1: Bases" }));
    expect(change).toHaveBeenLastCalledWith("wish_order", { twice: [2, 1] });
    fireEvent.click(sheets.getByRole("button", { name: "Sheet 2: Tones" }));
    expect(change).toHaveBeenLastCalledWith("wish_order", { twice: [] });
  });

  it("asks of several cards what makes no sense of one", () => {
    wished();
    expect(screen.queryByRole("combobox", { name: "Several cards" })).toBeNull();
    cleanup();
    const change = wished({ cards: 4, wishes: { ...order().wishes, rack: 5 } });
    choose("Several cards", "all together");
    expect(change).toHaveBeenLastCalledWith("wish_order", { lead: false });
    // what was set elsewhere is offered as well
    expect(screen.getByRole("combobox", { name: "Places to dry" }).textContent).toBe("5 cards");
  });

  it("takes other work with minutes that are some", () => {
    const change = wished({ jobs: [{ key: "j", name: "Fold", minutes: 4 }] });
    const add = screen.getByRole("button", { name: "Add" }) as HTMLButtonElement;
    fireEvent.change(screen.getByLabelText("Fold the bases, stamp the inside…"), {
      target: { value: " Stamp " },
    });
    for (const wrong of ["0", "121", "soon", "-4"]) {
      fireEvent.change(screen.getByLabelText("Minutes"), { target: { value: wrong } });
      expect(add.disabled, wrong).toBe(true);
    }
    fireEvent.change(screen.getByLabelText("Minutes"), { target: { value: "2,5" } });
    fireEvent.click(add);
    expect(change).toHaveBeenCalledWith("add_job", { name: "Stamp", minutes: 2.5 });
    fireEvent.click(screen.getByRole("button", { name: "Take Fold off the list" }));
    expect(change).toHaveBeenLastCalledWith("drop_job", { key: "j" });
  });

  it("says when to begin, also before midnight", () => {
    wished();
    fireEvent.change(screen.getByLabelText("Ready by"), { target: { value: "00:30" } });
    expect(screen.getByText("Begin at 23:48 the day before at the latest: it takes 42 min.")).toBeTruthy();
    expect(beginAt("18:00", 90)).toBe("16:30");
    expect(beginAt("", 90)).toBeNull();
  });

  it("lets go of pins, one and all, and tells of those that cannot be", () => {
    const pins = Array.from({ length: 8 }, (_, n) => ({
      before: `a${n}`,
      after: `b${n}`,
      called: `pin ${n}`,
      kept: n > 0,
    }));
    const change = wished({ pins });
    expect(screen.getByText(/^pin 0\. As the plan stands now it cannot be so/)).toBeTruthy();
    expect(screen.getByText("and 2 more")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Let go of: pin 3" }));
    expect(change).toHaveBeenCalledWith("unpin_order", { before: "a3", after: "b3" });
    fireEvent.click(screen.getByRole("button", { name: "Let go of all" }));
    expect(change).toHaveBeenLastCalledWith("unpin_order", { all: true });
  });
});

const state = {
  id: 6, build_id: 5, stock_name: "Kraft", stock_colour: { hex: "#be9b73" },
  elements: [{ name: "koi", rungs: [{ sheet: 1 }] }, { name: "water", rungs: [{ sheet: 1 }] }],
} as unknown as State; // prettier-ignore
const pull = (change: object = {}) => ({
  pads: [],
  stock: { name: "Kraft", count: 2 },
  sheets: ["Sheet 1"],
  brushes: ["a medium brush"],
  masks: [],
  bottles: [],
  rest: ["towels"],
  ...change,
});

describe("setting the table", () => {
  it("stops where a pad is missing, with a way to what would do instead", () => {
    const pads = [{ ink: "c", name: "Campion", place: "tin 2", missing: "has run dry", colour: { hex: "#f00" } }, { ink: "t", name: "Thin Ice", place: "", missing: null, colour: { hex: "#0ff" } }]; // prettier-ignore
    show(<SetTable table={{ pull: pull({ pads }) } as unknown as Table} state={state} id={6} />);
    expect(screen.getByRole("alert").textContent).toContain("Campion has run dry.");
    expect(screen.getByRole("link", { name: "Choose a stand-in" }).getAttribute("href")).toBe(
      "/builds/5/colourings/6/strata",
    );
    expect(screen.getByText("no place noted")).toBeTruthy();
    expect(screen.getByText("2 panels of Kraft")).toBeTruthy();
    expect(screen.queryByRole("region", { name: "To cover" })).toBeNull();
  });
});

describe("what is wet", () => {
  it("has a clock of its own from when it was done; the weight as well", () => {
    const steps = [
      ink("a", 1, { done: ["x"], at: 1000, clock: "ink:1:a", dries: 3, inked: { element: "koi" }, card: 2 }),
      step("wash", { done: ["y"], at: 1100, clock: "sheet:1", dries: 3 }),
      step("prep", { done: ["z"], at: 1200, clock: "job:finish:press", dries: 10 }),
      ink("b", 1, { clock: "ink:1:b", dries: 3 }),
    ];
    const found = clocksOf(steps, laid);
    expect(found.map((c) => [c.what, c.card, c.dry])).toEqual([["koi", 2, 1180], ["Sheet 1", 0, 1280], ["Under the weight", 0, 1800]]); // prettier-ignore
    expect(dryAt(step("wait", { clock: "sheet:1" }), found)).toBe(1280);
    expect(dryAt(step("wait", { clock: "sheet:9" }), found)).toBeNull();
    expect([0, 59.2, 60, 125, -4].map(shown)).toEqual(["0:00", "1:00", "1:00", "2:05", "0:00"]);
  });
});

describe("a step at the table", () => {
  const table = (steps: TableStep[], at: number, change: object = {}) =>
    ({
      steps,
      at,
      step: steps[at],
      ticks: [],
      table: { cards: [{ number: 1 }, { number: 2 }], pull: pull() },
      next: vi.fn(),
      tick: vi.fn(),
      log: { takeBack: vi.fn(), happen: vi.fn() },
      ...change,
    }) as unknown as TableHandle;

  it("says which card, whose hands, what to mind and what comes then", () => {
    const steps = [
      step("seal", { sentence: "Seal the panel.", card: 2, who: 2, caution: "Air the room." }),
      step("wait", { sentence: "Let it dry." }),
    ];
    show(<StepCard state={state} set={laid} table={table(steps, 0)} clocks={[]} />);
    expect(screen.getByText("Card 2, for the second pair of hands")).toBeTruthy();
    expect(screen.getByText("Air the room.")).toBeTruthy();
    expect(screen.getByText("Then: Let it dry.")).toBeTruthy();
  });

  it("is of no card where it is done beside them", () => {
    show(
      <StepCard
        state={state}
        set={laid}
        table={table([step("prep", { sentence: "Cut the other pieces." })], 0)}
        clocks={[]}
      />,
    );
    expect(screen.queryByText(/^Card /)).toBeNull();
  });

  it("is none where nothing is planned", () => {
    show(<StepCard state={state} set={laid} table={table([], 0)} clocks={[]} />);
    expect(screen.getByRole("heading", { name: "Nothing to do yet." })).toBeTruthy();
  });

  it("asks once for what was not ticked, while the sheet still lies there", () => {
    const steps = [ink("a"), step("lift")];
    const handle = table(steps, 1, { ticks: ["koi"] });
    const { result, rerender } = renderHook(() => useAsking(state, laid, handle));
    expect(result.current.left).toEqual([]);
    act(() => result.current.next());
    rerender();
    expect(result.current.left).toEqual(["water"]);
    expect(handle.next).not.toHaveBeenCalled();
    show(<Forgotten asking={result.current} />);
    expect(screen.getByText(/Not ticked: water\. The sheet still lies there/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "It is inked, go on" }));
    expect(handle.next).toHaveBeenCalledTimes(1);
  });

  it("lets who ticks nothing say it by the button", () => {
    const handle = table([ink("a"), step("lift")], 1);
    const { result } = renderHook(() => useAsking(state, laid, handle));
    expect(result.current.claims).toBe(true);
    act(() => result.current.next());
    expect(handle.next).toHaveBeenCalledTimes(1);
  });

  it("that went wrong is told of, with by how much, and what saves it is taken", async () => {
    const inked = { key: "a", ink: "campion", ink_name: "Campion", element: "koi" };
    const steps = [ink("a", 1, { done: ["x"], inked, card: 1 }), step("lift")];
    const events = [{ kind: "slipped", body: { dx: 1 } }];
    const sent = served({ "POST /api/colourings/6/table/wrong": { sentence: "It slipped by 1 mm.", meant: null, now: null, events, remedies: [{ key: "leave", sentence: "Leave it", colour: null, off: null, words: null, events: [] }] } }); // prettier-ignore
    const handle = table(steps, 1);
    const onDone = vi.fn();
    show(<WentWrong id={6} table={handle} card="#fff" onDone={onDone} />, { known: [[keys.allInks, []]] });
    const ask = screen.getByRole("button", { name: "What now?" }) as HTMLButtonElement;
    fireEvent.click(screen.getByRole("button", { name: "The sheet slipped" }));
    expect(ask.disabled).toBe(true);
    fireEvent.click(screen.getByRole("button", { name: "Right" }));
    fireEvent.click(screen.getByRole("button", { name: "Right" }));
    fireEvent.click(screen.getByRole("button", { name: "Up" }));
    expect(screen.getByText("1 mm to the right, 0.5 mm up")).toBeTruthy();
    fireEvent.click(ask);
    await waitFor(() => expect(screen.getByText("It slipped by 1 mm.")).toBeTruthy());
    expect(sent[0]?.body).toEqual({ what: "slipped", card: 1, pass: "a", dx: 1, dy: -0.5 });
  });

  const koi = { key: "a", ink: "c", ink_name: "C", element: "koi", hand: "medium", paler: { hand: "light" } };
  const ways = [
    {
      what: "pale",
      sentence: "{ink} on {element} came out too pale.",
      events: [{ kind: "otherwise", body: { card: "$card", pass: "$pass", "*": "$paler" } }],
      ways: [{ key: "leave", sentence: "Leave it and go on.", events: [], needs: "", several: false }],
    },
  ];
  const aloneAt = (inked: object, change: object = {}) => {
    const handle = table([ink("a", 1, { done: ["x"], inked })], 1, { offline: true, ...change });
    (handle.table as unknown as { ways: unknown }).ways = ways;
    const onDone = vi.fn();
    show(<WentWrong id={6} table={handle} card="#fff" onDone={onDone} />);
    return { handle, onDone };
  };

  it("is told while the house computer is out of reach as well, and gone on from", () => {
    const { handle, onDone } = aloneAt(koi);
    expect(screen.getByRole("status").textContent).toContain("out of reach just now");
    fireEvent.click(screen.getByRole("button", { name: "It came out too pale" }));
    fireEvent.click(screen.getByRole("button", { name: "What now?" }));
    expect(screen.getByText("C on koi came out too pale.")).toBeTruthy();
    expect(screen.getByText("How it will look is reckoned when the house computer is back.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Leave it and go on." }));
    const body = { card: 1, pass: "a", hand: "light" };
    expect(handle.log.happen).toHaveBeenCalledWith({ kind: "otherwise", body });
    expect(onDone).toHaveBeenCalled();
  });

  it("does not take a light coat for paler than it can be", () => {
    aloneAt({ ...koi, paler: null });
    fireEvent.click(screen.getByRole("button", { name: "It came out too pale" }));
    expect(screen.getByText(/One light coat cannot be laid paler/)).toBeTruthy();
    expect((screen.getByRole("button", { name: "What now?" }) as HTMLButtonElement).disabled).toBe(true);
  });

  it("falls back to what the table knows where the network goes as it is asked", async () => {
    vi.stubGlobal("fetch", vi.fn().mockRejectedValue(new TypeError("gone")));
    aloneAt(koi, { offline: false });
    fireEvent.click(screen.getByRole("button", { name: "It came out too pale" }));
    fireEvent.click(screen.getByRole("button", { name: "What now?" }));
    await waitFor(() => expect(screen.getByText("C on koi came out too pale.")).toBeTruthy());
  });
});
