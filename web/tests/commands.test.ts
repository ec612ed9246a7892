/** Commands of the core sample and of naming parts: the same for buttons and keys, and none that does harm. */
import { describe, expect, it, vi } from "vitest";
import type { LayerSet, Rung } from "../src/api/client";
import { command, commandFor, COMMANDS, printed, type Stage } from "../src/views/build/strata/commands";
import { ALL, type Naming, nextUnnamed, wholeElements } from "../src/views/sets/opened/naming";

const rung = (key: string, change: Partial<Rung> = {}): Rung =>
  ({ key, hand: "medium", coats: 1, most_coats: 3, lighter: null, deeper: "stove-door", ...change }) as Rung;

function stage(chosen: number | null, change: Partial<Rung> = {}) {
  const rungs = [rung("a"), rung("b", change), rung("c")];
  const made: unknown[][] = [];
  const own = {
    change: (...edit: unknown[]) => made.push(edit),
    rungs,
    rung: chosen === null ? null : (rungs[chosen] ?? null),
    choose: vi.fn(),
    openDrawer: vi.fn(),
    standIn: vi.fn(),
    setBeside: vi.fn(),
    scrub: vi.fn(),
    nextElement: vi.fn(),
  };
  return { stage: own as unknown as Stage, made, own };
}

const key = (name: string, more: KeyboardEventInit = {}) =>
  commandFor(new KeyboardEvent("keydown", { key: name, ...more }));

describe("commands of the core sample", () => {
  it("no key means two things, no name is there twice", () => {
    const all = COMMANDS.flatMap((c) => c.keys);
    expect(new Set(all).size).toBe(all.length);
    expect(new Set(COMMANDS.map((c) => c.id)).size).toBe(COMMANDS.length);
  });

  it("without a pass none of them changes anything", () => {
    const { stage: own, made } = stage(null);
    for (const c of COMMANDS) c.perform(own);
    expect(made).toEqual([]);
  });

  it("f and p open what lies beside the picture", () => {
    for (const [letter, what] of [
      ["f", "families"],
      ["p", "proposals"],
    ] as const) {
      const { stage: here, own } = stage(null);
      key(letter)?.perform(here);
      expect(own.setBeside).toHaveBeenCalledWith(what);
    }
  });

  it("what is not possible is not offered", () => {
    const offered = (at: number, change: Partial<Rung> = {}) =>
      COMMANDS.filter((c) => c.enabled(stage(at, change).stage)).map((c) => c.id);
    expect(offered(1)).toContain("deepen");
    expect(offered(1)).not.toContain("lighten");
    expect(offered(1, { coats: 3 })).not.toContain("more");
    expect(offered(1)).not.toContain("less");
    expect(offered(0)).not.toContain("down");
    expect(offered(2)).not.toContain("up");
  });

  it.each([
    ["]", ["deepen", { pass: "b" }]],
    ["+", ["add_coats", { pass: "b", by: 1 }]],
    ["=", ["add_coats", { pass: "b", by: 1 }]],
    ["-", ["add_coats", { pass: "b", by: -1 }]],
    ["h", ["set_hand", { pass: "b", hand: "heavy" }]],
    ["Delete", ["remove_pass", { pass: "b" }]],
  ])("%s makes its edit on the chosen pass", (name, edit) => {
    const { stage: own, made } = stage(1);
    key(name)?.perform(own);
    expect(made).toEqual([edit]);
  });

  it("hands go round", () => {
    const hands = ["light", "medium", "heavy"] as const;
    const after = hands.map((hand) => {
      const { stage: own, made } = stage(1, { hand });
      command("hand").perform(own);
      return (made[0]?.[1] as { hand: string }).hand;
    });
    expect(after).toEqual(["medium", "heavy", "light"]);
  });

  it("arrows choose and stay at the ends; with Alt they move", () => {
    const chosen = (at: number | null, name: string) => {
      const { stage: own, own: spies } = stage(at);
      key(name)?.perform(own);
      return spies.choose.mock.lastCall?.[0] as string;
    };
    expect([chosen(0, "ArrowUp"), chosen(2, "ArrowUp"), chosen(null, "ArrowUp")]).toEqual(["b", "c", "a"]);
    expect([chosen(2, "ArrowDown"), chosen(0, "ArrowDown"), chosen(null, "ArrowDown")]).toEqual([
      "b",
      "a",
      "c",
    ]);
    const { stage: own, made } = stage(1);
    key("ArrowUp", { altKey: true })?.perform(own);
    expect(made).toEqual([["move_pass", { pass: "b", by: 1 }]]);
  });

  it("leaves the browser its own keys", () => {
    expect(key("s", { ctrlKey: true })).toBeUndefined();
    expect(key("h", { metaKey: true })).toBeUndefined();
    expect(key("q")).toBeUndefined();
  });

  it("prints keys as they are on the keyboard", () => {
    expect([["Alt+ArrowUp"], ["+"], ["h"], []].map(printed)).toEqual(["Alt ↑", "+", "h", ""]);
  });
});

