/** The table: set by the order, its clocks, a step that is told, what was not ticked, what went wrong. */
import { act, cleanup, fireEvent, renderHook, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { State, Table, TableStep } from "../src/api/client";
import { keys } from "../src/api/keys";
import { clocksOf, dryAt, shown } from "../src/views/build/table/clocks";
import { Forgotten, useAsking } from "../src/views/build/table/Forgotten";
import { SetTable } from "../src/views/build/table/SetTable";
import { StepCard } from "../src/views/build/table/StepCard";
import type { TableHandle } from "../src/views/build/table/useTable";
import { WentWrong } from "../src/views/build/table/WentWrong";
import { served, show } from "./shown";
import { ink, laid, step } from "./steps";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
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
