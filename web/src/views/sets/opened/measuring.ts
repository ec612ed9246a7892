/** The kinds of measures, and how lengths are said where tenths of a millimetre matter. */
import type { Measures } from "../../../api/client";
import type { Units } from "../../../parts/lengths";

export type Kind = "brush" | "neck" | "bridge" | "mask" | "slip" | "trim";

export const TIGHTEST = 60;
// tones of which the room to slip is listed at first, and drawn

/** How many of the rows, which come tightest first, are flush and told in one sentence; one alone is told as any other. */
export function foldedOf(slips: Measures["slips"]): number {
  const flush = slips.filter((s) => s.flush).length;
  return flush > 1 ? flush : 0;
}

export const KINDS: { id: Kind; label: string }[] = [
  { id: "brush", label: "Brushes" },
  { id: "neck", label: "Necks" },
  { id: "bridge", label: "Bridges" },
  { id: "mask", label: "Masks" },
  { id: "slip", label: "Slip" },
  { id: "trim", label: "Trim" },
];

export interface Panel {
  width: number;
  height: number;
  dx: number;
  dy: number;
}

/** A length where tenths of a millimetre matter: thousandths of an inch are as fine. */
export const fine = (mm: number, units: Units): string => {
  if (units === "in") return `${(mm / 25.4).toFixed(3)} in`;
  return `${mm < 1 ? mm.toFixed(2) : mm.toFixed(1)} mm`;
};

/** The same without its unit, as it stands on the sheet. */
export const figure = (mm: number, units: Units): string =>
  units === "in" ? (mm / 25.4).toFixed(mm < 2.54 ? 3 : 2) : mm.toFixed(mm < 0.5 ? 2 : 1);

export const area = (mm2: number, units: Units): string =>
  units === "in" ? `${(mm2 / 645.16).toFixed(3)} sq in` : `${mm2.toFixed(1)} mm²`;