const shape = (k: string, element: string, role = "tone") => ({ key: k, element, role });
const set = {
  sheets: [
    { number: 1, shapes: [shape("1a", "koi"), shape("1b", "part 1"), shape("1c", "part 2")] },
    { number: 2, shapes: [shape("2a", "koi"), shape("2b", "part 1"), shape("2w", "part 3", "waste")] },
  ],
} as unknown as LayerSet;

function naming(chosen: string[]) {
  const own = {
    set,
    chosen,
    elements: ["koi"],
    edit: vi.fn(() => Promise.resolve()),
    choose: vi.fn(),
    cut: vi.fn(),
    cutting: false,
  };
  return { n: own as unknown as Naming, own };
}

describe("commands of naming", () => {
  it("no key means two things", () => {
    expect(new Set(ALL.map((c) => c.key)).size).toBe(ALL.length);
  });

  it("the whole part goes over all sheets", () => {
    expect(wholeElements(naming(["1a"]).n)).toEqual(["1a", "2a"]);
    expect(wholeElements(naming(["1a", "2b"]).n)).toEqual(["1a", "1b", "2a", "2b"]);
    expect(wholeElements(naming([]).n)).toEqual([]);
  });

  it("the next unnamed goes round, and waste is none", () => {
    expect(nextUnnamed(naming([]).n)).toEqual(["1b", "2b"]);
    expect(nextUnnamed(naming(["1b"]).n)).toEqual(["1c"]);
    expect(nextUnnamed(naming(["1c"]).n)).toEqual(["1b", "2b"]);
    expect(nextUnnamed(naming(["1a"]).n)).toEqual(["1b", "2b"]);
  });

  it("nothing is offered that needs a choice where there is none", () => {
    const offered = (chosen: string[]) => ALL.filter((c) => c.enabled(naming(chosen).n)).map((c) => c.id);
    expect(offered([])).toEqual(["next"]);
    expect(offered(["1a"])).not.toContain("join");
    expect(offered(["1a", "1b"])).not.toContain("split");
  });

  it("what is joined is no longer chosen; a role keeps the choice", async () => {
    const joined = naming(["1a", "1b"]);
    ALL.find((c) => c.id === "join")?.perform(joined.n);
    await Promise.resolve();
    expect(joined.own.edit).toHaveBeenCalledWith("join", { openings: ["1a", "1b"] });
    expect(joined.own.choose).toHaveBeenCalledWith([]);
    const lined = naming(["1a"]);
    ALL.find((c) => c.id === "line")?.perform(lined.n);
    expect(lined.own.edit).toHaveBeenCalledWith("role", { openings: ["1a"], role: "line" });
    expect(lined.own.choose).not.toHaveBeenCalled();
  });
});
