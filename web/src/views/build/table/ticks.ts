/** What is to be ticked off at a step, and what was not. */
import type { Laid, State, Step, TableStep } from "../../../api/client";

/** Steps with which a sheet leaves the card. */
export const TAKES_OFF: readonly string[] = ["lift", "damp", "wash"];

/** For a pass, its coats; for a lift, every element of the sheet: a whole group is easily forgotten. */
export function toTick(
  step: Pick<TableStep, "kind" | "sheet" | "inked">,
  set: Pick<Laid, "sheets">,
  state: Pick<State, "elements">,
): string[] {
  const { inked: pass } = step;
  if (pass) {
    const coats = Array.from({ length: pass.coats }, (_, i) => (pass.coats > 1 ? `, coat ${i + 1}` : ""));
    return coats.map((coat) => `${pass.element}${coat}`);
  }
  if (!TAKES_OFF.includes(step.kind)) return [];
  const inked = new Set(
    state.elements.flatMap((e) => e.rungs.filter((r) => r.sheet === step.sheet).map(() => e.name)),
  );
  const groups = set.sheets.find((s) => s.number === step.sheet)?.groups ?? [];
  return groups.map((g) => g.element).filter((e) => inked.has(e));
}

/**
 * What was left unticked although something was ticked: who ticks at all means it. Who ticks nothing says so by the
 * button, which then reads that all of it is inked.
 */
export function forgotten(names: string[], ticked: string[]): string[] {
  return names.some((n) => ticked.includes(n)) ? names.filter((n) => !ticked.includes(n)) : [];
}

/** The step to go back to for an element: its last pass through the sheet before a place in the steps. */
export function backTo(steps: Step[], at: number, element: string): number | null {
  const sheet = steps[at]?.sheet;
  for (let i = at - 1; i >= 0; i--) {
    const step = steps[i];
    if (step?.kind === "ink" && step.sheet === sheet && step.element === element) return i;
  }
  return null;
}
