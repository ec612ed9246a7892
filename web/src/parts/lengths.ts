/** Lengths on screen in the maker's units; millimetres everywhere else. */
import type { SetSummary } from "../api/client";

export type Units = "in" | "mm";

function sixteenths(mm: number): string {
  const count = Math.round((mm / 25.4) * 16);
  const whole = Math.floor(count / 16);
  let top = count % 16;
  let bottom = 16;
  if (top === 0) return `${whole}`;
  while (top % 2 === 0) {
    top /= 2;
    bottom /= 2;
  }
  return whole ? `${whole} ${top}/${bottom}` : `${top}/${bottom}`;
}

/** A length with its unit, fractions as practitioners write them. */
export const length = (mm: number, units: Units): string =>
  units === "in" ? `${sixteenths(mm)} in` : `${Math.round(mm * 10) / 10} mm`;

/** A length as it stands in a field: fractions of an inch, or millimetres. */
export const figure = (mm: number, units: Units): string =>
  units === "in" ? sixteenths(mm) : `${Math.round(mm * 10) / 10}`;

/** Millimetres from what somebody types ("4 1/4", "4.25", "105"); null where it is no length. */
export function parsed(text: string, units: Units): number | null {
  const match = /^\s*(-?)(\d*[.,]?\d*)?(?:\s*(\d+)\s*\/\s*(\d+))?\s*(?:mm|in|")?\s*$/.exec(text);
  if (!match || (!match[2] && !match[3])) return null;
  let whole = Number((match[2] || "0").replace(",", "."));
  let part = 0;
  if (match[3] && match[4]) {
    part = Number(match[3]) / Number(match[4]);
    // "1/2" alone: the first figure belongs to the fraction
    if (/^\s*-?\d+\s*\/\s*\d+/.test(text)) {
      const only = /(\d+)\s*\/\s*(\d+)/.exec(text);
      whole = 0;
      part = only ? Number(only[1]) / Number(only[2]) : 0;
    }
  }
  const value = (whole + part) * (match[1] ? -1 : 1) * (units === "in" ? 25.4 : 1);
  // a sixty-fourth of an inch has five places of a millimetre, and no more come from counting in binary
  return Number.isFinite(value) ? Math.round(value * 1e5) / 1e5 : null;
}

/** A panel's size. */
export const size = (width: number, height: number, units: Units): string =>
  units === "in"
    ? `${sixteenths(width)} × ${sixteenths(height)} in`
    : `${Math.round(width * 10) / 10} × ${Math.round(height * 10) / 10} mm`;

/** Minutes as people say them. */
export function minutes(value: number): string {
  if (value < 0.95) return `${Math.max(5, Math.round((value * 60) / 5) * 5)} s`;
  const whole = Math.round(value);
  if (whole < 60) return `${whole} min`;
  const [hours, rest] = [Math.floor(whole / 60), whole % 60];
  return rest ? `${hours} h ${rest} min` : `${hours} h`;
}

/** What a set is made of, in the words of its kind. */
export function contents(set: Pick<SetSummary, "kind" | "nouns" | "sheet_count" | "opening_count">): string {
  const { one, many, shape, shapes } = set.nouns;
  const parts = `${set.sheet_count} ${set.sheet_count === 1 ? one : many}`;
  return `A ${set.kind} of ${parts}, ${set.opening_count} ${set.opening_count === 1 ? shape : shapes}`;
}
