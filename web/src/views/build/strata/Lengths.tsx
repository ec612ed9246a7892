/** One length of the core sample, and of the log of lightness beside it. */
import type { CSSProperties, ReactNode } from "react";
import type { Rung } from "../../../api/client";
import { bed, line, slab } from "../../../parts/coreShapes";
import { greys } from "../../../theme/theme";

export const CORE = 132;
export const LOG = 92;

interface LengthProps {
  wide: number;
  tall: number;
  style?: CSSProperties;
  children: ReactNode;
}

/** As tall as its row, and its row as tall as its words: no layer may end before the next. */
function Length({ wide, tall, style, children }: LengthProps) {
  return (
    <svg
      width={wide}
      viewBox={`0 0 ${wide} ${tall}`}
      preserveAspectRatio="none"
      aria-hidden="true"
      style={{ flex: "none", alignSelf: "stretch", height: "auto", ...style }}
    >
      {children}
    </svg>
  );
}

export function Slab({ rung, index, height }: { rung: Rung; index: number; height: number }) {
  const middle = CORE / 2;
  // reaches under the slab below, whose uneven top then covers it
  const low = (x0: number, x1: number): [number, number][] => [
    [x0, height + 7],
    [x1, height + 7],
  ];
  const high = (x0: number, x1: number) => bed(x0, x1, 3, index + 1, 1.8);
  return (
    <Length wide={CORE} tall={height} style={{ overflow: "visible", position: "relative" }}>
      <path d={slab(low(8, middle), high(8, middle))} fill={rung.alone.hex} />
      <path d={slab(low(middle, CORE - 8), high(middle, CORE - 8))} fill={rung.here.hex} />
      <path d={line(high(8, CORE - 8))} fill="none" stroke={greys.white} strokeWidth="1.200" />
      <path d={`M8 3V${height}M${CORE - 8} 3V${height}`} stroke={greys.edge} />
      {rung.coats > 1 &&
        Array.from({ length: rung.coats - 1 }, (_, n) => (
          <path
            key={n}
            d={line(bed(8, CORE - 8, 3 + ((height - 3) * (n + 1)) / rung.coats, index + n + 5, 1.2))}
            fill="none"
            stroke={greys.white}
            strokeOpacity="0.55"
            strokeDasharray="2 3"
          />
        ))}
    </Length>
  );
}

/** One length of the lightness log: the trace bends at each pass, so a turn back to the light shows at once. */
export function Log({ lights, at, height }: { lights: number[]; at: number; height: number }) {
  const x = (l: number) => 8 + (l / 100) * (LOG - 16);
  const here = x(lights[at] ?? 0);
  const below = lights[at - 1];
  const above = lights[at + 1];
  const up = above === undefined ? "" : `M${here} ${height / 2}L${(here + x(above)) / 2} 0`;
  const down = below === undefined ? "" : `M${here} ${height / 2}L${(here + x(below)) / 2} ${height}`;
  return (
    <Length wide={LOG} tall={height} style={{ background: greys.bench }}>
      <path d={`M${x(25)} 0V${height}M${x(50)} 0V${height}M${x(75)} 0V${height}`} stroke={greys.rule} />
      <path d={`${down}${up}`} stroke={greys.ink} strokeWidth="1.500" fill="none" />
      {/* a dot that stays round where the row is taller */}
      <path
        d={`M${here} ${height / 2}h0`}
        stroke={greys.ink}
        strokeWidth="9"
        strokeLinecap="round"
        vectorEffect="non-scaling-stroke"
      />
    </Length>
  );
}
