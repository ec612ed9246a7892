/** The log in words: years, months, days, what was laid on which part. */
import type { MadeCard, RecordSummary } from "../../api/client";

/** Records by the year in which they were made, as they come. */
export function byYear(records: RecordSummary[]): [number, RecordSummary[]][] {
  const found = new Map<number, RecordSummary[]>();
  for (const record of records) {
    const year = new Date(record.made).getFullYear();
    found.set(year, [...(found.get(year) ?? []), record]);
  }
  return [...found];
}

// written down: asking the browser for them one by one took 0.05 s
export const MONTHS = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];

/** How many cards were made in each month of a year. */
export function months(records: RecordSummary[]): number[] {
  const counts = MONTHS.map(() => 0);
  for (const record of records) {
    const month = new Date(record.made).getMonth();
    counts[month] = (counts[month] ?? 0) + record.cards;
  }
  return counts;
}

export function day(made: string): string {
  const at = new Date(made);
  return `${at.getDate()} ${MONTHS[at.getMonth()]} ${at.getFullYear()}`;
}

export const clock = (at: number): string =>
  new Date(at * 1000).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });

export const cards = (count: number): string => (count === 1 ? "1 card" : `${count} cards`);

/** What was laid, by element, in the order in which the elements were begun. */
export function byElement(used: MadeCard["used"]): [string, MadeCard["used"]][] {
  const found = new Map<string, MadeCard["used"]>();
  for (const laid of used) found.set(laid.element, [...(found.get(laid.element) ?? []), laid]);
  return [...found];
}

export const laidHow = (laid: MadeCard["used"][number]): string =>
  [laid.coats === 1 ? "one coat" : `${laid.coats} coats`, laid.hand === "medium" ? "" : `${laid.hand} hand`]
    .filter(Boolean)
    .join(", ");

export const recordPicture = (id: number): string => `/api/records/${id}/picture`;
export const straight = (id: number, number: number): string => `${photograph(id, number)}/straight`;

export const photograph = (id: number, number: number): string => `/api/records/${id}/photographs/${number}`;
export const tablePhotograph = (id: number): string => `/api/table-photographs/${id}`;

/** A photograph by its address as a list shows it: 150 to 340 px wide, on screens of up to twice the pixels. */
export const listed = (address: string): string => `${address}?width=480`;

/** How strong a pad comes out: “a coat comes to 1.3”. */
export const strengthSaid = (strength: number): string =>
  Math.abs(strength - 1) < 0.03 ? "as strong as measured" : `a coat comes to ${strength.toFixed(2)}`;

/** What a hand lays: “Your light hand lays 12 % less than usual.” */
export const handSaid = (hand: string, share: number): string =>
  `Your ${hand} hand lays ${Math.round(100 * Math.abs(share - 1))} % ${share < 1 ? "less" : "more"} than usual.`;
