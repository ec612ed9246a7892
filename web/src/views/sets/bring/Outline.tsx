/** The outline of an opening that is drawn by hand, point by point, on the photograph. */
import { greys } from "../../../theme/theme";
import { Point, within } from "./Point";

interface Props {
  points: number[][];
  size: [number, number];
  /** Not there where its points are not to be held. */
  onMove: ((points: number[][]) => void) | undefined;
  /** The point that is looked at closely. */
  onLook: (index: number | null) => void;
}

export function Outline({ points, size, onMove, onLook }: Props) {
  const around = points.map((p) => p.join(",")).join(" ");
  return (
    <>
      {(
        [
          [greys.white, size[0] / 160],
          [greys.ink, size[0] / 400],
        ] as const
      ).map(([stroke, wide]) => (
        <polygon
          key={stroke}
          points={around}
          fill={stroke === greys.ink ? "#ffffff44" : "none"}
          stroke={stroke}
          strokeWidth={wide}
          pointerEvents="none"
        />
      ))}
      {onMove &&
        points.map((at, index) => (
          <Point
            key={index}
            at={at}
            size={size}
            name={`Point ${index + 1} of the outline`}
            thick={[1 / 80, 1 / 300]}
            onMove={(to) => onMove(points.map((p, i) => (i === index ? to : p)))}
            onLook={(looked) => onLook(looked ? index : null)}
          />
        ))}
    </>
  );
}

/** One point more, for the keyboard: a little on from the last, as the last went on from the one before. */
export function oneMore(points: number[][], corners: number[][], size: [number, number]): number[] {
  const last = points.at(-1);
  if (!last) {
    const mid = (axis: 0 | 1) =>
      corners.length ? corners.reduce((sum, c) => sum + (c[axis] ?? 0), 0) / corners.length : size[axis] / 2;
    return [mid(0), mid(1)];
  }
  const before = points.at(-2) ?? [(last[0] ?? 0) - size[0] / 25, last[1] ?? 0];
  const to = [0, 1].map((n) => 2 * (last[n] ?? 0) - (before[n] ?? 0));
  return within(to, size);
}
