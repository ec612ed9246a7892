/** Every edit on the core sample as data: the buttons and the keys perform the same command. */
import type { Rung } from "../../../api/client";
import type { BuildHandle } from "../useBuild";

export interface Stage {
  change: BuildHandle["change"];
  rung: Rung | null;
  rungs: Rung[];
  choose: (key: string | null) => void;
  openDrawer: () => void;
  standIn: () => void;
  setBeside: (what: "proposals" | "families") => void;
  scrub: (by: number) => void;
  nextElement: (by: number) => void;
}

export interface Command {
  id: string;
  label: string;
  keys: string[];
  enabled: (stage: Stage) => boolean;
  perform: (stage: Stage) => void;
}

const onRung =
  (rule: (rung: Rung, stage: Stage) => boolean = () => true) =>
  (stage: Stage) =>
    stage.rung !== null && rule(stage.rung, stage);

const edit = (make: (rung: Rung) => Parameters<BuildHandle["change"]>) => (stage: Stage) => {
  if (stage.rung) stage.change(...make(stage.rung));
};

const place = (stage: Stage) => stage.rungs.findIndex((r) => r.key === stage.rung?.key);
const HANDS: Rung["hand"][] = ["light", "medium", "heavy"];

const chooseBy = (by: number) => (stage: Stage) => {
  const at = place(stage);
  const next =
    at < 0 ? (by > 0 ? 0 : stage.rungs.length - 1) : Math.min(stage.rungs.length - 1, Math.max(0, at + by));
  stage.choose(stage.rungs[next]?.key ?? null);
};

export const COMMANDS: Command[] = [
  {
    id: "above",
    label: "The pass above",
    keys: ["ArrowUp"],
    enabled: (s) => s.rungs.length > 0,
    perform: chooseBy(1),
  },
  {
    id: "below",
    label: "The pass below",
    keys: ["ArrowDown"],
    enabled: (s) => s.rungs.length > 0,
    perform: chooseBy(-1),
  },
  {
    id: "next-element",
    label: "The next element",
    keys: ["ArrowRight"],
    enabled: () => true,
    perform: (s) => s.nextElement(1),
  },
  {
    id: "element-before",
    label: "The element before",
    keys: ["ArrowLeft"],
    enabled: () => true,
    perform: (s) => s.nextElement(-1),
  },
  {
    id: "up",
    label: "Move the pass up",
    keys: ["Alt+ArrowUp"],
    enabled: onRung((_, s) => place(s) < s.rungs.length - 1),
    perform: edit((r) => ["move_pass", { pass: r.key, by: 1 }]),
  },
  {
    id: "down",
    label: "Move the pass down",
    keys: ["Alt+ArrowDown"],
    enabled: onRung((_, s) => place(s) > 0),
    perform: edit((r) => ["move_pass", { pass: r.key, by: -1 }]),
  },
  {
    id: "lighten",
    label: "Lighten",
    keys: ["["],
    enabled: onRung((r) => r.lighter !== null),
    perform: edit((r) => ["lighten", { pass: r.key }]),
  },
  {
    id: "deepen",
    label: "Deepen",
    keys: ["]"],
    enabled: onRung((r) => r.deeper !== null),
    perform: edit((r) => ["deepen", { pass: r.key }]),
  },
  {
    id: "more",
    label: "One more coat",
    keys: ["+", "="],
    enabled: onRung((r) => r.coats < r.most_coats),
    perform: edit((r) => ["add_coats", { pass: r.key, by: 1 }]),
  },
  {
    id: "less",
    label: "One coat less",
    keys: ["-"],
    enabled: onRung((r) => r.coats > 1),
    perform: edit((r) => ["add_coats", { pass: r.key, by: -1 }]),
  },
  {
    id: "hand",
    label: "Another hand",
    keys: ["h"],
    enabled: onRung(),
    perform: edit((r) => ["set_hand", { pass: r.key, hand: HANDS[(HANDS.indexOf(r.hand) + 1) % 3] }]),
  },
  {
    id: "swap",
    label: "Swap the ink",
    keys: ["s", "Enter"],
    enabled: onRung(),
    perform: (s) => s.openDrawer(),
  },
  {
    id: "stand-in",
    label: "A stand-in for this pad",
    keys: ["i"],
    enabled: onRung(),
    perform: (s) => s.standIn(),
  },
  {
    id: "family",
    label: "A family for the element",
    keys: ["f"],
    enabled: () => true,
    perform: (s) => s.setBeside("families"),
  },
  {
    id: "proposals",
    label: "Colourings from your pads",
    keys: ["p"],
    enabled: () => true,
    perform: (s) => s.setBeside("proposals"),
  },
  {
    id: "remove",
    label: "Take the pass off",
    keys: ["Delete", "Backspace"],
    enabled: onRung(),
    perform: edit((r) => ["remove_pass", { pass: r.key }]),
  },
  {
    id: "scrub-back",
    label: "Build-up: one pass back",
    keys: [","],
    enabled: () => true,
    perform: (s) => s.scrub(-1),
  },
  {
    id: "scrub-on",
    label: "Build-up: one pass on",
    keys: ["."],
    enabled: () => true,
    perform: (s) => s.scrub(1),
  },
];

export const command = (id: string): Command => {
  const found = COMMANDS.find((c) => c.id === id);
  if (!found) throw new Error(`no command ${id}`);
  return found;
};

/** The command of a key press, if any. */
export function commandFor(event: KeyboardEvent): Command | undefined {
  if (event.ctrlKey || event.metaKey) return undefined;
  const key = event.altKey ? `Alt+${event.key}` : event.key;
  return COMMANDS.find((c) => c.keys.includes(key));
}

const SHOWN: Record<string, string> = { ArrowUp: "↑", ArrowDown: "↓", ArrowLeft: "←", ArrowRight: "→" };

/** The first key of a command as it is printed on the keyboard. */
export function printed(keys: string[]): string {
  const key = keys[0] ?? "";
  return key.length < 2
    ? key
    : key
        .split("+")
        .map((part) => SHOWN[part] ?? part)
        .join(" ");
}
