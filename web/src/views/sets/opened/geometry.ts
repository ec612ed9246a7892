/** Points in and around outlines, in mm: enough for pointing and lassoing. */
export type Point = [number, number];

/** The middle of an outline's first ring (the box's centre would miss a crescent). */
export function middle(outline: string): Point {
  const ring = outline
    .slice(1, outline.indexOf("Z"))
    .split(/[\sM]+/)
    .map((p) => p.split(",").map(Number) as Point);
  let area = 0;
  let x = 0;
  let y = 0;
  for (let i = 0; i < ring.length; i++) {
    const [ax, ay] = ring[i] ?? [0, 0];
    const [bx, by] = ring[(i + 1) % ring.length] ?? [0, 0];
    const cross = ax * by - bx * ay;
    area += cross;
    x += (ax + bx) * cross;
    y += (ay + by) * cross;
  }
  return area === 0 ? (ring[0] ?? [0, 0]) : [x / (3 * area), y / (3 * area)];
}

/** Whether a point lies inside a closed line (even-odd). */
export function inside(point: Point, line: Point[]): boolean {
  let odd = false;
  for (let i = 0, j = line.length - 1; i < line.length; j = i++) {
    const [xi, yi] = line[i] ?? [0, 0];
    const [xj, yj] = line[j] ?? [0, 0];
    if (yi > point[1] !== yj > point[1] && point[0] < ((xj - xi) * (point[1] - yi)) / (yj - yi) + xi)
      odd = !odd;
  }
  return odd;
}
