/** The openings drawn over the photograph they were found in, and the four corners of the sheet to drag. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { TracedSheet } from "../../../api/client";
import { counted } from "../../../parts/words";
import { signal } from "../../../theme/theme";
import { greys } from "../../../theme/theme";

const CORNERS = ["Top left", "Top right", "Bottom right", "Bottom left"];
const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

interface Props {
  sheet: TracedSheet;
  onCorners: (corners: number[][]) => void;
  /** Leaves an opening out, or takes it back; not there where nothing was found. */
  onDrop?: (index: number) => void;
  /** How high it may get on the screen. */
  high?: string;
}

const LENS = 5;
// times that a corner which is held is shown larger

export function OnPhoto({ sheet, onCorners, onDrop, high = "74dvh" }: Props) {
  const [width = 1, height = 1] = sheet.photo_size;
  const svg = useRef<SVGSVGElement>(null);
  const [corners, setCorners] = useState(sheet.corners ?? []);
  const [held, setHeld] = useState<number | null>(null);
  const [keyed, setKeyed] = useState<number | null>(null);
  const moved = JSON.stringify(corners) !== JSON.stringify(sheet.corners);
  // a doubtful opening that is looked at closely
  const [asked, setAsked] = useState<number | null>(null);
  const looked = held ?? keyed;
  const close =
    looked !== null ? corners[looked] : asked !== null ? middleOf(sheet.openings[asked]) : undefined;
  const turn = (by: number) => setCorners([...corners.slice(by), ...corners.slice(0, by)]);

  const put = (index: number, x: number, y: number) =>
    setCorners(
      corners.map((c, i) =>
        i === index ? [Math.min(width, Math.max(0, x)), Math.min(height, Math.max(0, y))] : c,
      ),
    );
  const drag = (event: PointerEvent) => {
    const matrix = svg.current?.getScreenCTM();
    if (held === null || !matrix) return;
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse());
    put(held, at.x, at.y);
  };
  const press = (index: number) => (event: KeyboardEvent) => {
    const step = STEPS[event.key];
    if (!step) return;
    event.preventDefault();
    const by = event.shiftKey ? 10 : 1;
    put(index, (corners[index]?.[0] ?? 0) + step[0] * by, (corners[index]?.[1] ?? 0) + step[1] * by);
  };

  return (
    <Box>
      <svg
        ref={svg}
        viewBox={`0 0 ${width} ${height}`}
        role="group"
        aria-label="The photograph with the openings that were found"
        onPointerMove={drag}
        onPointerUp={() => setHeld(null)}
        style={{
          width: "100%",
          maxHeight: high,
          display: "block",
          background: "#bdbdbd",
          touchAction: "none",
        }}
      >
        <image href={sheet.photo ?? undefined} width={width} height={height} />
        {!moved && (
          <path
            d={sheet.openings.join("")}
            fill="none"
            stroke={greys.white}
            strokeOpacity={0.75}
            strokeWidth={width / 200}
            pointerEvents="none"
          />
        )}
        {!moved &&
          sheet.openings.map((path, i) => {
            const out = sheet.dropped.includes(i);
            const doubtful = sheet.doubtful.includes(i);
            return (
              <path
                key={i}
                d={path}
                fill={out ? "#00000055" : "#ffffff00"}
                stroke={out ? "#555" : signal}
                strokeWidth={(doubtful && !out ? 2.2 : 1) * (width / 420)}
                strokeDasharray={out ? "6 4" : doubtful ? `${width / 90} ${width / 200}` : undefined}
                style={{ cursor: "pointer" }}
                onClick={() => onDrop?.(i)}
              >
                <title>
                  {out ? "Left out. Press to take it back." : "An opening. Press to leave it out."}
                </title>
              </path>
            );
          })}
        <polygon
          points={corners.map((c) => c.join(",")).join(" ")}
          fill="none"
          stroke={greys.white}
          strokeOpacity={0.7}
          strokeWidth={width / 200}
          pointerEvents="none"
        />
        <polygon
          points={corners.map((c) => c.join(",")).join(" ")}
          fill="none"
          stroke={signal}
          strokeWidth={width / 400}
          strokeDasharray="10 6"
          pointerEvents="none"
        />
        {corners.map((corner, i) => (
          <circle
            key={CORNERS[i]}
            cx={corner[0]}
            cy={corner[1]}
            r={width / 45}
            fill="#ffffff66"
            stroke={signal}
            strokeWidth={width / 250}
            style={{ cursor: "grab" }}
            role="slider"
            tabIndex={0}
            aria-label={`${CORNERS[i]} corner; arrow keys move it`}
            aria-valuenow={Math.round(corner[0] ?? 0)}
            aria-valuetext={`${Math.round(corner[0] ?? 0)}, ${Math.round(corner[1] ?? 0)}`}
            onKeyDown={press(i)}
            onFocus={() => setKeyed(i)}
            onBlur={() => setKeyed(null)}
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              setHeld(i);
            }}
          />
        ))}
        {corners.map((corner, i) => (
          <Named
            key={`${CORNERS[i]} named`}
            name={CORNERS[i] ?? ""}
            at={corner}
            corners={corners}
            size={[width, height]}
          />
        ))}
        {close && <Lens photo={sheet.photo} at={close} width={width} height={height} />}
      </svg>
      <Box sx={{ display: "flex", gap: 1.5, mt: 1, alignItems: "center", flexWrap: "wrap" }}>
        {moved ? (
          <>
            <Button variant="contained" onClick={() => onCorners(corners)}>
              Read again from these corners
            </Button>
            <Button variant="text" onClick={() => setCorners(sheet.corners ?? [])}>
              Put them back
            </Button>
          </>
        ) : (
          <Typography variant="body2">
            Drag a corner if it does not sit on the sheet’s.
            {sheet.openings.length > 0 && " Press an opening to leave out a speck."}
          </Typography>
        )}
        <Button variant="text" onClick={() => turn(2)}>
          The other way up
        </Button>
        <Button variant="text" onClick={() => turn(1)}>
          Next corner is the top left
        </Button>
      </Box>
      {onDrop && !moved && sheet.doubtful.length > 0 && (
        <Doubtful sheet={sheet} onAsk={setAsked} onDrop={onDrop} />
      )}
    </Box>
  );
}

