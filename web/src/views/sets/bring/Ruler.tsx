/** Two points of a photograph that are a known distance apart: on a ruler, on a mat, or on the sheet itself. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { LengthField } from "../../../parts/LengthField";
import type { Units } from "../../../parts/lengths";
import { greys } from "../../../theme/theme";
import { Point } from "./Point";

export type Points = [number[], number[]];
export const NAMES: [string, string] = ["First point to measure by", "Second point to measure by"];
/** Where the two points begin: across the middle of the sheet, clear of its corners. */
export function pointsAt(corners: number[][], [width, height]: [number, number]): Points {
  const side = (one: number[] | undefined, two: number[] | undefined, otherwise: number[]) =>
    one && two ? [0, 1].map((n) => ((one[n] ?? 0) + (two[n] ?? 0)) / 2) : otherwise;
  const left = side(corners[0], corners[3], [0.2 * width, 0.5 * height]);
  const right = side(corners[1], corners[2], [0.8 * width, 0.5 * height]);
  const along = (share: number) => [0, 1].map((n) => (left[n] ?? 0) * (1 - share) + (right[n] ?? 0) * share);
  return [along(0.15), along(0.85)];
}

interface Drawn {
  points: Points;
  width: number;
  height: number;
  onMove: (points: Points) => void;
  /** The point that is looked at closely. */
  onLook: (index: number | null) => void;
  /** What either point is. */
  names: [string, string];
}

/** The two points and the line between them, as drawn on the photograph. */
export function RulerOnPhoto({ points, width, height, onMove, onLook, names }: Drawn) {
  const [[x1, y1], [x2, y2]] = points;
  return (
    <>
      {(
        [
          [greys.white, width / 160],
          [greys.ink, width / 400],
        ] as const
      ).map(([stroke, wide]) => (
        <line key={stroke} {...{ x1, y1, x2, y2, stroke }} strokeWidth={wide} pointerEvents="none" />
      ))}
      {([0, 1] as const).map((index) => (
        <Point
          key={index}
          at={points[index]}
          size={[width, height]}
          name={names[index]}
          onMove={(at) => onMove(index === 0 ? [at, points[1]] : [points[0], at])}
          onLook={(looked) => onLook(looked ? index : null)}
        />
      ))}
    </>
  );
}

interface Asked {
  units: Units;
  onMeasured: (apart: number) => void;
  onStop: () => void;
}

/** How far they are apart, as read off the ruler. */
export function RulerAsked({ units, onMeasured, onStop }: Asked) {
  const [apart, setApart] = useState(units === "in" ? 101.6 : 100);
  return (
    <Box sx={{ display: "flex", gap: 1.5, mt: 1, alignItems: "center", flexWrap: "wrap" }}>
      <Typography variant="body2">
        Put the two points on marks that you know: of a ruler, of a mat, or measured on the sheet itself.
      </Typography>
      <LengthField label="So far apart" mm={apart} units={units} low={1} onSet={setApart} width={140} />
      <Button variant="contained" onClick={() => onMeasured(apart)}>
        Size it by these
      </Button>
      <Button variant="text" onClick={onStop}>
        Leave the size
      </Button>
    </Box>
  );
}
