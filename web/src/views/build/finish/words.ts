/** Sizes and changes of a finish, as the screen says and makes them. */
import type { Finish, FinishValues } from "../../../api/client";
import { figure, minutes, type Units } from "../../../parts/lengths";

/** An eighth of an inch, mm: the margin that people know. */
export const EIGHTH = 3.175;
const ABOUT = "about ";
const NEAR = 0.01;
// mm that nobody can measure

/** A length to the last place: sixteenths where it is some, else said to be about; millimetres as they are. */
export function exact(mm: number, units: Units): string {
  if (units === "mm") return `${Math.round(mm * 1000) / 1000}`;
  const whole = Math.round((mm / 25.4) * 16) * (25.4 / 16);
  return Math.abs(whole - mm) < NEAR ? figure(mm, "in") : `${ABOUT}${figure(mm, "in")}`;
}

export function exactSize(width: number, height: number, units: Units): string {
  const sides = [exact(width, units), exact(height, units)];
  const about = sides.some((side) => side.startsWith(ABOUT)) ? ABOUT : "";
  return `${about}${sides.map((side) => side.replace(ABOUT, "")).join(" × ")} ${units}`;
}

/** Card formats as they stand or lie: the one that this front has, if any. */
export function formatOf(finish: Pick<FinishValues, "width" | "height">, formats: Finish["formats"]) {
  const same = (a: number, b: number) => Math.abs(a - b) < NEAR;
  return formats.find(
    (f) =>
      (same(f.width, finish.width) && same(f.height, finish.height)) ||
      (same(f.height, finish.width) && same(f.width, finish.height)),
  );
}

/** A front of another format, standing or lying as before. */
export function inFormat(finish: FinishValues, format: Finish["formats"][number]): FinishValues {
  const lying = finish.width > finish.height && format.width !== format.height;
  const [width, height] = lying ? [format.height, format.width] : [format.width, format.height];
  return { ...finish, width, height };
}

/** One mat more, inside the others: an eighth of an inch of the first other stock. */
export const withMat = (finish: FinishValues, stock: string): FinishValues => ({
  ...finish,
  alone: false,
  mats: [...finish.mats, { stock, margin: EIGHTH, foot: 0, rim: 0 }],
});

/** The panel itself is folded: nothing lies under it. */
export const aloneOf = (finish: FinishValues, alone: boolean): FinishValues =>
  alone ? { ...finish, alone, mats: [], foam: 0, stiffener: "" } : { ...finish, alone };

/** How a stock is bought, with one of its values changed. */
export function soldAs(
  finish: FinishValues,
  stock: string,
  size: string,
  grain: string,
): FinishValues["sheets"] {
  return [...finish.sheets.filter(([s]) => s !== stock), [stock, size, grain]];
}

/** Where a strip's middle lies: where it was pushed, else in the middle near the foot, one above the other. */
export function stripAt(
  strip: FinishValues["strips"][number],
  n: number,
  finish: Pick<FinishValues, "width" | "height">,
): { x: number; y: number } {
  return {
    x: strip.x ?? finish.width / 2,
    y: strip.y ?? finish.height * 0.88 - strip.height * (0.5 + 1.6 * n),
  };
}

/** The same list with one of it changed. */
export const swapped = <T>(all: readonly T[], at: number, now: T): T[] =>
  all.map((one, n) => (n === at ? now : one));

/** A way to seat a class: “2 sets of pads: 4 share each, 9 min after one another; all done after 2 h.” */
export function classWay(way: { sets: number; sharing: number; apart: number; minutes: number }): string {
  const sets = way.sets === 1 ? "1 set of pads" : `${way.sets} sets of pads`;
  const share =
    way.sharing === 1
      ? "one for each"
      : `${way.sharing} share ${way.sets === 1 ? "it" : "each"}, ${way.apart} min after one another`;
  return `${sets}: ${share}; all done after ${minutes(way.minutes)}.`;
}
