/**
 * Something was told while the house computer is out of reach: the ways on as the packet has them, and the steps as
 * they stand after it. The plan is made anew, on the same events, as soon as there is a network.
 */
import type { Inked, Table, TableStep, Wrong } from "../../../api/client";
import type { Happened } from "./tableLog";

type Told = Pick<Happened, "kind" | "body">;
/** What fills the blanks: `$name` in events, `{name}` in sentences. */
export interface Known {
  events: Record<string, unknown>;
  words: Record<string, string>;
}

const CHANGING = ["otherwise", "skipped", "again", "slipped", "smudged", "spoilt"];

/** What went wrong, from the packet alone; null for what it does not know. */
export function aloneWrong(ways: Table["ways"], what: string, known: Known, cards: number): Wrong | null {
  const one = ways.find((w) => w.what === what);
  if (!one) return null;
  const offered = one.ways.filter((w) => {
    const needed = w.needs ? known.events[w.needs] : true;
    return (!w.several || cards > 1) && (Array.isArray(needed) ? needed.length > 0 : Boolean(needed));
  });
  return {
    sentence: said(one.sentence, known.words),
    meant: null,
    now: null,
    events: filled(one.events, known.events),
    remedies: offered.map((w) => ({
      key: w.key,
      sentence: said(w.sentence, known.words),
      colour: null,
      off: null,
      words: null,
      events: filled(w.events, known.events),
    })),
  };
}

const said = (sentence: string, words: Record<string, string>) =>
  sentence.replace(/\{(\w+)\}/g, (_, name: string) => words[name] ?? name);

/** Events with what is known in their blanks; `*` in a body stands for several values at once. */
export function filled(events: readonly Told[], values: Record<string, unknown>): Told[] {
  const value = (v: unknown) => (typeof v === "string" && v.startsWith("$") ? values[v.slice(1)] : v);
  return events.map(({ kind, body }) => ({
    kind,
    body: Object.fromEntries(
      Object.entries(body).flatMap(([name, v]) => {
        if (name === "*") return Object.entries((value(v) as object | null) ?? {});
        return [[name, Array.isArray(v) ? v.map(value) : value(v)]];
      }),
    ),
  }));
}

/** The key that a pass laid once more goes by, as `strata.making.cards.again_key` has it. */
export const againKey = (event: Pick<Happened, "key" | "body">) =>
  `${String(event.body.pass).slice(0, 40)}+${event.key.slice(0, 12)}`;

/** The steps after what was told here and is not with the server yet; `back`: events that were taken back. */
export function withTold(steps: TableStep[], unsent: Happened[], back: ReadonlySet<string>): TableStep[] {
  return unsent
    .filter((e) => !back.has(e.key))
    .reduce((found, event) => CHANGES[event.kind]?.(found, event, unsent, back) ?? found, steps);
}

type Change = (
  steps: TableStep[],
  event: Happened,
  unsent: Happened[],
  back: ReadonlySet<string>,
) => TableStep[];
const open = (step: TableStep, event: Happened) => !step.done.length && step.card === event.body.card;

const CHANGES: Record<string, Change> = {
  skipped: (steps, event) =>
    steps.filter((s) => !(s.kind === "ink" && open(s, event) && s.pass_key === event.body.pass)),
  spoilt: (steps, event) => steps.filter((s) => !(open(s, event) && s.kind !== "prep")),
  again: (steps, event, unsent, back) => {
    const over = steps.find((s) => s.card === event.body.card && s.pass_key === event.body.pass && s.inked);
    if (!over?.inked) return steps;
    const at = steps.findIndex((s) => !s.done.length || (s.at ?? 0) > event.at);
    const here = at < 0 ? steps.length : at;
    const other = steps.find((s) => s.inked?.ink === event.body.ink)?.inked ?? over.inked;
    const fresh = onceMore(over, { ...other, ...placeOf(over.inked) }, event, seatedAt(steps, here));
    const done = unsent.filter((e) => e.kind === "done" && e.body.step === fresh.key && !back.has(e.key));
    const ticked = { ...fresh, done: done.map((e) => e.key), at: done[0]?.at ?? null };
    return [...steps.slice(0, here), ticked, ...steps.slice(here)];
  },
};

/** Where a pass lies, whatever it is inked with. */
const placeOf = ({ element, sheet, form, hand }: Inked) => ({ element, sheet, form, hand });

/** What lies seated when a step comes up: card and sheet. */
function seatedAt(steps: TableStep[], here: number): string {
  const moved = steps.slice(0, here).filter((s) => ["place", "lift", "damp", "wash"].includes(s.kind));
  const last = moved.at(-1);
  return last?.kind === "place" ? `${last.card} ${last.sheet} ${last.copy}` : "";
}

function onceMore(over: TableStep, inked: Inked, event: Happened, seated: string): TableStep {
  const key = againKey(event);
  const hand = String(event.body.hand ?? inked.hand);
  const still = seated === `${over.card} ${over.sheet} ${over.copy}`;
  return {
    ...over,
    key: `away:${key}`,
    pass_key: key,
    sentence: `${inked.ink_name} over ${inked.element} once more, one coat, ${hand} hand.`,
    reasons: [
      still
        ? "Once more over what lies there; its sheet is still in place."
        : "Once more over what lies there: when that is dry to the touch, seat its sheet again, and lift it after.",
    ],
    caution: null,
    masks: [],
    inked: { ...inked, key, coats: 1, hand },
  };
}

/** What was told last here and can still be taken back: the events of that one press. */
export function toldAlone(unsent: Happened[]): { keys: string[]; sentence: string } | null {
  const back = new Set(unsent.flatMap((e) => (e.kind === "undone" ? (e.body.of as string[]) : [])));
  const told = unsent.filter((e) => CHANGING.includes(e.kind) && !back.has(e.key));
  const last = told.at(-1);
  if (!last) return null;
  const press = told.filter((e) => last.at - e.at < 0.1);
  return { keys: press.map((e) => e.key), sentence: "what you told last" };
}
