/** Geometry on screen: lengths, shading from a drag, the drawer's map, pointing in a set. */
import { describe, expect, it } from "vitest";
import type { Form, Gap, Group, Ink } from "../src/api/client";
import { bed, slab } from "../src/parts/coreShapes";
import { onlyChanged } from "../src/parts/changed";
import { contents, length, minutes, size } from "../src/parts/lengths";
import { typed } from "../src/parts/words";
import { formFromDrag, formSentence } from "../src/views/build/strata/shading";
import { across, down, familyLines, HUES_END, neighbour, patch, spots } from "../src/views/inks/mapPlaces";
import { inside, middle } from "../src/views/sets/opened/geometry";

describe("lengths", () => {
  it("writes inches as practitioners do", () => {
    expect(length(107.95, "in")).toBe("4 1/4 in");
    expect(length(25.4, "in")).toBe("1 in");
    expect(length(3.175, "in")).toBe("1/8 in");
    expect(length(0, "in")).toBe("0 in");
    expect(size(107.95, 139.7, "in")).toBe("4 1/4 × 5 1/2 in");
  });
  it("writes millimetres to a tenth", () => {
    expect(length(107.95, "mm")).toBe("108 mm");
    expect(length(3.14159, "mm")).toBe("3.1 mm");
  });
  it("every sixteenth comes out as the fraction it is", () => {
    for (let n = 1; n < 16; n += 1) {
      const [top = 0, bottom = 1] = (length((n * 25.4) / 16, "in").split(" ")[0] ?? "")
        .split("/")
        .map(Number);
      expect(top / bottom).toBeCloseTo(n / 16);
      expect(top % 2).toBe(1);
    }
  });
  it("says minutes as people say them", () => {
    expect([0.05, 0.5, 1.2, 59, 60, 99.05, 120].map(minutes)).toEqual([
      "5 s",
      "30 s",
      "1 min",
      "59 min",
      "1 h",
      "1 h 39 min",
      "2 h",
    ]);
  });
  it("calls the parts of a set by its kind", () => {
    const nouns = { one: "step", many: "steps", shape: "shape", shapes: "shapes" };
    const set = { kind: "stamp set" as const, nouns, sheet_count: 1, opening_count: 1 };
    expect(contents(set)).toBe("A stamp set of 1 step, 1 shape");
    expect(contents({ ...set, sheet_count: 6, opening_count: 339 })).toBe(
      "A stamp set of 6 steps, 339 shapes",
    );
  });
  it("reads figures as people type them", () => {
    expect([typed("4,5"), typed(" 4.5 "), typed("−2")]).toEqual([4.5, 4.5, -2]);
    expect(typed("")).toBeNaN();
    expect(typed("abc")).toBeNaN();
  });
});

describe("a form's changed values", () => {
  it("sends only what was changed", () => {
    const opened = { name: "Campion", place: "tin 4", state: "full", lab: [1, 2, 3] };
    expect(onlyChanged({ name: "Campion", place: "tin 5", state: "full", lab: [1, 2, 3] }, opened)).toEqual({
      place: "tin 5",
    });
    expect(onlyChanged({ lab: [1, 2, 4] }, opened)).toEqual({ lab: [1, 2, 4] });
    expect(onlyChanged({ name: "Campion" }, opened)).toEqual({});
  });
});

const FORM: Form = { kind: "all", angle: 90, extent: 0.5, place: 0.5, span: "element" };
const group = (box: number[]): Group => ({
  element: "leaf",
  sheet: 1,
  role: "tone",
  outline: "",
  openings: 1,
  area_mm2: 100,
  width_mm: 10,
  brush: "small brush",
  box,
});

describe("shading from a drag", () => {
  it("the ink comes from where the drag began", () => {
    const form = formFromDrag(FORM, group([0, 0, 40, 20]), { x: 40, y: 10 }, { x: 20, y: 10 });
    expect(form).toMatchObject({ kind: "side", angle: 0, span: "element" });
    expect(form.extent).toBeCloseTo(0.5);
    expect(formFromDrag(FORM, group([0, 0, 40, 20]), { x: 20, y: 20 }, { x: 20, y: 5 }).angle).toBe(90);
  });
  it("stays within what a form can be, however far one drags", () => {
    for (const kind of ["side", "base", "centre", "edges", "band"] as const) {
      for (const to of [-500, 0, 3, 20, 900]) {
        const form = formFromDrag(
          { ...FORM, kind },
          group([0, 0, 40, 20]),
          { x: 10, y: 10 },
          { x: to, y: 7 },
        );
        expect(form.extent).toBeGreaterThanOrEqual(0.05);
        expect(form.extent).toBeLessThanOrEqual(1);
        expect(form.place).toBeGreaterThanOrEqual(0);
        expect(form.place).toBeLessThanOrEqual(1);
        expect(form.angle).toBeGreaterThanOrEqual(0);
        expect(form.angle).toBeLessThan(360);
      }
    }
  });
  it("says a form in words", () => {
    expect(formSentence(FORM)).toBe("all over");
    expect(formSentence({ ...FORM, kind: "side", angle: 225, extent: 0.4 })).toBe("from upper left, 40 %");
    expect(formSentence({ ...FORM, kind: "edges", span: "opening" })).toBe("edges in, 50 %, each opening");
  });
});

