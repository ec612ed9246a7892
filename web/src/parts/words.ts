/** Words and shapes of the drawer that several screens share. */
export const CHEMISTRIES = [
  "dye",
  "pigment",
  "hybrid",
  "metallic",
  "glaze",
  "paste",
  "powder",
  "paint",
  "marker",
] as const;
export const PADS = ["felt", "foam", "bottle"] as const;
export const STATES = ["full", "low", "dry", "wished for"] as const;
export const CLEANINGS: Record<string, string> = {
  wipe: "a dry cloth",
  damp: "a damp wipe",
  alcohol: "alcohol and a dry cloth",
};
export const HOWS: Record<string, string> = {
  "": "not said how",
  reader: "colour reader",
  "swatch card": "swatch card",
  photograph: "a photograph",
  typed: "typed in",
  "screen colour": "a screen colour",
  file: "a file",
  "finished card": "a finished card",
};
export const BRUSHES: [string, string][] = [
  ["large", "large brush, 38 mm"],
  ["medium", "medium brush, 25 mm"],
  ["small", "small brush, 15 mm"],
  ["detail", "detail brush, 8 mm"],
  ["extra-fine", "extra-fine brush, 5 mm"],
  ["foam-dome", "foam dome, 30 mm"],
  ["sponge-wedge", "sponge wedge, 20 mm"],
  ["pouncer", "pouncer, 20 mm"],
];

/** A number as people type it: a decimal comma or point, a true minus; NaN where it is none. */
export const typed = (text: string): number =>
  text.trim() ? Number(text.trim().replace(",", ".").replace("−", "-")) : NaN;

export const coatsSaid = (coats: number): string =>
  coats === 1 ? "one coat" : coats === 0.5 ? "a light hand" : `${coats} coats`;

/** What went wrong, as a sentence for the screen. */
export const sentenceOf = (error: unknown, otherwise: string): string =>
  error instanceof Error && error.message ? error.message : otherwise;

/** With its first letter as a capital. */
export const capital = (words: string): string => words.replace(/^./, (letter) => letter.toUpperCase());

/** One card, two cards: a figure with what it counts. */
export const counted = (count: number, noun: string): string => `${count} ${noun}${count === 1 ? "" : "s"}`;
