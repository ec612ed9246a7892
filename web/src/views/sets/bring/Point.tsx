/** A point on a photograph: dragged, or moved by arrow keys while it has the keyboard. */
import type { KeyboardEvent, MouseEvent, PointerEvent } from "react";
import { signal } from "../../../theme/theme";
import { stepped } from "./OnPhotoParts";

interface Props {
  at: number[];
  /** Of the photograph, px: a point stays on it. */
  size: [number, number];
  /** What it is, for those who cannot see it. */
  name: string;
  /** Radius and line, as shares of the photograph's width. */
  thick?: [number, number];
  onMove: (at: number[]) => void;
  /** Looked at closely, or not any more. */
  onLook: (looked: boolean) => void;
}

/** Where a pointer is on the picture that an element belongs to, px of the photograph. */
export function placeOf(event: MouseEvent<SVGElement>): number[] | null {
  const svg = event.currentTarget.ownerSVGElement ?? (event.currentTarget as SVGSVGElement);
  const matrix = svg.getScreenCTM?.();
  if (!matrix) return null;
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse());
  return [at.x, at.y];
}

/** The nearest place that is on the photograph. */
export const within = ([x = 0, y = 0]: number[], [width, height]: [number, number]): number[] => [
  Math.min(width, Math.max(0, x)),
  Math.min(height, Math.max(0, y)),
];

export function Point({ at, size, name, thick = [1 / 55, 1 / 220], onMove, onLook }: Props) {
  const drag = (event: PointerEvent<SVGElement>) => {
    if (!event.currentTarget.hasPointerCapture?.(event.pointerId)) return;
    const place = placeOf(event);
    if (place) onMove(within(place, size));
  };
  const press = (event: KeyboardEvent) => {
    const place = stepped(event, at);
    if (place) onMove(within(place, size));
  };
  return (
    <circle
      cx={at[0]}
      cy={at[1]}
      r={size[0] * thick[0]}
      fill="#ffffff88"
      stroke={signal}
      strokeWidth={size[0] * thick[1]}
      style={{ cursor: "grab" }}
      role="slider"
      tabIndex={0}
      aria-label={`${name}; arrow keys move it`}
      aria-valuenow={Math.round(at[0] ?? 0)}
      aria-valuetext={at.map(Math.round).join(", ")}
      onKeyDown={press}
      onFocus={() => onLook(true)}
      onBlur={() => onLook(false)}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        onLook(true);
      }}
      onPointerMove={drag}
      onPointerUp={() => onLook(false)}
      // what lies under it is not pressed with it
      onClick={(e) => e.stopPropagation()}
    />
  );
}
