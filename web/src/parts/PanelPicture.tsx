/** The predicted panel with the openings drawn over it for pointing. */
import Box from "@mui/material/Box";
import { type PointerEvent, type ReactNode, useRef } from "react";
import type { Group, Laid } from "../api/client";
import type { Painter } from "../painting/Painter";
import { greys } from "../theme/theme";
import { Canvas } from "./Canvas";

export interface Point {
  x: number;
  y: number;
}

interface Props {
  painter: Painter;
  picture: string;
  /** Passes done; all of them where it is not given. */
  after?: number | undefined;
  wet?: boolean;
  alt: string;
  set: Laid;
  /** Elements that have ink; the others show as faint outlines to point at. */
  inked?: ReadonlySet<string>;
  element?: string | null;
  marked?: Group | null;
  hovered?: string | null;
  onHover?: (element: string | null) => void;
  onPick?: (element: string) => void;
  onDrag?: (from: Point, to: Point, done: boolean) => void;
  onShown?: () => void;
  children?: ReactNode;
}

const CLICK_PX = 5;

export function PanelPicture({
  painter,
  picture,
  after,
  wet,
  alt,
  set,
  inked,
  element,
  marked,
  hovered,
  onHover,
  onPick,
  onDrag,
  onShown,
  children,
}: Props) {
  const frame = useRef<SVGSVGElement>(null);
  const from = useRef<{ at: Point; x: number; y: number; moved: boolean } | null>(null);
  const groups = set.sheets.flatMap((sheet) => (sheet.kind === "free" ? [] : sheet.groups));
  const free = set.sheets.find((sheet) => sheet.kind === "free")?.groups ?? [];

  const mm = (event: PointerEvent): Point => {
    const box = frame.current?.getBoundingClientRect();
    if (!box) return { x: 0, y: 0 };
    return {
      x: ((event.clientX - box.left) / box.width) * set.width_mm,
      y: ((event.clientY - box.top) / box.height) * set.height_mm,
    };
  };
  const down = (event: PointerEvent<SVGSVGElement>) => {
    from.current = { at: mm(event), x: event.clientX, y: event.clientY, moved: false };
    if (onDrag) event.currentTarget.setPointerCapture(event.pointerId);
  };
  const move = (event: PointerEvent) => {
    const start = from.current;
    if (!start || !onDrag) return;
    if (Math.hypot(event.clientX - start.x, event.clientY - start.y) > CLICK_PX) start.moved = true;
    if (start.moved) onDrag(start.at, mm(event), false);
  };
  const up = (event: PointerEvent) => {
    const start = from.current;
    from.current = null;
    if (!start) return;
    if (start.moved && onDrag) onDrag(start.at, mm(event), true);
    else {
      const hit = document
        .elementsFromPoint(event.clientX, event.clientY)
        .find((n) => n instanceof SVGPathElement && n.dataset.element);
      if (hit instanceof SVGPathElement && hit.dataset.element) onPick?.(hit.dataset.element);
    }
  };

  const ratio = set.width_mm / set.height_mm;
  return (
    // as large as its place allows, whichever way round the panel is
    <Box sx={{ width: "100%", height: "100%", containerType: "size", display: "grid", placeItems: "center" }}>
      <Box
        sx={{
          position: "relative",
          width: `min(100cqw, calc(100cqh * ${ratio}))`,
          aspectRatio: `${ratio}`,
          boxShadow: "0 1px 3px rgba(0,0,0,.35)",
        }}
      >
        <Canvas painter={painter} picture={picture} after={after} wet={wet} alt={alt} onShown={onShown} />
        <svg
          ref={frame}
          viewBox={`0 0 ${set.width_mm} ${set.height_mm}`}
          style={{
            position: "absolute",
            inset: 0,
            width: "100%",
            height: "100%",
            touchAction: onDrag ? "none" : "auto",
            cursor: onPick ? "pointer" : "default",
          }}
          onPointerDown={down}
          onPointerMove={move}
          onPointerUp={up}
          onPointerLeave={() => onHover?.(null)}
          aria-hidden="true"
        >
          {[...free, ...groups].map((group) => (
            <path
              key={`${group.element}-${group.sheet}`}
              d={group.outline}
              data-element={group.element}
              fill="none"
              stroke={inked && !inked.has(group.element) && group.sheet ? greys.edge : "none"}
              strokeWidth={0.22}
              strokeOpacity={0.75}
              pointerEvents="all"
              onPointerEnter={() => onHover?.(group.element)}
            />
          ))}
          {groups
            .filter((g) => g.element === hovered && g.element !== element && g.sheet)
            .map((g) => (
              <Outline key={`h${g.sheet}`} group={g} faint />
            ))}
          {!marked &&
            groups
              .filter((g) => g.element === element)
              .slice(0, 1)
              .map((g) => <Outline key={`e${g.sheet}`} group={g} />)}
          {marked && <Outline group={marked} />}
          {children}
        </svg>
      </Box>
    </Box>
  );
}

/** A double line, white in black, that shows on any colour and tints nothing. */
function Outline({ group, faint }: { group: Group; faint?: boolean }) {
  return (
    <g pointerEvents="none" fill="none" strokeLinejoin="round" opacity={faint ? 0.75 : 1}>
      <path d={group.outline} stroke={greys.white} strokeWidth={faint ? 0.7 : 0.9} />
      <path
        d={group.outline}
        stroke={greys.ink}
        strokeWidth={faint ? 0.25 : 0.4}
        strokeDasharray={faint ? "1 1" : undefined}
      />
    </g>
  );
}
