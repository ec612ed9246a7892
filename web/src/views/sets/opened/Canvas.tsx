/** The sheets on top of each other, to point at: press, add, lasso, draw a cut; measures lie where they are. */
import { type PointerEvent, type ReactNode, useMemo, useRef, useState } from "react";
import type { LayerSet, Shape } from "../../../api/client";
import { sheetGrey } from "../../../parts/SetPreview";
import { greys, signal } from "../../../theme/theme";
import { inside, middle, type Point } from "./geometry";

interface Props {
  set: LayerSet;
  shown: number[];
  chosen: string[];
  cutting: boolean;
  label: string;
  onChoose: (keys: string[], add: boolean) => void;
  onCut: (line: Point[]) => void;
  children?: ReactNode;
}

const LEAST_DRAG = 2;
// mm

export function Canvas({ set, shown, chosen, cutting, label, onChoose, onCut, children }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [line, setLine] = useState<Point[] | null>(null);
  const marked = useMemo(() => new Set(chosen), [chosen]);
  const middles = useMemo(
    () => new Map(set.sheets.flatMap((s) => s.shapes.map((o) => [o.key, middle(o.outline)] as const))),
    [set],
  );

  const at = (event: PointerEvent): Point => {
    const matrix = svg.current?.getScreenCTM();
    if (!matrix) return [0, 0];
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse());
    return [point.x, point.y];
  };
  const start = (event: PointerEvent) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    setLine([at(event)]);
  };
  const move = (event: PointerEvent) => {
    if (!line) return;
    const here = at(event);
    const last = line[line.length - 1] ?? here;
    if (Math.hypot(here[0] - last[0], here[1] - last[1]) > 0.6)
      setLine(cutting ? [line[0] ?? here, here] : [...line, here]);
  };
  const end = (event: PointerEvent) => {
    if (!line) return;
    const first = line[0] ?? [0, 0];
    const far = Math.max(...line.map((p) => Math.hypot(p[0] - first[0], p[1] - first[1])));
    setLine(null);
    if (far < LEAST_DRAG) return press(event);
    if (cutting) return onCut(line);
    const keys = set.sheets
      .filter((s) => shown.includes(s.number))
      .flatMap((s) => s.shapes)
      .filter((o) => inside(middles.get(o.key) ?? [-1, -1], line))
      .map((o) => o.key);
    onChoose(keys, event.shiftKey);
  };
  // the pointer is captured by the picture, so what lies under it is asked for by place
  const press = (event: PointerEvent) => {
    const under = document.elementFromPoint(event.clientX, event.clientY);
    const key = under instanceof SVGElement ? under.dataset.key : undefined;
    onChoose(key ? [key] : [], event.shiftKey);
  };

  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${set.width_mm} ${set.height_mm}`}
      role="img"
      aria-label={label}
      onPointerDown={start}
      onPointerMove={move}
      onPointerUp={end}
      onPointerCancel={() => setLine(null)}
      style={{
        width: "100%",
        maxHeight: "calc(100dvh - 190px)",
        display: "block",
        background: greys.field,
        boxShadow: "0 1px 3px rgba(0,0,0,.35)",
        touchAction: "none",
        cursor: cutting ? "crosshair" : "default",
        userSelect: "none",
      }}
    >
      <defs>
        <pattern id="waste" width="2" height="2" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V2" stroke="#777" strokeWidth="0.5" />
        </pattern>
      </defs>
      {set.sheets.map(
        (sheet, i) =>
          shown.includes(sheet.number) && (
            <g key={sheet.number} fillOpacity={0.84}>
              {sheet.shapes.map((o) => (
                <Opening
                  key={o.key}
                  shape={o}
                  grey={sheetGrey(i, set.sheets.length)}
                  chosen={marked.has(o.key)}
                />
              ))}
              <path d={sheet.marks} fill={greys.ink} fillOpacity={1} pointerEvents="none" />
            </g>
          ),
      )}
      <g pointerEvents="none">{children}</g>
      {line && line.length > 1 && (
        <polyline
          points={line.map((p) => p.join(",")).join(" ")}
          fill={cutting ? "none" : "#0000000d"}
          stroke={signal}
          strokeWidth={0.4}
          strokeDasharray="1.2 0.8"
          pointerEvents="none"
        />
      )}
    </svg>
  );
}

function Opening({ shape, grey, chosen }: { shape: Shape; grey: string; chosen: boolean }) {
  const waste = shape.role === "waste";
  return (
    <path
      data-key={shape.key}
      d={shape.outline}
      fill={waste ? "url(#waste)" : grey}
      fillRule="evenodd"
      stroke={chosen ? signal : waste ? "#777" : greys.field}
      strokeWidth={chosen ? 0.9 : 0.12}
      strokeOpacity={chosen ? 1 : 0.8}
    />
  );
}
