/** Guides while a thing is pushed about, and lengths as they are typed. */
import { describe, expect, it } from "vitest";
import { figure, parsed } from "../src/parts/lengths";
import { snap, turned } from "../src/views/build/panel/guides";

const PANEL = { width: 100, height: 140, trim: 0 };

describe("guides", () => {
  it("draw to the middle, to the edges and to others, when near", () => {
    const box = [10, 10, 30, 30] as const;
    expect(snap(box, 29.2, 0.2, PANEL, []).dx).toBeCloseTo(30);
    expect(snap(box, -9.4, 50.5, PANEL, []).dx).toBeCloseTo(-10);
    const beside = snap(box, 0.7, 26, PANEL, [[50, 60, 70, 90]]);
    expect(beside.dy).toBeCloseTo(26);
    expect(snap(box, 21, 29, PANEL, [[50, 60, 70, 90]]).dx).toBeCloseTo(20);
  });

  it("leave alone what is meant elsewhere", () => {
    const found = snap([10, 10, 30, 30], 12.5, 21.7, PANEL, []);
    expect([found.dx, found.dy, found.guides]).toEqual([12.5, 21.7, []]);
  });

  it("turn by whole degrees, or by fifteen", () => {
    expect(turned(13.4, false)).toBe(13);
    expect(turned(24, true)).toBe(30);
  });
});

describe("lengths", () => {
  it("are read as people write them", () => {
    for (const [text, mm] of [
      ["4 1/4", 107.95],
      ["4.25", 107.95],
      ["1/2", 12.7],
      [" 5 ", 127],
      ['3/16"', 4.7625],
      ["-1", -25.4],
    ] as const)
      expect(parsed(text, "in"), text).toBeCloseTo(mm, 6);
    expect(parsed("105,5 mm", "mm")).toBeCloseTo(105.5);
    for (const wrong of ["", "four", "1/0", "4 1", "--2"]) expect(parsed(wrong, "in"), wrong).toBeNull();
  });

  it("come back as they were", () => {
    expect(figure(parsed("4 1/4", "in") ?? 0, "in")).toBe("4 1/4");
    expect(figure(104.96, "mm")).toBe("105");
  });
});
