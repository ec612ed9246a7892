/** What the drawing of the sheets needs of the browser: places under the pointer, the wheel, names of its parts. */
import { type PointerEvent, type RefObject, useEffect, useRef } from "react";
import type { Point } from "./geometry";

/** Where the sheets are, for what gives the keyboard back to them. */
export const SHEETS_ID = "the-sheets";
export const optionId = (key: string) => `opening-${key}`;

export function pointOf(svg: SVGSVGElement | null, event: { clientX: number; clientY: number }): Point {
  const matrix = svg?.getScreenCTM();
  if (!matrix) return [0, 0];
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse());
  return [point.x, point.y];
}

/** The wheel over the sheets looks closer instead of scrolling the page. */
export function useWheel(
  svg: RefObject<SVGSVGElement | null>,
  turned: (by: number, event: WheelEvent) => void,
) {
  const latest = useRef(turned);
  useEffect(() => {
    latest.current = turned;
  });
  useEffect(() => {
    const node = svg.current;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      latest.current(Math.exp(-event.deltaY / 400), event);
    };
    // React listens passively: what it hears cannot keep the page from scrolling
    node?.addEventListener("wheel", wheel, { passive: false });
    return () => node?.removeEventListener("wheel", wheel);
  }, [svg]);
}

type Finger = { clientX: number; clientY: number };
const between = ([a, b]: Finger[]): Finger => ({
  clientX: ((a?.clientX ?? 0) + (b?.clientX ?? 0)) / 2,
  clientY: ((a?.clientY ?? 0) + (b?.clientY ?? 0)) / 2,
});
const apart = ([a, b]: Finger[]) =>
  Math.hypot((a?.clientX ?? 0) - (b?.clientX ?? 0), (a?.clientY ?? 0) - (b?.clientY ?? 0));

/** Two fingers on the sheets: spread they look closer, moved together they pull the sheets along. */
export function usePinch(pinched: (by: number, from: Finger, to: Finger) => void) {
  const fingers = useRef(new Map<number, Finger>());
  const two = useRef(false);
  return {
    /** A finger comes down; true from the second one on, when it is no press and no lasso any more. */
    down: (event: PointerEvent): boolean => {
      if (event.pointerType !== "touch") return false;
      fingers.current.set(event.pointerId, { clientX: event.clientX, clientY: event.clientY });
      two.current ||= fingers.current.size > 1;
      return two.current;
    },
    /** A finger moves; true while it is a pinch. */
    move: (event: PointerEvent): boolean => {
      if (!fingers.current.has(event.pointerId)) return false;
      const was = [...fingers.current.values()];
      fingers.current.set(event.pointerId, { clientX: event.clientX, clientY: event.clientY });
      const now = [...fingers.current.values()];
      if (now.length === 2 && apart(was) > 0) pinched(apart(now) / apart(was), between(was), between(now));
      return two.current;
    },
    /** A finger goes; true until the last one of a pinch is gone. */
    up: (event: PointerEvent): boolean => {
      const pinching = two.current;
      fingers.current.delete(event.pointerId);
      two.current &&= fingers.current.size > 0;
      return pinching;
    },
  };
}
