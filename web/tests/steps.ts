/** Steps and a panel, as the order and the table show them. */
import type { Laid, TableStep } from "../src/api/client";

export const step = (kind: string, change: object = {}) => ({
  kind, word: kind, sentence: `${kind} it`, reasons: [], caution: null, minutes: 2, sheet: 1, pass_key: null, element: null,
  key: `${kind}-1`, how: "", who: 1, card: 1, job: null, clock: null, dries: 0, done: [], at: null, inked: null, ...change,
}) as unknown as TableStep; // prettier-ignore
export const ink = (key: string, sheet = 1, change: object = {}) => step("ink", { pass_key: key, sheet, key: `ink-${key}`, element: "koi", sentence: `Lay ${key}`, ...change }); // prettier-ignore

export const laid = {
  sheets: [
    { number: 1, kind: "stencil", called: "1", name: "Bases", thing: "image", nouns: { one: "sheet" }, groups: [{ element: "koi" }, { element: "water" }] },
    { number: 2, kind: "stencil", called: "2", name: "Tones", thing: "image", nouns: { one: "sheet" }, groups: [] },
    { number: 3, kind: "words", called: "1", name: "Thank you", thing: "words", nouns: { one: "stamp" }, groups: [] },
  ],
  things: [{ key: "image", kind: "set", name: "Koi" }], nouns: { one: "sheet" },
} as unknown as Laid; // prettier-ignore
