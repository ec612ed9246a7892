/** A whole element as one small core: card at the bottom, each pass as it looks here. */
import type { Element } from "../api/client";
import { bed, slab } from "./coreShapes";
import { greys } from "../theme/theme";

export function MiniCore({
  element,
  card,
  width = 40,
  height = 64,
}: {
  element: Element;
  card: string;
  width?: number;
  height?: number;
}) {
  const total = element.rungs.reduce((sum, rung) => sum + rung.thickness, 0);
  const base = 12;
  const unit = total ? (height - base - 3) / Math.max(total, 2.5) : 0;
  const floors = element.rungs.reduce<number[]>(
    (ys, rung) => [...ys, (ys.at(-1) ?? 0) - rung.thickness * unit],
    [height - base],
  );
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      aria-hidden="true"
      style={{ display: "block" }}
    >
      <rect x="1" y={height - base - 2} width={width - 2} height={base + 2} fill={card} />
      {element.rungs.map((rung, i) => {
        const path = slab(
          bed(1, width - 1, floors[i] ?? 0, i, 1.3),
          bed(1, width - 1, floors[i + 1] ?? 0, i + 1, 1.3),
        );
        return <path key={rung.key} d={path} fill={rung.here.hex} />;
      })}
      <rect
        x="0.5"
        y="0.5"
        width={width - 1}
        height={height - 1}
        rx="3"
        fill="none"
        stroke={greys.edge}
        strokeDasharray={element.rungs.length ? undefined : "3 3"}
      />
    </svg>
  );
}
