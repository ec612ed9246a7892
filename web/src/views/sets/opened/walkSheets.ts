/** Going from opening to opening with the keyboard, and looking closer. */
import type { Point } from "./geometry";

export interface View {
  x: number;
  y: number;
  zoom: number;
}

export interface Place {
  key: string;
  at: Point;
}

export const WHOLE: View = { x: 0, y: 0, zoom: 1 };
const MOST_ZOOM = 24;
export const WAYS: Record<string, Point> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
const SIDEWAYS = 2;
// how much a way to the side counts against one ahead

/** The opening that lies next in a direction; where none does, the one it is at. */
export function nextIn(places: Place[], from: Point, way: Point): Place | null {
  let best: Place | null = null;
  let least = Infinity;
  for (const place of places) {
    const [x, y] = [place.at[0] - from[0], place.at[1] - from[1]];
    const ahead = x * way[0] + y * way[1];
    const aside = Math.abs(x * way[1] - y * way[0]);
    if (ahead <= 0.05 || aside > 2.5 * ahead + 1) continue;
    const far = ahead + SIDEWAYS * aside;
    if (far < least) [best, least] = [place, far];
  }
  return best;
}

/** The openings as one reads: by rows of about a sixteenth of the height, each from the left. */
export function inReadingOrder(places: Place[], height: number): Place[] {
  const row = (p: Place) => Math.floor((16 * p.at[1]) / height);
  return [...places].sort((a, b) => row(a) - row(b) || a.at[0] - b.at[0]);
}

const within = (value: number, least: number, most: number) => Math.min(most, Math.max(least, value));

/** A view moved so that it shows nothing beside the panel. */
export function kept(view: View, width: number, height: number): View {
  const zoom = within(view.zoom, 1, MOST_ZOOM);
  return {
    zoom,
    x: within(view.x, 0, width - width / zoom),
    y: within(view.y, 0, height - height / zoom),
  };
}

/** Closer or further off, a place staying where it is on the screen. */
export function zoomed(view: View, by: number, at: Point, width: number, height: number): View {
  const zoom = within(view.zoom * by, 1, MOST_ZOOM);
  const stays = view.zoom / zoom;
  return kept(
    { zoom, x: at[0] - (at[0] - view.x) * stays, y: at[1] - (at[1] - view.y) * stays },
    width,
    height,
  );
}

/** The view with a place in sight: as it is where it is seen well, else with the place in its middle. */
export function inSight(view: View, at: Point, width: number, height: number): View {
  const [wide, high] = [width / view.zoom, height / view.zoom];
  const [u, v] = [(at[0] - view.x) / wide, (at[1] - view.y) / high];
  if (u > 0.06 && u < 0.94 && v > 0.06 && v < 0.94) return view;
  return kept({ ...view, x: at[0] - wide / 2, y: at[1] - high / 2 }, width, height);
}
