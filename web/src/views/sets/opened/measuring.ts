/** The kinds of measures, and how lengths are said where tenths of a millimetre matter. */
export type Kind = "brush" | "neck" | "bridge" | "mask" | "slip" | "trim";

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

/** Tenths of a millimetre: inches are too coarse for what a brush or a bridge needs. */
export const mm = (value: number): string => `${value < 1 ? value.toFixed(2) : value.toFixed(1)} mm`;
