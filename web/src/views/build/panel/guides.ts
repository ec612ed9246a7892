/** Quiet guides: to which lines of the panel and of other things a thing is drawn while it is pushed about. */

export type Box = readonly [number, number, number, number];

export interface Guide {
  /** Whether the line stands (x) or lies (y), and where, mm. */
  axis: "x" | "y";
  at: number;
  /** What it is the line of, for a word beside it. */
  of: string;
}

export interface Snapped {
  dx: number;
  dy: number;
  guides: Guide[];
}

const REACH = 1.4;
// mm within which a thing is drawn to a line

interface Line {
  at: number;
  of: string;
}

function lines(axis: "x" | "y", size: number, trim: number, margin: number | null, others: readonly Box[]) {
  const low = axis === "x" ? 0 : 1;
  const found: Line[] = [
    { at: size / 2, of: "centre" },
    { at: trim, of: "edge" },
    { at: size - trim, of: "edge" },
  ];
  if (margin !== null)
    found.push({ at: margin, of: "even margin" }, { at: size - margin, of: "even margin" });
  for (const box of others) {
    const a = box[low] ?? 0;
    const b = box[low + 2] ?? 0;
    found.push({ at: a, of: "" }, { at: (a + b) / 2, of: "" }, { at: b, of: "" });
  }
  return found;
}

function nearest(box: Box, axis: "x" | "y", candidates: readonly Line[]) {
  const low = axis === "x" ? 0 : 1;
  const a = box[low] ?? 0;
  const b = box[low + 2] ?? 0;
  let best: { by: number; line: Line } | null = null;
  for (const line of candidates) {
    // the middle only to middles and the centre, the sides to anything
    const own = line.of === "centre" ? [(a + b) / 2] : [a, b, (a + b) / 2];
    for (const at of own) {
      const by = line.at - at;
      if (Math.abs(by) <= REACH && (!best || Math.abs(by) < Math.abs(best.by) - 1e-6)) best = { by, line };
    }
  }
  return best;
}

/** A box moved by (dx, dy), drawn to a line on each axis where one is near. */
export function snap(
  box: Box,
  dx: number,
  dy: number,
  panel: { width: number; height: number; trim: number },
  others: readonly Box[],
): Snapped {
  const moved: Box = [box[0] + dx, box[1] + dy, box[2] + dx, box[3] + dy];
  // the margin on one side, offered on the other: an even frame all round
  const sides = [moved[0], panel.width - moved[2]].filter((m) => m > 2);
  const marginY =
    sides.length === 2 && Math.abs((sides[0] ?? 0) - (sides[1] ?? 0)) < 3 ? Math.min(...sides) : null;
  const x = nearest(moved, "x", lines("x", panel.width, panel.trim, null, others));
  const y = nearest(moved, "y", lines("y", panel.height, panel.trim, marginY, others));
  const guides: Guide[] = [];
  if (x) guides.push({ axis: "x", at: x.line.at, of: x.line.of });
  if (y) guides.push({ axis: "y", at: y.line.at, of: y.line.of });
  return { dx: dx + (x?.by ?? 0), dy: dy + (y?.by ?? 0), guides };
}

/** An angle at the nearest 15 degrees, where that is asked for; else at the nearest whole one. */
export const turned = (degrees: number, coarse: boolean): number =>
  coarse ? Math.round(degrees / 15) * 15 : Math.round(degrees);