const ink = (key: string, hue: number, lightness: number, chroma = 40, family = ""): Ink =>
  ({ key, hue, lightness, chroma, neutral: chroma < 12, family, line: "Sluice", dabs: [] }) as unknown as Ink;

describe("the drawer's map", () => {
  it("lies by hue across and lightness down", () => {
    expect(across(336)).toBeLessThan(across(30));
    expect(across(30)).toBeLessThan(across(200));
    expect(across(334)).toBeGreaterThan(across(200));
    expect(down(90)).toBeLessThan(down(20));
  });
  it("lets no dab hide another, and none leave its place by far", () => {
    const inks = Array.from({ length: 8 }, (_, i) => ink(`i${i}`, 100 + i * 0.2, 50));
    const placed = spots(inks);
    for (const spot of placed) expect(Math.abs(spot.x - across(spot.ink.hue))).toBeLessThanOrEqual(26.001);
    const xs = placed.map((s) => s.x).sort((a, b) => a - b);
    expect(Math.max(...xs) - Math.min(...xs)).toBeGreaterThan(20);
    expect(placed.every((s) => s.y === down(50))).toBe(true);
  });
  it("greys stand on a strip of their own", () => {
    expect(spots([ink("g", 100, 50, 3)])[0]?.x).toBeGreaterThan(HUES_END);
  });
  it("joins a family from light to deep, and never across the cut", () => {
    const placed = spots([
      ink("deep", 40, 30, 40, "Rose"),
      ink("pale", 42, 80, 40, "Rose"),
      ink("lost", 330, 50, 40, "Heather"),
      ink("also", 340, 40, 40, "Heather"),
      ink("alone", 120, 40, 40, "Moss"),
    ]);
    const lines = familyLines(placed);
    expect(lines.map((l) => l.key)).toEqual(["Sluice|Rose", "Sluice|Heather"]);
    expect(lines[0]?.path).toMatch(/^M.*L/);
    expect(lines[1]?.path).not.toContain("L");
  });
  it("arrow keys go to the nearest dab that way", () => {
    const placed = spots([ink("a", 40, 50), ink("b", 70, 52), ink("c", 140, 50), ink("d", 41, 20)]);
    const [a] = placed;
    if (!a) throw new Error("no dab");
    expect(neighbour(placed, a, "ArrowRight")?.ink.key).toBe("b");
    expect(neighbour(placed, a, "ArrowDown")?.ink.key).toBe("d");
    expect(neighbour(placed, a, "ArrowLeft")).toBeUndefined();
  });
  it("a gap is a patch of the map, a pair of twins is none", () => {
    const gap = { kind: "shadow", sentence: "", inks: [], hue: [15, 45], lightness: [10, 40], wanted: null };
    const found = patch(gap as unknown as Gap);
    expect(found?.width).toBeCloseTo(across(45) - across(15));
    expect(found?.height).toBeCloseTo(down(10) - down(40));
    expect(patch({ ...gap, hue: null, lightness: null } as unknown as Gap)).toBeNull();
  });
});

describe("pointing in a set", () => {
  const square = "M0,0 10,0 10,10 0,10Z";
  it("finds the middle of an outline, whichever way it turns", () => {
    expect(middle(square)).toEqual([5, 5]);
    expect(middle("M0,10 10,10 10,0 0,0Z")).toEqual([5, 5]);
  });
  it("tells inside from outside", () => {
    const line: [number, number][] = [
      [0, 0],
      [10, 0],
      [10, 10],
      [0, 10],
    ];
    expect(inside([5, 5], line)).toBe(true);
    expect(inside([15, 5], line)).toBe(false);
  });
});

describe("a drilled core", () => {
  it("the same seed gives the same bed, another one another", () => {
    expect(bed(0, 10, 5, 3)).toEqual(bed(0, 10, 5, 3));
    expect(bed(0, 10, 5, 3)).not.toEqual(bed(0, 10, 5, 4));
  });
  it("a slab is closed between two beds", () => {
    expect(slab([[0, 0]], [[0, 5]])).toMatch(/^M.*L.*Z$/);
  });
});
