/**
 * What a view shows, once it is there. Where it comes after the view, it is then drawn in slices, so that the page
 * answers in between; every later change is drawn at once, as the answer to a press must be.
 */
import { useDeferredValue } from "react";

export function useThere<T>(value: T | null | undefined): T | null | undefined {
  const there = value !== null && value !== undefined;
  return useDeferredValue(there) ? value : undefined;
}
