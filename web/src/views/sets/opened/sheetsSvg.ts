/** What the drawing of the sheets needs of the browser: places under the pointer, the wheel, names of its parts. */
import { type RefObject, useEffect, useRef } from "react";
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
