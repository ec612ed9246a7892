/** What is ticked off of a shared plan: kept in this browser, by its link. */
import type { SharedPlan } from "../../api/client";

const place = (token: string): string => `shared-${token}`;

/** The numbers of the steps done; what another version wrote, or a browser that keeps nothing, is none. */
export function readTicks(token: string): number[] {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(place(token)) ?? "[]");
    return Array.isArray(found) ? found.filter((n): n is number => Number.isInteger(n)) : [];
  } catch {
    return [];
  }
}

export function writeTicks(token: string, done: number[]): void {
  try {
    localStorage.setItem(place(token), JSON.stringify(done));
  } catch {
    // a private window keeps nothing: the ticks last as long as the page
  }
}

export const ticked = (done: number[], number: number): number[] =>
  done.includes(number) ? done.filter((n) => n !== number) : [...done, number];

export const allSteps = (plan: SharedPlan) => plan.visits.flatMap((visit) => visit.steps);

/** The first step that is not done. */
export const next = (plan: SharedPlan, done: number[]) =>
  allSteps(plan).find((step) => !done.includes(step.number));

/** How many passes lie on the card: all up to the first step that is not done. */
export function laidBy(plan: SharedPlan, done: number[]): number {
  let laid = 0;
  for (const step of allSteps(plan)) {
    if (!done.includes(step.number)) break;
    laid = step.laid;
  }
  return laid;
}

export const sharedPicture = (token: string, after: number | null): string =>
  `/api/shared/${token}/picture${after === null ? "" : `?after=${after}`}`;
