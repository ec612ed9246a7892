/** What is drawn over the easel: the frame of what is chosen with its handle, guides, an outline being drawn. */
import type { Thing } from "../../../api/client";
import { greys, signal } from "../../../theme/theme";
import type { Guide } from "./guides";
import type { Point } from "./around";
import { AROUND } from "./around";

const LINES = [
  [greys.white, "0.900"],
  [greys.ink, "0.350"],
] as const;
// a light line with a dark one in it: seen on any card

export function Chosen({ thing, transform }: { thing: Thing; transform: string | undefined }) {
  const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = thing.box;
  const cx = (x0 + x1) / 2;
  return (
    <g transform={transform} fill="none">
      {LINES.map(([stroke, strokeWidth]) => (
        <rect
          key={stroke}
          x={x0}
          y={y0}
          width={x1 - x0}
          height={y1 - y0}
          stroke={stroke}
          strokeWidth={strokeWidth}
          pointerEvents="none"
        />
      ))}
      {thing.kind !== "note" && (
        <g data-turns="true">
          <path d={`M${cx} ${y0}V${y0 - 5}`} stroke={greys.ink} strokeWidth="0.350" />
          <circle
            data-turns="true"
            cx={cx}
            cy={y0 - 6}
            r="4.200"
            fill="transparent"
            pointerEvents="all"
            style={{ cursor: "grab" }}
          />
          <circle
            data-turns="true"
            cx={cx}
            cy={y0 - 6}
            r="1.500"
            fill={greys.white}
            stroke={greys.ink}
            strokeWidth="0.400"
          />
        </g>
      )}
    </g>
  );
}

export function GuideLine({ guide, wide, tall }: { guide: Guide; wide: number; tall: number }) {
  const d =
    guide.axis === "x"
      ? `M${guide.at} ${-AROUND}V${tall + AROUND}`
      : `M${-AROUND} ${guide.at}H${wide + AROUND}`;
  return (
    <g pointerEvents="none">
      <path d={d} stroke={greys.white} strokeWidth="0.700" />
      <path d={d} stroke={signal} strokeWidth="0.300" />
      {guide.of && (
        <text
          x={guide.axis === "x" ? guide.at + 1 : 1 - AROUND}
          y={guide.axis === "x" ? 3.4 - AROUND : guide.at - 1}
          fontSize="3"
          fill={greys.ink}
          stroke={greys.white}
          strokeWidth="0.800"
          paintOrder="stroke"
        >
          {guide.of}
        </text>
      )}
    </g>
  );
}

export function Drawing({ points }: { points: Point[] }) {
  const d = points.map(([x, y], i) => `${i ? "L" : "M"}${x} ${y}`).join("");
  return (
    <g pointerEvents="none">
      <path d={d} fill={greys.white} fillOpacity="0.300" stroke={greys.ink} strokeWidth="0.400" />
      {points.map(([x, y], i) => (
        <circle
          key={i}
          cx={x}
          cy={y}
          r={i ? 0.9 : 1.6}
          fill={greys.white}
          stroke={greys.ink}
          strokeWidth="0.350"
        />
      ))}
    </g>
  );
}
