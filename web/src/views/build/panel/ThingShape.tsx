/** The outline of a thing as it lies, for pointing at, for pushing about, and to mark it. */
import type { Laid, Thing } from "../../../api/client";
import { greys } from "../../../theme/theme";

/** Path data of all that a thing is. */
export function outlineOf(set: Laid, thing: Thing): string {
  if (thing.outline) return thing.outline;
  const pieces = set.surfaces.filter((s) => s.thing === thing.key).map((s) => s.outline);
  const groups = set.sheets
    .filter((s) => s.thing === thing.key)
    .flatMap((s) => s.groups.map((g) => g.outline));
  return [...groups, ...pieces].join("");
}

/** As much of a set's outline as the hand needs: its first sheet. */
export function coarseOf(set: Laid, thing: Thing): string {
  if (thing.kind !== "set") return outlineOf(set, thing);
  return (
    set.sheets
      .find((s) => s.thing === thing.key)
      ?.groups.map((g) => g.outline)
      .join("") ?? ""
  );
}

/** Marks of a set, which should fall outside the trim. */
export const marksOf = (set: Laid, thing: Thing): string =>
  set.sheets
    .filter((s) => s.thing === thing.key)
    .map((s) => s.marks)
    .join("");

export function NoteShape({ thing }: { thing: Thing }) {
  const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = thing.box;
  const cx = (x0 + x1) / 2;
  const cy = (y0 + y1) / 2;
  return (
    <g stroke={greys.ink} strokeWidth="0.350" fill={greys.white}>
      <path d={`M${cx} ${cy - 3}L${cx + 3} ${cy}L${cx} ${cy + 3}L${cx - 3} ${cy}Z`} />
      <path d={`M${cx - 3} ${cy}H${cx + 3}`} fill="none" />
    </g>
  );
}
