/**
 * The changes of one colouring that have not arrived yet, in this browser's
 * store: each under a key of its own, so that two tabs never write over one
 * another. Whoever opens the colouring next finds what an earlier tab left; a
 * change that two tabs send is made once, for its key.
 */
import type { EditKind } from "../../api/client";
import { keep, kept } from "../../parts/store";

export interface Waiting {
  edit_key: string;
  kind: EditKind | "undo" | "redo";
  values: Record<string, unknown>;
  /** The revision it was decided on; behind earlier changes of its tab it follows theirs. */
  on?: number;
  /** When it was made, ms: what a tab finds is sent in this order. */
  at: number;
}

let last = 0;

/** The time now, ms, and never the same twice: changes of one page keep their order however quickly they come. */
export const moment = (): number => (last = Math.max(Date.now(), last + 0.001));

const PREFIX = "anastrata-changes-";
const keyOf = (id: number, edit: Waiting) => `${PREFIX}${id}/${edit.edit_key}`;

/** False where the browser has no room: the change then lives in this page only. */
export const keepChange = (id: number, edit: Waiting): boolean => keep(keyOf(id, edit), edit);

export const dropChange = (id: number, edit: Waiting): void => localStorage.removeItem(keyOf(id, edit));

/** Everything that waits for a colouring, oldest first. */
export function keptChanges(id: number): Waiting[] {
  const found: Waiting[] = [];
  for (let i = 0; i < localStorage.length; i += 1) {
    const key = localStorage.key(i) ?? "";
    if (!key.startsWith(`${PREFIX}${id}/`)) continue;
    const edit = kept<Waiting | null>(key, null);
    if (edit?.edit_key && edit.kind) found.push(edit);
  }
  return found.sort((a, b) => a.at - b.at || a.edit_key.localeCompare(b.edit_key));
}
