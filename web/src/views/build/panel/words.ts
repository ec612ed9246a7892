/** Things in words. */
import type { Thing } from "../../../api/client";

const SHAPES: Record<string, string> = {
  round: "Round",
  oval: "Oval",
  rectangle: "Rectangle",
  arch: "Arch",
  outline: "Free outline",
  strip: "Strip of tape",
  straight: "Straight horizon",
  wavy: "Wavy horizon",
  torn: "Torn edge",
  part: "Cut from a part",
  sheet: "The sheet itself",
};

export const shapeWord = (kind: string | undefined): string => SHAPES[kind ?? ""] ?? "Shape";

/** What a thing is, under its name. */
export function whatItIs(thing: Thing): string {
  if (thing.kind === "mask") {
    const way =
      thing.shape?.kind === "strip" ? "tape" : thing.wear?.way === "window" ? "window mask" : "cover mask";
    return thing.wear?.off ? `${way}, laid aside` : way;
  }
  if (thing.kind === "set") {
    const pieces = thing.card || thing.cards.length ? ", cut from card" : "";
    return `${thing.counter ? "counter-sheet of a " : ""}${thing.set_kind}${pieces}`;
  }
  if (thing.kind === "piece")
    return thing.card?.foam ? `card on foam of ${thing.card.foam} mm` : "card, glued flat";
  if (thing.kind === "words") return thing.card ? "words cut from card" : "words, stamped";
  return "a note";
}

/** What can be laid on a panel, as it is first laid there. */
export interface Fresh {
  label: string;
  what: string;
  thing: (at: { width: number; height: number; stock: string }) => Record<string, unknown>;
}

const window_ = { way: "window" };
const cover = { way: "cover" };

export const FRESH: Record<string, Fresh[]> = {
  "Windows: only the hole takes ink": [
    {
      label: "Round",
      what: "a sun, a moon",
      thing: () => ({
        kind: "mask",
        name: "round window",
        shape: { kind: "round", width: 26, height: 26 },
        wear: window_,
      }),
    },
    {
      label: "Oval",
      what: "",
      thing: () => ({
        kind: "mask",
        name: "oval window",
        shape: { kind: "oval", width: 40, height: 56 },
        wear: window_,
      }),
    },
    {
      label: "Rectangle",
      what: "",
      thing: () => ({
        kind: "mask",
        name: "window",
        shape: { kind: "rectangle", width: 50, height: 66 },
        wear: window_,
      }),
    },
    {
      label: "Arch",
      what: "",
      thing: () => ({
        kind: "mask",
        name: "arch window",
        shape: { kind: "arch", width: 46, height: 70 },
        wear: window_,
      }),
    },
  ],
  "Covers: what lies under them stays bare": [
    {
      label: "Punched disc",
      what: "a moon that stays bare",
      thing: () => ({
        kind: "mask",
        name: "disc",
        shape: { kind: "round", width: 22, height: 22 },
        wear: cover,
      }),
    },
    {
      label: "Straight horizon",
      what: "",
      thing: ({ width, height }) => ({
        kind: "mask",
        name: "horizon",
        shape: { kind: "straight", width: width + 20, height },
        wear: cover,
      }),
    },
    {
      label: "Wavy horizon",
      what: "hills, water",
      thing: ({ width, height }) => ({
        kind: "mask",
        name: "hill line",
        shape: { kind: "wavy", width: width + 20, height },
        wear: cover,
      }),
    },
    {
      label: "Torn edge",
      what: "paper torn across",
      thing: ({ width, height }) => ({
        kind: "mask",
        name: "torn edge",
        shape: { kind: "torn", width: width + 20, height },
        wear: { ...cover, soft: 0.4 },
      }),
    },
    {
      label: "Tape",
      what: "a straight edge, any angle",
      thing: ({ width, height }) => ({
        kind: "mask",
        name: "tape",
        shape: { kind: "strip", width: Math.hypot(width, height), height: 15 },
        wear: cover,
      }),
    },
  ],
  "Card of its own": [
    {
      label: "Strip for words",
      what: "",
      thing: ({ width, stock }) => ({
        kind: "piece",
        name: "strip",
        shape: { kind: "rectangle", width: Math.round(width * 0.62), height: 16 },
        card: { stock },
      }),
    },
    {
      label: "Disc",
      what: "",
      thing: ({ stock }) => ({
        kind: "piece",
        name: "disc of card",
        shape: { kind: "round", width: 34, height: 34 },
        card: { stock },
      }),
    },
    {
      label: "Arch",
      what: "",
      thing: ({ stock }) => ({
        kind: "piece",
        name: "arch of card",
        shape: { kind: "arch", width: 46, height: 66 },
        card: { stock },
      }),
    },
  ],
};
