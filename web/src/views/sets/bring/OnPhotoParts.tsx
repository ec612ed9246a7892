/** What is drawn beside a photograph: a lens, the names of corners, the openings that are doubtful. */
import type { KeyboardEvent } from "react";
import type { TracedSheet } from "../../../api/client";
import { counted } from "../../../parts/words";
import { greys, signal } from "../../../theme/theme";
import { OneByOne } from "./OneByOne";

export const CORNERS = ["Top left", "Top right", "Bottom right", "Bottom left"];
const LENS = 5;
// times that a corner which is held is shown larger

const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** Where a point goes by an arrow key: a pixel, with Shift ten; null for any other key. */
export function stepped(event: KeyboardEvent, [x = 0, y = 0]: number[]): [number, number] | null {
  const step = STEPS[event.key];
  if (!step) return null;
  event.preventDefault();
  const by = event.shiftKey ? 10 : 1;
  return [x + step[0] * by, y + step[1] * by];
}

/** What lies under a corner, larger, away from the hand that holds it. */
export function Lens({
  photo,
  at,
  width,
  height,
}: {
  photo: string | null;
  at: number[];
  width: number;
  height: number;
}) {
  const size = Math.min(width, height) / 3.6;
  const [x = 0, y = 0] = at;
  const left = x < width / 2 ? width - size - 8 : 8;
  const above = y < height / 2 ? height - size - 8 : 8;
  const seen = size / LENS;
  return (
    <g pointerEvents="none" aria-hidden="true">
      <svg
        x={left}
        y={above}
        width={size}
        height={size}
        viewBox={`${x - seen / 2} ${y - seen / 2} ${seen} ${seen}`}
      >
        <rect x={x - seen} y={y - seen} width={2 * seen} height={2 * seen} fill="#bdbdbd" />
        <image href={photo ?? undefined} width={width} height={height} />
        <path
          d={`M${x - seen} ${y}h${2 * seen}M${x} ${y - seen}v${2 * seen}`}
          stroke={signal}
          strokeWidth={seen / 90}
        />
      </svg>
      <rect
        x={left}
        y={above}
        width={size}
        height={size}
        fill="none"
        stroke={greys.white}
        strokeWidth={width / 250}
      />
    </g>
  );
}

/** Which corner it is, beside the sheet where there is room, else on it. */
export function Named({
  name,
  at,
  corners,
  size: [width, height],
}: {
  name: string;
  at: number[];
  corners: number[][];
  size: [number, number];
}) {
  const [x = 0, y = 0] = at;
  const letters = Math.max(width, height) / 52;
  const middle = corners.reduce((sum, c) => sum + (c[0] ?? 0), 0) / corners.length;
  const outwards = x < middle ? -1 : 1;
  const room = outwards < 0 ? x : width - x;
  const way = room > letters * 9 ? outwards : -outwards;
  return (
    <text
      x={x + way * (width / 34)}
      // a corner may lie on the border of the picture
      y={Math.min(height - letters / 2, Math.max(letters * 1.2, y + letters / 3))}
      textAnchor={way > 0 ? "start" : "end"}
      fontSize={letters}
      fontWeight={name === CORNERS[0] ? 700 : 500}
      fill={greys.white}
      stroke="#000"
      strokeWidth={letters / 6}
      paintOrder="stroke"
      pointerEvents="none"
      aria-hidden="true"
    >
      {name}
    </text>
  );
}

/** The middle of an opening's outline, px of the photograph. */
export function middleOf(path: string | undefined): number[] | undefined {
  const points = [...(path ?? "").matchAll(/(-?[\d.]+),(-?[\d.]+)/g)].map((m) => [
    Number(m[1]),
    Number(m[2]),
  ]);
  if (!points.length) return undefined;
  const span = (axis: number) => {
    const all = points.map((p) => p[axis] ?? 0);
    return (Math.min(...all) + Math.max(...all)) / 2;
  };
  return [span(0), span(1)];
}

/** The openings that are doubtful and still there: what a mend took up is none any more. */
export const doubtfulOf = (sheet: TracedSheet) => sheet.doubtful.filter((i) => sheet.openings[i]);

/** By how much an opening's area may be off, where that is worth a word. */
export const offBy = (share: number | undefined): string =>
  share !== undefined && share >= 0.02 ? `± ${Math.round(Math.min(share, 0.99) * 100)} %` : "";

/** The openings that the photograph does not show clearly, one after another: looked at in the lens, left out by a press. */
export function Doubtful({
  sheet,
  onAsk,
  onDrop,
}: {
  sheet: TracedSheet;
  onAsk: (outline: string | null) => void;
  onDrop: (index: number) => void;
}) {
  const doubtful = doubtfulOf(sheet);
  const are = doubtful.length === 1 ? "is" : "are";
  return (
    <OneByOne
      label="Doubtful openings"
      sentence={`${counted(doubtful.length, "opening")} ${are} doubtful (thick dashes). Look at each; a press leaves it out.`}
      items={doubtful.map((index, n) => {
        const [out, off] = [sheet.dropped.includes(index), offBy(sheet.may_be_off[index])];
        const name = `Doubtful opening ${n + 1}: ${out ? "left out" : "kept"}${off ? `, its area ${off}` : ""}`;
        return { key: String(index), outline: sheet.openings[index] ?? "", name, pressed: out, tail: off };
      })}
      onAsk={onAsk}
      onPress={(n) => onDrop(doubtful[n] ?? 0)}
    />
  );
}
