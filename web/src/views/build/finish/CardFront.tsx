/** The front of the card as it will stand there, true in its proportions. */
import Box from "@mui/material/Box";
import { type PointerEvent, useState } from "react";
import { type Finish, type FinishValues, pictureUrl, type Stock } from "../../../api/client";
import type { Units } from "../../../parts/lengths";
import { exactSize, stripAt } from "./words";

interface Props {
  id: number;
  picture: string;
  found: Finish;
  stocks: Stock[];
  /** The panel as it is planned, mm. */
  planned: { width: number; height: number };
  units: Units;
  /** A strip was laid elsewhere: its middle, mm from the front's left and top. */
  onMove: (strip: number, at: Spot) => void;
}

interface Spot {
  x: number;
  y: number;
}

const ROOM = 6;
// mm of table around the card

export function CardFront({ id, picture, found, stocks, planned, units, onMove }: Props) {
  const { finish } = found;
  const hex = (key: string) => stocks.find((s) => s.key === key)?.hex ?? "#ffffff";
  const panel = found.pieces.find((p) => p.key === (finish.alone ? "base" : "panel"));
  const at = panel?.place ?? { x: 0, y: 0 };
  const { width, height } = found.panel;
  return (
    <Box
      component="svg"
      role="group"
      aria-label={`The front of the card, ${exactSize(finish.width, finish.height, units)}`}
      viewBox={`${-ROOM} ${-ROOM} ${finish.width + 2 * ROOM} ${finish.height + 2 * ROOM}`}
      sx={{ width: "100%", height: "100%", maxWidth: 720 }}
    >
      <rect x={1} y={1.6} width={finish.width} height={finish.height} fill="#000" opacity={0.22} />
      <rect width={finish.width} height={finish.height} fill={hex(panelStock(found, "base"))} />
      {found.pieces
        .filter((p) => p.place && p.key.startsWith("mat"))
        .map((p) => (
          <path
            key={p.key}
            fill={hex(p.stock)}
            fillRule="evenodd"
            stroke="#000"
            strokeOpacity={0.18}
            strokeWidth={0.2}
            d={frame(p)}
          />
        ))}
      {!finish.alone && (
        <rect
          x={at.x + 0.3 + finish.foam * 0.4}
          y={at.y + 0.4 + finish.foam * 0.5}
          width={width}
          height={height}
          fill="#000"
          opacity={0.2}
        />
      )}
      {width > 0 && height > 0 && (
        <svg
          x={at.x}
          y={at.y}
          width={width}
          height={height}
          viewBox={`${(planned.width - width) / 2} ${(planned.height - height) / 2} ${width} ${height}`}
          preserveAspectRatio="none"
        >
          <image
            href={pictureUrl(id, picture, 960)}
            width={planned.width}
            height={planned.height}
            preserveAspectRatio="none"
          />
        </svg>
      )}
      {finish.strips.map((strip, n) => (
        // strips have no name but their place
        <StripOn
          key={`${n} ${strip.x} ${strip.y}`}
          strip={strip}
          n={n}
          finish={finish}
          hex={hex}
          onMove={(at) => onMove(n, at)}
        />
      ))}
      <Fold fold={finish.fold} width={finish.width} height={finish.height} />
    </Box>
  );
}

const panelStock = (found: Finish, key: string) => found.pieces.find((p) => p.key === key)?.stock ?? "";

/** A mat, with its window as a hole. */
function frame(p: Finish["pieces"][number]): string {
  const { x, y } = p.place ?? { x: 0, y: 0 };
  const whole = `M${x} ${y}h${p.width}v${p.height}h${-p.width}z`;
  if (!p.window) return whole;
  const w = p.window;
  return `${whole}M${x + w.x} ${y + w.y}h${w.width}v${w.height}h${-w.width}z`;
}

/** The fold as a soft edge. */
function Fold({ fold, width, height }: { fold: string; width: number; height: number }) {
  if (fold === "none") return null;
  const line = fold === "side" ? `M0.400 0V${height}` : `M0 0.400H${width}`;
  return <path d={line} stroke="#000" strokeOpacity={0.28} strokeWidth={0.8} />;
}

interface StripProps {
  strip: FinishValues["strips"][number];
  n: number;
  finish: FinishValues;
  hex: (key: string) => string;
  onMove: (at: Spot) => void;
}

/** A strip for words where it lies; pushed about with the pointer, or by the arrow keys (with Shift by more). */
function StripOn({ strip, n, finish, hex, onMove }: StripProps) {
  const [held, setHeld] = useState<{ from: Spot; by: Spot } | null>(null);
  // where it was laid down, until that is kept
  const [moved, setMoved] = useState<Spot | null>(null);
  const middle = moved ?? stripAt(strip, n, finish);
  const at = held ? { x: middle.x + held.by.x, y: middle.y + held.by.y } : middle;
  const rest = (spot: Spot) => {
    const now = { x: Math.round(spot.x * 10) / 10, y: Math.round(spot.y * 10) / 10 };
    setMoved(now);
    onMove(now);
  };
  const mm = (event: PointerEvent<SVGGElement>): Spot => {
    const matrix = event.currentTarget.ownerSVGElement?.getScreenCTM()?.inverse();
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix ?? undefined);
    return { x: point.x, y: point.y };
  };
  const edge = strip.shadow ? strip.edge : 0;
  const x = at.x - strip.width / 2;
  const y = at.y - strip.height / 2;
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={`Strip for words ${n + 1}: arrow keys move it`}
      aria-valuenow={Math.round(at.x)}
      aria-valuetext={`${Math.round(at.x)} mm from the left, ${Math.round(at.y)} mm from the top`}
      style={{ cursor: held ? "grabbing" : "grab", touchAction: "none" }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        setHeld({ from: mm(event), by: { x: 0, y: 0 } });
      }}
      onPointerMove={(event) => {
        if (!held) return;
        const now = mm(event);
        setHeld({ ...held, by: { x: now.x - held.from.x, y: now.y - held.from.y } });
      }}
      onPointerUp={() => {
        if (held && (held.by.x || held.by.y)) rest(at);
        setHeld(null);
      }}
      onPointerCancel={() => setHeld(null)}
      onKeyDown={(event) => {
        const step = STEPS[event.key];
        if (!step) return;
        event.preventDefault();
        const far = event.shiftKey ? 5 : 1;
        rest({ x: middle.x + step[0] * far, y: middle.y + step[1] * far });
      }}
    >
      {strip.foam > 0 && (
        <rect
          x={x - edge + strip.foam * 0.5}
          y={y - edge + strip.foam * 0.6}
          width={strip.width + 2 * edge}
          height={strip.height + 2 * edge}
          opacity={0.2}
        />
      )}
      {strip.shadow && (
        <rect
          x={x - edge}
          y={y - edge}
          width={strip.width + 2 * edge}
          height={strip.height + 2 * edge}
          fill={hex(strip.shadow)}
        />
      )}
      <rect
        x={x}
        y={y}
        width={strip.width}
        height={strip.height}
        fill={hex(strip.stock)}
        stroke="#000"
        strokeOpacity={0.2}
        strokeWidth={0.2}
      />
    </g>
  );
}

const STEPS: Partial<Record<string, [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
