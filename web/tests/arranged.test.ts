/** Sheets of a set on its way in, as they lie after a press and before the answer. */
import { describe, expect, it } from "vitest";
import type { Import } from "../src/api/client";
import { arranged, choicesOf, fromTo, type LaidSheet } from "../src/views/sets/bring/arranged";

const sheet = (name: string) => ({
  title: name, name: `${name}.svg`, turn: 0, mirrored: false, dropped: [], retouches: [], may_be_off: [], places: [], blinded: [], together: [], lines_apart: null, by_ruler: null, unclear: false, corners: null, photo: null,
  photo_size: [], openings: [], doubtful: [],
}); // prettier-ignore
const item = {
  id: 1,
  sheets: ["a", "b", "c"].map(sheet),
  draft: {
    width_mm: 100, height_mm: 140, overlaps: [], elements: [],
    sheets: ["a", "b", "c"].map((name, n) => ({ number: n + 1, name, groups: [], shapes: [], marks: "", openings: 1 })),
  },
} as unknown as Import; // prettier-ignore

/** A point under an SVG transform of translations, turns and scales. */
function carried(transform: string, at: [number, number]): [number, number] {
  const steps = [...transform.matchAll(/(\w+)\(([^)]*)\)/g)].reverse();
  return steps.reduce<[number, number]>(([x, y], [, name, values]) => {
    const [a = 0, b = 0] = (values ?? "").split(" ").map(Number);
    if (name === "translate") return [x + a, y + b];
    if (name === "scale") return [x * a, y * b];
    const angle = (a * Math.PI) / 180;
    return [x * Math.cos(angle) - y * Math.sin(angle), x * Math.sin(angle) + y * Math.cos(angle)];
  }, at);
}

describe("sheets arranged", () => {
  it("moves one later twice, and it is two places further", () => {
    const later = (now: Import, from: number) => {
      const choices = choicesOf(now);
      const [one] = choices.splice(from, 1);
      if (one) choices.splice(from + 1, 0, one);
      return arranged(now, choices);
    };
    const after = later(later(item, 0), 1);
    expect(after.sheets.map((s) => s.title)).toEqual(["b", "c", "a"]);
    expect(after.draft?.sheets.map((s) => s.number)).toEqual([2, 3, 1]);
    expect(choicesOf(after).map((c) => c.at)).toEqual([0, 1, 2]);
  });

  it("turns over first and then turns, as the sheet is laid", () => {
    // a point 20 to the right of the middle: turned over it is 20 to the left, then a quarter turn puts it above
    const found = carried(
      fromTo({ turn: 0, mirrored: false }, { turn: 90, mirrored: true }, 100, 140),
      [70, 70],
    );
    expect(found.map(Math.round)).toEqual([50, 50]);
    expect(fromTo({ turn: 90, mirrored: true }, { turn: 90, mirrored: true }, 100, 140)).toBe("");
  });

  it("is back where it was after it is turned all the way round", () => {
    let now = item;
    for (const turn of [90, 180, 270, 0] as const)
      now = arranged(
        now,
        choicesOf(now).map((c) => (c.at === 1 ? { ...c, turn } : c)),
      );
    const laid = now.draft?.sheets[1] as LaidSheet;
    expect(carried(laid.transform ?? "", [12, 34]).map((v) => Math.round(v * 1000) / 1000)).toEqual([12, 34]);
  });

  it("keeps what was pressed before the answer came", () => {
    const bare = (x: number) => ({ kind: "leave" as const, points: [[x, 1], [x, 1]] }); // prettier-ignore
    const press = (now: Import, x: number) =>
      arranged(
        now,
        choicesOf(now).map((c) => (c.at === 2 ? { ...c, retouches: [...c.retouches, bare(x)] } : c)),
      );
    const after = press(press(item, 1), 2);
    expect(after.sheets.map((s) => s.retouches)).toEqual([[], [], [bare(1), bare(2)]]);
  });

  it("leaves the drawing alone where its sheets are others than the files", () => {
    const other = { ...item, sheets: item.sheets.slice(0, 2) } as Import;
    expect(arranged(other, choicesOf(other)).draft).toBe(other.draft);
  });
});
