/** Told at the table while the house computer is out of reach: ways on from the packet, steps that follow them. */
import { describe, expect, it } from "vitest";
import type { Table, TableStep } from "../src/api/client";
import {
  againKey,
  aloneWrong,
  filled,
  type Known,
  toldAlone,
  withTold,
} from "../src/views/build/table/alone";
import type { Happened } from "../src/views/build/table/tableLog";

const inked = (key: string, more: object = {}) => ({ key, ink: "campion", ink_name: "Campion", element: "koi", hand: "medium", coats: 1, sheet: 1, form: {}, ...more }); // prettier-ignore
const step = (key: string, more: Partial<TableStep> = {}) =>
  ({ key, kind: "ink", card: 1, sheet: 1, copy: 1, masks: [], reasons: [], pass_key: key, inked: inked(key), done: [], at: null, ...more }) as unknown as TableStep; // prettier-ignore
const done = (key: string, at: number, more: object = {}) => step(key, { done: [`e-${key}`], at, ...more });
const event = (kind: string, body: Record<string, unknown>, at = 50, key = `key-of-${kind}`): Happened => ({ key, at, kind, body, by: "tablet" }); // prettier-ignore
const keysOf = (steps: TableStep[]) => steps.map((s) => s.key);
const told = (steps: TableStep[], ...unsent: Happened[]) => {
  const back = new Set(unsent.flatMap((e) => (e.kind === "undone" ? (e.body.of as string[]) : [])));
  return withTold(steps, unsent, back);
};

const ways = [
  {
    what: "slipped",
    sentence: "{ink} on {element} lies {far} mm beside its place.",
    events: [{ kind: "slipped", body: { card: "$card", passes: ["$pass"], dx: "$dx" } }],
    ways: [
      { key: "follow", sentence: "Lay what follows on {element} to it.", events: [{ kind: "slipped", body: { passes: "$mates" } }], needs: "mates", several: false },
      { key: "leave", sentence: "Go on by the marks.", events: [], needs: "", several: false },
      { key: "fewer", sentence: "Go on with one card fewer.", events: [], needs: "", several: true },
    ],
  },
] as unknown as Table["ways"]; // prettier-ignore
const known = (events: object = {}): Known => ({
  events: { card: 2, pass: "p", dx: 1.5, mates: ["q"], ...events },
  words: { ink: "Campion", element: "koi", far: "1.5" },
});

describe("the ways on", () => {
  it("are said and written with what is known at the table", () => {
    const found = aloneWrong(ways, "slipped", known(), 2);
    expect(found?.sentence).toBe("Campion on koi lies 1.5 mm beside its place.");
    expect(found?.events).toEqual([{ kind: "slipped", body: { card: 2, passes: ["p"], dx: 1.5 } }]);
    expect(found?.remedies.map((r) => r.key)).toEqual(["follow", "leave", "fewer"]);
    expect(found?.remedies[0]?.events[0]?.body).toEqual({ passes: ["q"] });
  });

  it("leave out what makes no sense here", () => {
    const found = aloneWrong(ways, "slipped", known({ mates: [] }), 1);
    expect(found?.remedies.map((r) => r.key)).toEqual(["leave"]);
    expect(aloneWrong(ways, "danced", known(), 1)).toBeNull();
  });

  it("take several values at once where one blank stands for them", () => {
    const [one] = filled([{ kind: "otherwise", body: { card: "$card", "*": "$paler" } }], { card: 1, paler: { hand: "light" } }); // prettier-ignore
    expect(one?.body).toEqual({ card: 1, hand: "light" });
  });
});

describe("the steps after it", () => {
  const steps = [
    step("place-1", { kind: "place", pass_key: null, inked: null, done: ["x"], at: 10 }),
    done("a", 20),
    step("b"),
    step("lift-1", { kind: "lift", pass_key: null, inked: null }),
    step("c", { card: 2 }),
  ];

  it("leave out a pass that is skipped, on its card only", () => {
    expect(keysOf(told(steps, event("skipped", { card: 1, pass: "b" })))).not.toContain("b");
    expect(keysOf(told(steps, event("skipped", { card: 2, pass: "b" })))).toContain("b");
    // what is laid cannot be left out any more
    expect(keysOf(told(steps, event("skipped", { card: 1, pass: "a" })))).toContain("a");
  });

  it("go on with the other cards where one is spoilt", () => {
    const left = told(steps, event("spoilt", { card: 1, fresh: false }));
    expect(keysOf(left)).toEqual(["place-1", "a", "c"]);
  });

  it("have a pass that is laid once more where she is, under the key that the plan will have for it", () => {
    const asked = event("again", { card: 1, pass: "a", ink: "campion", coats: 1, hand: "light" });
    const found = told(steps, asked);
    expect(keysOf(found)).toEqual(["place-1", "a", "away:a+key-of-again", "b", "lift-1", "c"]);
    expect(againKey(asked)).toBe("a+key-of-again".slice(0, 14));
    const fresh = found[2];
    expect(fresh?.sentence).toBe("Campion over koi once more, one coat, light hand.");
    expect(fresh?.reasons[0]).toContain("its sheet is still in place");
    expect(fresh?.inked).toMatchObject({ key: "a+key-of-again", hand: "light", coats: 1 });
  });

  it("say that the sheet has to be seated again where it was lifted", () => {
    const lifted = steps.map((s) =>
      s.key === "lift-1" || s.key === "b" ? { ...s, done: ["y"], at: 30 } : s,
    );
    const found = told(lifted, event("again", { card: 1, pass: "a" }));
    expect(found.find((s) => s.key.startsWith("away"))?.reasons[0]).toContain("seat its sheet again");
  });

  it("keep what was laid once more ticked off, in its place", () => {
    const asked = event("again", { card: 1, pass: "a" });
    const ticked = event("done", { step: "away:a+key-of-again" }, 60, "tick");
    const found = told(steps, asked, ticked);
    expect(found[2]).toMatchObject({ key: "away:a+key-of-again", done: ["tick"], at: 60 });
    expect(keysOf(told(steps, asked, ticked, event("undone", { of: ["key-of-again"] }, 70)))).toEqual(keysOf(steps)); // prettier-ignore
  });

  it("are as they were once it is taken back, and then nothing is left to take back", () => {
    const skipped = event("skipped", { card: 1, pass: "b" });
    expect(toldAlone([skipped])).toEqual({ keys: [skipped.key], sentence: "what you told last" });
    const back = event("undone", { of: [skipped.key] }, 55);
    expect(keysOf(told(steps, skipped, back))).toEqual(keysOf(steps));
    expect(toldAlone([skipped, back])).toBeNull();
  });

  it("are taken back press by press", () => {
    const first = event("otherwise", { card: 1, pass: "a", hand: "light" }, 40, "k1");
    const two = [event("slipped", {}, 50, "k2"), event("again", {}, 50.001, "k3")];
    expect(toldAlone([first, ...two])?.keys).toEqual(["k2", "k3"]);
  });
});
