import { describe, expect, it } from "vitest";
import type { RecordSummary } from "../src/api/client";
import {
  byElement,
  byYear,
  cards,
  day,
  handSaid,
  laidHow,
  months,
  strengthSaid,
} from "../src/views/log/words";

const made = (id: number, when: string): RecordSummary => ({
  id,
  name: `card ${id}`,
  person: "",
  made: when,
  cards: 1,
  sets: "",
  stock: "Kraft",
  colours: [],
  photographs: [],
});

describe("what cards say", () => {
  it("is said of pads and hands", () => {
    expect(strengthSaid(1.01)).toBe("as strong as measured");
    expect(strengthSaid(0.634)).toBe("a coat comes to 0.63");
    expect(handSaid("heavy", 0.86)).toBe("Your heavy hand lays 14 % less than usual.");
    expect(handSaid("light", 1.05)).toBe("Your light hand lays 5 % more than usual.");
  });
});

describe("the log", () => {
  it("is told by years, and knows its months", () => {
    const all = [
      made(3, "2026-10-29T19:00:00Z"),
      made(2, "2026-03-12T19:00:00Z"),
      made(1, "2025-10-01T12:00:00Z"),
    ];
    expect(byYear(all).map(([year, own]) => [year, own.map((r) => r.id)])).toEqual([
      [2026, [3, 2]],
      [2025, [1]],
    ]);
    // twelve alike are twelve cards
    const counts = months([{ ...made(3, "2026-10-29T19:00:00Z"), cards: 12 }, ...all.slice(0, 2)]);
    expect([counts[2], counts[9], counts.reduce((a, b) => a + b, 0)]).toEqual([1, 13, 14]);
    expect(day("2026-10-29T12:00:00Z")).toBe("29 October 2026");
    expect(cards(1)).toBe("1 card");
  });
  it("gathers what was used by the element it lies on, in the order of laying", () => {
    const laid = (element: string, ink: string) => ({
      element,
      sheet: 1,
      ink,
      name: ink,
      hex: "#000000",
      coats: 1,
      hand: "medium",
    });
    const found = byElement([laid("koi", "a"), laid("lantern", "b"), laid("koi", "c")]);
    expect(found.map(([element, own]) => [element, own.map((u) => u.ink)])).toEqual([
      ["koi", ["a", "c"]],
      ["lantern", ["b"]],
    ]);
    expect(laidHow({ ...laid("koi", "a"), coats: 2, hand: "light" })).toBe("2 coats, light hand");
  });
});
