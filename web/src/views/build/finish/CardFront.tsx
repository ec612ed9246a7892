/** The front of the card as it will stand there, true in its proportions. */
import Box from "@mui/material/Box";
import { type Finish, pictureUrl, type Stock } from "../../../api/client";
import type { Units } from "../../../parts/lengths";
import { exactSize } from "./words";

interface Props {
  id: number;
  picture: string;
  found: Finish;
  stocks: Stock[];
  /** The panel as it is planned, mm. */
  planned: { width: number; height: number };
  units: Units;
}

const ROOM = 6;
// mm of table around the card

export function CardFront({ id, picture, found, stocks, planned, units }: Props) {
  const { finish } = found;
  const hex = (key: string) => stocks.find((s) => s.key === key)?.hex ?? "#ffffff";
  const panel = found.pieces.find((p) => p.key === (finish.alone ? "base" : "panel"));
  const at = panel?.place ?? { x: 0, y: 0 };
  const { width, height } = found.panel;
  return (
    <Box
      component="svg"
      role="img"
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
      {finish.strips.map((strip, n) => {
        const x = (finish.width - strip.width) / 2;
        const y = finish.height * 0.86 - strip.height * (1 + 1.6 * n);
        return (
          // strips have no name but their place
          <g key={n}>
            {strip.shadow && (
              <rect
                x={x - strip.edge}
                y={y - strip.edge}
                width={strip.width + 2 * strip.edge}
                height={strip.height + 2 * strip.edge}
                fill={hex(strip.shadow)}
              />
            )}
            <rect x={x} y={y} width={strip.width} height={strip.height} fill={hex(strip.stock)} />
          </g>
        );
      })}
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
