/** At the table: what is to be ticked, what was forgotten, where to go back to. */
import { describe, expect, it } from "vitest";
import { beginAt } from "../src/views/build/order/Wishes";
import { pinsOf } from "../src/views/build/order/carried";
import { cardsSaid, pinsBefore } from "../src/views/build/order/Visits";
import { backTo, forgotten, toTick } from "../src/views/build/table/ticks";
import type { Laid, State, Step, TableStep, Visit } from "../src/api/client";

const step = (kind: string, sheet: number, element: string | null = null) =>
  ({ kind, sheet, element }) as unknown as Step;

describe("ticks", () => {
  const set = {
    sheets: [{ number: 1, groups: [{ element: "reeds" }, { element: "bud" }, { element: "pale" }] }],
  };
  const state = {
    elements: [
      { name: "reeds", rungs: [{ sheet: 1 }] },
      { name: "bud", rungs: [{ sheet: 1 }, { sheet: 2 }] },
      { name: "pale", rungs: [{ sheet: 2 }] },
    ],
  };
  const asked = (at: Step) =>
    toTick(at as unknown as TableStep, set as unknown as Laid, state as unknown as State);

  it("asks at a lift for what is inked through that sheet, and for every coat of a pass", () => {
    expect(asked(step("lift", 1))).toEqual(["reeds", "bud"]);
    expect(asked(step("wait", 1))).toEqual([]);
    const pass = { ...step("ink", 1), inked: { coats: 2, element: "bud" } } as unknown as TableStep;
    const coats = toTick(pass, set as unknown as Laid, state as unknown as State);
    expect(coats).toEqual(["bud, coat 1", "bud, coat 2"]);
  });

  it("misses what was left out only of those who tick", () => {
    expect(forgotten(["reeds", "bud"], [])).toEqual([]);
    expect(forgotten(["reeds", "bud"], ["bud"])).toEqual(["reeds"]);
    expect(forgotten(["reeds"], ["reeds"])).toEqual([]);
  });

  it("goes back to the last pass of an element through the sheet that still lies there", () => {
    const steps = [
      step("ink", 2, "bud"),
      step("ink", 1, "bud"),
      step("ink", 1, "bud"),
      step("ink", 1, "reeds"),
      step("lift", 1),
    ];
    expect(backTo(steps, 4, "bud")).toBe(2);
    expect(backTo(steps, 4, "moon")).toBeNull();
  });
});

describe("the order in words", () => {
  it("says when to begin", () => {
    expect(beginAt("21:30", 105)).toBe("19:45");
    expect(beginAt("00:30", 60)).toBe("23:30 the day before");
    expect(beginAt("", 60)).toBeNull();
  });

  it("puts a whole sheet before another by its passes", () => {
    const visit = (...keys: (string | null)[]) =>
      ({ steps: keys.map((pass_key) => ({ pass_key })) }) as unknown as Visit;
    expect(pinsBefore(visit(null, "c", "d"), visit(null, "a", "b"))).toEqual([
      { before: "c", after: "a" },
      { before: "d", after: "a" },
    ]);
    expect(pinsBefore(visit("c"), visit(null))).toEqual([]);
  });

  it("pins what is carried forward before, and what is carried back behind", () => {
    const [a, b] = [
      { place: 3, passes: ["p1", "p2"] },
      { place: 9, passes: ["p7"] },
    ];
    expect(pinsOf(b, a)).toEqual([{ before: "p7", after: "p1" }]);
    expect(pinsOf(a, b)).toEqual([
      { before: "p7", after: "p1" },
      { before: "p7", after: "p2" },
    ]);
    expect(pinsOf(a, a)).toEqual([]);
    // a step carried within its own visit
    expect(pinsOf({ place: 4, passes: ["p2"] }, a)).toEqual([{ before: "p2", after: "p1" }]);
  });

  it("says which cards", () => {
    expect(cardsSaid([1, 2, 3], 3)).toBe("all 3 cards");
    expect(cardsSaid([2, 3], 3)).toBe("cards 2 to 3");
    expect(cardsSaid([3], 3)).toBe("card 3");
    expect(cardsSaid([1, 3], 4)).toBe("cards 1, 3");
    expect(cardsSaid([1], 1)).toBe("");
  });
});
