/** What can be done with chosen openings, once for buttons and keys. */
import type { LayerSet, SetEditKind } from "../../../api/client";

export interface Naming {
  set: LayerSet;
  chosen: string[];
  elements: string[];
  edit: (kind: SetEditKind, values: Record<string, unknown>) => Promise<void>;
  choose: (keys: string[]) => void;
  cut: (on: boolean) => void;
  cutting: boolean;
}

export interface NamingCommand {
  id: string;
  label: string;
  key: string;
  hint: string;
  enabled: (n: Naming) => boolean;
  perform: (n: Naming) => void;
}

const some = (n: Naming) => n.chosen.length > 0;
const shapesOf = (n: Naming) => n.set.sheets.flatMap((s) => s.shapes.map((o) => ({ ...o, sheet: s.number })));
const role = (id: string, key: string, label: string, hint: string): NamingCommand => ({
  id,
  key,
  label,
  hint,
  enabled: some,
  perform: (n) => void n.edit("role", { openings: n.chosen, role: id }),
});

/** All openings of the elements of those chosen. */
export function wholeElements(n: Naming): string[] {
  const shapes = shapesOf(n);
  const names = new Set(shapes.filter((o) => n.chosen.includes(o.key)).map((o) => o.element));
  return shapes.filter((o) => names.has(o.element)).map((o) => o.key);
}

/** The next part that still has the name it was given by the application. */
export function nextUnnamed(n: Naming): string[] {
  const names = [
    ...new Set(
      shapesOf(n)
        .filter((o) => /^part \d+$/.test(o.element) && o.role !== "waste")
        .map((o) => o.element),
    ),
  ];
  const now = shapesOf(n).find((o) => o.key === n.chosen[0])?.element ?? "";
  const next = names[(names.indexOf(now) + 1) % names.length];
  return shapesOf(n)
    .filter((o) => o.element === next)
    .map((o) => o.key);
}

export const COMMANDS: NamingCommand[] = [
  {
    id: "whole",
    key: "a",
    label: "The whole part",
    hint: "choose all that belongs to it",
    enabled: some,
    perform: (n) => n.choose(wholeElements(n)),
  },
  {
    id: "next",
    key: "n",
    label: "Next unnamed",
    hint: "go to the next part without a name",
    enabled: (n) => shapesOf(n).some((o) => /^part \d+$/.test(o.element)),
    perform: (n) => n.choose(nextUnnamed(n)),
  },
  {
    id: "join",
    key: "j",
    label: "Join",
    hint: "two or more become one",
    enabled: (n) => n.chosen.length > 1,
    perform: (n) => void n.edit("join", { openings: n.chosen }).then(() => n.choose([])),
  },
  {
    id: "split",
    key: "s",
    label: "Split",
    hint: "draw a line across it",
    enabled: (n) => n.chosen.length === 1,
    perform: (n) => n.cut(!n.cutting),
  },
  {
    id: "mark",
    key: "m",
    label: "Register mark",
    hint: "takes no ink",
    enabled: some,
    perform: (n) => void n.edit("to_marks", { openings: n.chosen }).then(() => n.choose([])),
  },
];

export const ROLE_COMMANDS: NamingCommand[] = [
  role("tone", "t", "Tone", "an ordinary colour"),
  role("line", "l", "Line", "an outline or a vein"),
  role("ground", "g", "Ground", "what things stand on"),
  role("background", "b", "Background", "behind everything"),
  role("waste", "w", "Waste", "takes no ink, is cut away"),
];

export const ALL = [...COMMANDS, ...ROLE_COMMANDS];
