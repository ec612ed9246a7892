/**
 * Whether a view has what it shows. What comes after the view itself is then drawn in slices, so that the page answers
 * in between; every later change is drawn at once, as the answer to a press must be.
 */
import { useDeferredValue } from "react";

export const useThere = (there: boolean): boolean => useDeferredValue(there) && there;
