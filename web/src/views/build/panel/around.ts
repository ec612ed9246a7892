/** What goes with what, and where the middle of a thing is. */
import type { Thing } from "../../../api/client";

export type Point = [number, number];

export const AROUND = 9;
// mm of bench shown round the panel, where what hangs off can be seen

export const middle = (thing: Thing): Point => {
  const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = thing.box;
  if (!thing.shape?.of) return [thing.place.x, thing.place.y];
  return [(x0 + x1) / 2, (y0 + y1) / 2];
};

/** A thing with all that lies on it, and the masks that are cut from it: they go with it. */
export function family(things: Thing[], key: string): string[] {
  const found = [key];
  for (const at of found)
    found.push(
      ...things
        .filter((t) => (t.on === at || t.shape?.of === at) && !found.includes(t.key))
        .map((t) => t.key),
    );
  return found;
}
