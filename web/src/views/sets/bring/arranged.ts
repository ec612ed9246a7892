/** How the sheets lie after a press, before the server has answered: put in order, named, turned, turned over. */
import type { Import } from "../../../api/client";

export type Retouch = Import["sheets"][number]["retouches"][number];

export interface Choice {
  at: number;
  title: string;
  turn: 0 | 90 | 180 | 270;
  mirrored: boolean;
  dropped: number[];
  retouches: Retouch[];
  corners?: number[][];
  level?: number;
  /** Old places of sheets that are more photographs of this one. */
  also?: number[];
  /** Its further photographs are sheets of their own again. */
  apart?: boolean;
}

type Draft = NonNullable<Import["draft"]>;
/** A sheet of the draft; `transform` from where the draft has it to where it was put since. */
export type LaidSheet = Draft["sheets"][number] & { transform?: string };

export const choicesOf = (item: Import): Choice[] =>
  item.sheets.map((s, at) => ({
    at,
    title: s.title,
    turn: s.turn as Choice["turn"],
    mirrored: s.mirrored,
    dropped: s.dropped,
    retouches: s.retouches,
  }));

/** The choices with the sheet at `from` as one more photograph of the sheet at `as`. */
export const putTogether = (choices: Choice[], from: number, as: number): Choice[] =>
  choices.flatMap((c, i) => (i === from ? [] : [i === as ? { ...c, also: [choices[from]?.at ?? from] } : c]));

/** A sheet that was made of one colour of a drawing is shown in it. */
export const ownColour = (name: string): string | undefined => /#[0-9a-f]{6}$/.exec(name)?.[0];

type Way = Pick<Choice, "mirrored"> & { turn: number };

/** An SVG transform about the middle of the panel; a sheet is turned over first, then turned. */
export function fromTo(from: Way, to: Way, width: number, height: number): string {
  if (from.turn === to.turn && from.mirrored === to.mirrored) return "";
  const flip = from.mirrored === to.mirrored ? 1 : -1;
  const [x, y] = [width / 2, height / 2];
  return `translate(${x} ${y}) rotate(${to.turn}) scale(${flip} 1) rotate(${-from.turn}) translate(${-x} ${-y})`;
}

/** The import as it will be, but for what comes of retouches, which the answer shows; `choices` count from its sheets as they lie now. */
export function arranged(item: Import, choices: Choice[]): Import {
  const { draft } = item;
  const sheets = choices.flatMap(({ at, title, turn, mirrored, dropped, retouches }) => {
    const sheet = item.sheets[at];
    return sheet ? [{ ...sheet, title, turn, mirrored, dropped, retouches }] : [];
  });
  if (!draft || draft.sheets.length !== item.sheets.length) return { ...item, sheets };
  const laid = choices.flatMap((choice) => {
    const [sheet, was] = [draft.sheets[choice.at] as LaidSheet | undefined, item.sheets[choice.at]];
    if (!sheet || !was) return [];
    const step = fromTo(was, choice, draft.width_mm, draft.height_mm);
    const transform = [step, sheet.transform].filter(Boolean).join(" ");
    return [{ ...sheet, name: choice.title || sheet.name, ...(transform ? { transform } : {}) }];
  });
  return { ...item, sheets, draft: { ...draft, sheets: laid } };
}
