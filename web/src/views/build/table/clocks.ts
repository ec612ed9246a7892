/** Everything that is wet, by its own clock: a pass on its card, a sheet that was washed, a brush, a seal. */
import { useEffect, useState } from "react";
import type { Laid, TableStep } from "../../../api/client";
import { titleOf } from "../order/Visits";

export interface Clock {
  name: string;
  /** What is drying, in words. */
  what: string;
  card: number;
  /** Seconds since 1970. */
  dry: number;
}

type Sheets = Pick<Laid, "sheets" | "things">;

function called(step: TableStep, set: Sheets): string {
  if (step.kind === "ink") return step.inked?.element ?? step.element ?? "The ink";
  if (step.kind === "wash" || step.kind === "damp") return titleOf(set, step.sheet).split(":")[0] ?? "";
  if (step.kind === "prep") return "Under the weight";
  return step.kind === "clean" ? "The brush" : "The seal";
}

/** Clocks of all that was done, also of what is dry already. */
export function clocksOf(steps: TableStep[], set: Sheets): Clock[] {
  return steps.flatMap((step) =>
    step.done.length && step.at !== null && step.clock && step.dries > 0 && step.kind !== "wait"
      ? [
          {
            name: step.clock,
            what: called(step, set),
            card: step.kind === "ink" || step.kind === "seal" ? step.card : 0,
            dry: step.at + 60 * step.dries,
          },
        ]
      : [],
  );
}

/** When what a wait is for is dry, by the clock of the thing itself; null where that was never begun. */
export function dryAt(step: TableStep, clocks: Clock[]): number | null {
  const own = clocks.filter((c) => c.name === step.clock).map((c) => c.dry);
  return own.length ? Math.max(...own) : null;
}

/** Minutes and seconds. */
export function shown(seconds: number): string {
  const left = Math.max(0, Math.ceil(seconds));
  return `${Math.floor(left / 60)}:${String(left % 60).padStart(2, "0")}`;
}

/** Seconds since 1970, twice a second. */
export function useSeconds(): number {
  const [now, setNow] = useState(() => Date.now() / 1000);
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now() / 1000), 500);
    return () => clearInterval(timer);
  }, []);
  return now;
}
