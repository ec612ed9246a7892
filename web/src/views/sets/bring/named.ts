/** What a set is called as long as nobody has said: after its files. */
import { capital } from "../../../parts/words";

const PART = /^(sheet|step|layer|piece|mask)s?$/i;

// what a camera counts its pictures by says nothing of them
const COUNTED = /^(img|image|dsc[a-z]?|pict?|picture|photo|scan|p)?\d*$/i;

const wordsOf = (file: string) =>
  file
    .replace(/(\.set)?\.\w+$/i, "")
    .split(/[-_\s]+/)
    .filter(Boolean);

/** The words that all names begin with ("koi-sheet-1.jpg" and "koi-sheet-2.jpg": "Koi"); of one file, or where they have
 * none in common, the first one's. Nothing where a camera has named them. */
export function namedAfter(files: readonly string[]): string {
  const [first = [], ...others] = files.map(wordsOf);
  const differs = first.findIndex((word, i) =>
    others.some((words) => words[i]?.toLowerCase() !== word.toLowerCase()),
  );
  const shared = others.length && differs >= 0 ? first.slice(0, differs) : first;
  // what is shared ends with what each of them is
  const kept = others.length && PART.test(shared.at(-1) ?? "") ? shared.slice(0, -1) : shared;
  const words = [kept, shared, first].find((some) => some.length) ?? [];
  return words.every((word) => COUNTED.test(word)) ? "" : capital(words.join(" "));
}
