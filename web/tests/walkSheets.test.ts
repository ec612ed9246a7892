/** From opening to opening with the keyboard, and looking closer. */
import { describe, expect, it } from "vitest";
import {
  inReadingOrder,
  inSight,
  kept,
  nextIn,
  type Place,
  WHOLE,
  zoomed,
} from "../src/views/sets/opened/walkSheets";

const grid: Place[] = [0, 1, 2].flatMap((row) =>
  [0, 1, 2, 3].map((column) => ({
    key: `${row}${column}`,
    at: [10 + 20 * column, 10 + 20 * row] as [number, number],
  })),
);

describe("walking over the sheets", () => {
  it("goes to the nearest ahead, and stays at the edge", () => {
    const from = grid[5]?.at ?? [0, 0];
    const rest = grid.filter((p) => p.key !== "11");
    expect(nextIn(rest, from, [1, 0])?.key).toBe("12");
    expect(nextIn(rest, from, [0, -1])?.key).toBe("01");
    expect(nextIn(grid, grid[3]?.at ?? [0, 0], [1, 0])).toBeNull();
  });

  it("reaches every one of many by arrows alone", () => {
    const many: Place[] = Array.from({ length: 150 }, (_, n) => ({
      key: String(n),
      at: [((n * 37) % 101) + (n % 7) / 10, ((n * 53) % 97) + (n % 5) / 10],
    }));
    const reached = new Set<string>(["0"]);
    const open = [many[0]];
    for (let one = open.pop(); one; one = open.pop())
      for (const way of [
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ] as [number, number][]) {
        // prettier-ignore
        const next = nextIn(many.filter((p) => p !== one), one.at, way); // prettier-ignore
        if (next && !reached.has(next.key)) {
          reached.add(next.key);
          open.push(next);
        }
      }
    expect(reached.size).toBe(150);
  });

  it("reads by rows", () => {
    expect(inReadingOrder([...grid].reverse(), 70).map((p) => p.key)).toEqual(grid.map((p) => p.key));
  });

  it("keeps a place where it is while it comes closer, and shows nothing beside the panel", () => {
    const near = zoomed(WHOLE, 4, [60, 40], 100, 80);
    expect(near.zoom).toBe(4);
    expect((60 - near.x) / (100 / near.zoom)).toBeCloseTo(0.6);
    expect(zoomed(near, 1 / 100, [60, 40], 100, 80)).toEqual(WHOLE);
    expect(kept({ x: 90, y: -5, zoom: 2 }, 100, 80)).toEqual({ x: 50, y: 0, zoom: 2 });
  });

  it("follows what is gone to, and only then", () => {
    const near = { x: 0, y: 0, zoom: 4 };
    expect(inSight(near, [12, 10], 100, 80)).toBe(near);
    const moved = inSight(near, [70, 60], 100, 80);
    expect([moved.x, moved.y]).toEqual([57.5, 50]);
  });
});
