/** Where a colour lies on the drawer's map: hue across, lightness down, greys on a strip of their own. */
import type { Gap, Ink } from "../../api/client";

export const WIDTH = 860;
export const HEIGHT = 560;
const LEFT = 46;
const TOP = 14;
const BOTTOM = 30;
const GREY = 92;
export const HUES_END = WIDTH - GREY - 12;
const START = 335;
// degrees of h_ab at the left edge: the cut lies where drawers have least
/** The hue at the left edge, where the map is cut open. */
export const CUT = START;

const turn = (hue: number) => (((hue - START) % 360) + 360) % 360;
export const across = (hue: number) => LEFT + (turn(hue) / 360) * (HUES_END - LEFT);
export const down = (lightness: number) => TOP + ((100 - lightness) / 96) * (HEIGHT - TOP - BOTTOM);
export const GREY_LEFT = HUES_END + 12;
export const FLOOR = down(4);

export interface Spot {
  ink: Ink;
  x: number;
  y: number;
  size: number;
}

/** Greys have no hue worth the name: they stand side by side in the order of their rank. */
export function spots(inks: Ink[]): Spot[] {
  const greys = inks.filter((i) => i.neutral);
  const columns = Math.max(1, Math.min(3, greys.length));
  // a full drawer needs smaller dabs to be told apart
  const room = Math.max(0.75, 1.4 - inks.length / 500);
  return apart(
    inks.map((ink) => {
      const at = greys.indexOf(ink);
      const x = at >= 0 ? GREY_LEFT + (GREY / (columns + 1)) * ((at % columns) + 1) : across(ink.hue);
      return { ink, x, y: down(ink.lightness), size: room * (0.27 + Math.min(ink.chroma, 90) / 210) };
    }),
  );
}

const DAB = [64, 37] as const;
const MOST = 26;
// px that a dab may stand beside its place, so that none lies hidden under another

/** Dabs that would cover one another stand side by side; lightness stays exact, hue gives way by a few degrees. */
function apart(places: Spot[]): Spot[] {
  const at = places.map((p) => ({ ...p }));
  const met = inOneRow(at);
  for (let round = 0; round < 8; round++) {
    for (const { a, b, wanted } of met) {
      const dx = b.x - a.x;
      if (Math.abs(dx) >= wanted) continue;
      const push = ((wanted - Math.abs(dx)) / 4) * (dx < 0 ? -1 : 1);
      a.x -= push;
      b.x += push;
    }
  }
  return at.map((p, i) => {
    const home = places[i]?.x ?? p.x;
    return { ...p, x: Math.max(home - MOST, Math.min(home + MOST, p.x)) };
  });
}

/** Pairs that are of nearly one lightness, which no push changes: told once, for all rounds. */
function inOneRow(at: Spot[]): { a: Spot; b: Spot; wanted: number }[] {
  const found = [];
  for (const [i, a] of at.entries()) {
    for (let j = i + 1; j < at.length; j++) {
      const b = at[j];
      if (!b) continue;
      const reach = (a.size + b.size) / 2;
      if (Math.abs(a.y - b.y) <= 0.5 * DAB[1] * reach) found.push({ a, b, wanted: 0.6 * DAB[0] * reach });
    }
  }
  return found;
}

/** Lines of families, each from its palest to its deepest pad. */
export function familyLines(places: Spot[]): { key: string; path: string }[] {
  const kin = new Map<string, Spot[]>();
  for (const spot of places) {
    if (!spot.ink.family) continue;
    const key = `${spot.ink.line}|${spot.ink.family}`;
    kin.set(key, [...(kin.get(key) ?? []), spot]);
  }
  return [...kin]
    .filter(([, own]) => own.length > 1)
    .map(([key, own]) => {
      own.sort((a, b) => b.ink.lightness - a.ink.lightness);
      // a family whose hue turns across the cut would draw a line over the whole map
      const parts = own.map(
        (s, i) =>
          `${i && Math.abs(s.x - (own[i - 1]?.x ?? 0)) < 240 ? "L" : "M"}${s.x.toFixed(1)} ${s.y.toFixed(1)}`,
      );
      return { key, path: parts.join("") };
    });
}

export interface Patch {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** The part of the map that a gap leaves empty, if it has one. */
export function patch(gap: Gap): Patch | null {
  const [dark, light] = gap.lightness ?? [];
  if (dark === undefined || light === undefined) return null;
  const y = down(light);
  const height = Math.max(8, down(dark) - y);
  if (gap.kind === "grey") return { x: GREY_LEFT, y, width: GREY, height };
  const [from, to] = gap.hue ?? [];
  if (from === undefined || to === undefined) return null;
  const x = across(from);
  const end = across(to);
  return { x, y, width: (end > x ? end : HUES_END) - x, height };
}

const TOWARDS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The next dab in the direction of an arrow key: near, and not far to the side. */
export function neighbour(places: Spot[], from: Spot, key: string): Spot | undefined {
  const [dx, dy] = TOWARDS[key] ?? [0, 0];
  let best: Spot | undefined;
  let least = Infinity;
  for (const spot of places) {
    const along = (spot.x - from.x) * dx + (spot.y - from.y) * dy;
    const aside = Math.abs((spot.x - from.x) * dy) + Math.abs((spot.y - from.y) * dx);
    const cost = along + 2.2 * aside;
    if (spot !== from && along > 0.5 && cost < least) [best, least] = [spot, cost];
  }
  return best;
}