/** What lies under a corner, larger, away from the hand that holds it. */
function Lens({
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
function Named({
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
      y={y + letters / 3}
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
function middleOf(path: string | undefined): number[] | undefined {
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

/** The openings that the photograph does not show clearly, one after another: looked at in the lens, left out by a press. */
function Doubtful({
  sheet,
  onAsk,
  onDrop,
}: {
  sheet: TracedSheet;
  onAsk: (index: number | null) => void;
  onDrop: (index: number) => void;
}) {
  return (
    <Box sx={{ mt: 1 }}>
      <Typography variant="body2" sx={{ fontWeight: 600 }}>
        {counted(sheet.doubtful.length, "opening")} {sheet.doubtful.length === 1 ? "is" : "are"} doubtful
        (thick dashes). Look at each; a press leaves it out.
      </Typography>
      <Box
        role="group"
        aria-label="Doubtful openings"
        sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, mt: 0.5 }}
      >
        {sheet.doubtful.map((index, n) => {
          const out = sheet.dropped.includes(index);
          return (
            <Button
              key={index}
              variant={out ? "contained" : "outlined"}
              aria-pressed={out}
              aria-label={`Doubtful opening ${n + 1}: ${out ? "left out" : "kept"}`}
              onPointerEnter={() => onAsk(index)}
              onPointerLeave={() => onAsk(null)}
              onFocus={() => onAsk(index)}
              onBlur={() => onAsk(null)}
              onClick={() => onDrop(index)}
              sx={{ minWidth: 40, px: 1 }}
            >
              {n + 1}
            </Button>
          );
        })}
      </Box>
    </Box>
  );
}
