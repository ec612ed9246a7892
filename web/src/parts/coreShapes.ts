/** Geometry of a drilled core: slabs with a slightly uneven bed, so that strata are told apart even where colours are close. */
/** An uneven horizontal bed from x0 to x1 at y; the same seed gives the same bed. */
export function bed(x0: number, x1: number, y: number, seed: number, swell = 2.2): [number, number][] {
  const points: [number, number][] = [];
  const count = 8;
  for (let i = 0; i <= count; i += 1) {
    const t = i / count;
    const off = Math.sin(seed * 1.7 + t * 5.1) * swell * 0.6 + Math.sin(seed * 3.1 + t * 11.3) * swell * 0.4;
    points.push([x0 + (x1 - x0) * t, y + off]);
  }
  return points;
}

const text = (points: [number, number][]) =>
  points.map(([x, y]) => `${x.toFixed(1)},${y.toFixed(1)}`).join(" ");

/** A slab between two beds. */
export const slab = (low: [number, number][], high: [number, number][]): string =>
  `M${text(high)} L${text([...low].reverse())}Z`;

/** The open line of a bed. */
export const line = (points: [number, number][]): string => `M${text(points)}`;
