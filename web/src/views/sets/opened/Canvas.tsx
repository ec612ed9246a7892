/** The sheets on top of each other, to point at: press, add, lasso, draw a cut; measures lie where they are. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { type KeyboardEvent, type PointerEvent, type ReactNode, useMemo, useRef, useState } from "react";
import type { LayerSet } from "../../../api/client";
import { sheetGrey } from "../../../parts/SetPreview";
import { greys, signal } from "../../../theme/theme";
import { inside, middle, type Point } from "./geometry";
import { Opening } from "./Opening";
import { optionId, pointOf, SHEETS_ID, usePinch, useWheel } from "./sheetsSvg";
import {
  inReadingOrder,
  inSight,
  kept,
  nextIn,
  type Place,
  type View,
  WAYS,
  WHOLE,
  zoomed,
} from "./walkSheets";

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
  const [view, setView] = useState<View>(WHOLE);
  const [pulled, setPulled] = useState<Point | null>(null);
  // the opening that the keyboard is at, and whether it went there since something was chosen
  const [stop, setStop] = useState<string | null>(null);
  const [walking, setWalking] = useState(false);
  const { width_mm: width, height_mm: height } = set;
  const marked = useMemo(() => new Set(chosen), [chosen]);
  const middles = useMemo(
    () => new Map(set.sheets.flatMap((s) => s.shapes.map((o) => [o.key, middle(o.outline)] as const))),
    [set],
  );
  const places = useMemo(
    () =>
      inReadingOrder(
        set.sheets
          .filter((s) => shown.includes(s.number))
          .flatMap((s) => s.shapes.map((o) => ({ key: o.key, at: middles.get(o.key) ?? [0, 0] }))),
        height,
      ),
    [set, shown, middles, height],
  );
  const here = places.findIndex((p) => p.key === stop);
  useWheel(svg, (by, event) => setView((v) => zoomed(v, by, pointOf(svg.current, event), width, height)));

  const fingers = usePinch((by, from, to) =>
    setView((v) => {
      const [was, now] = [pointOf(svg.current, from), pointOf(svg.current, to)];
      const near = zoomed(v, by, now, width, height);
      return kept({ ...near, x: near.x + was[0] - now[0], y: near.y + was[1] - now[1] }, width, height);
    }),
  );

  const go = (place: Place | null | undefined) => {
    if (!place) return;
    setStop(place.key);
    setWalking(true);
    setView((v) => inSight(v, place.at, width, height));
  };
  const closer = (by: number) =>
    setView((v) => {
      const middleOf: Point = [v.x + width / v.zoom / 2, v.y + height / v.zoom / 2];
      return zoomed(v, by, (walking && places[here]?.at) || middleOf, width, height);
    });
  const take = (keys: string[], add: boolean) => {
    setWalking(false);
    setStop(keys[keys.length - 1] ?? stop);
    onChoose(keys, add);
  };
  const pressed = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const way = WAYS[event.key];
    if (way) {
      const from: Point = places[here]?.at ?? [
        view.x + width / view.zoom / 2,
        view.y + height / view.zoom / 2,
      ];
      go(
        nextIn(
          places.filter((_, n) => n !== here),
          from,
          way,
        ),
      );
    } else if (event.key === "PageDown") go(places[(here + 1) % places.length]);
    else if (event.key === "PageUp") go(places[(here - 1 + places.length) % places.length]);
    else if (event.key === "Home") go(places[0]);
    else if (event.key === "End") go(places[places.length - 1]);
    else if (event.key === "+" || event.key === "=") closer(1.6);
    else if (event.key === "-") closer(1 / 1.6);
    else if (event.key === "0") setView(WHOLE);
    else if (event.key === " " && stop) onChoose([stop], true);
    else if (event.key === "Enter" && stop && walking && !marked.has(stop)) take([stop], false);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  const at = (event: PointerEvent): Point => pointOf(svg.current, event);
  const start = (event: PointerEvent) => {
    if (fingers.down(event)) return setLine(null);
    if (event.button === 1) {
      event.preventDefault();
      event.currentTarget.setPointerCapture(event.pointerId);
      return setPulled(at(event));
    }
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    setLine([at(event)]);
  };
  const move = (event: PointerEvent) => {
    if (fingers.move(event)) return;
    if (pulled) {
      const now = at(event);
      return setView((v) =>
        kept({ ...v, x: v.x + pulled[0] - now[0], y: v.y + pulled[1] - now[1] }, width, height),
      );
    }
    if (!line) return;
    const now = at(event);
    const last = line[line.length - 1] ?? now;
    if (Math.hypot(now[0] - last[0], now[1] - last[1]) > 0.6 / view.zoom)
      setLine(cutting ? [line[0] ?? now, now] : [...line, now]);
  };
  const end = (event: PointerEvent) => {
    setPulled(null);
    if (fingers.up(event)) return setLine(null);
    if (!line) return;
    const first = line[0] ?? [0, 0];
    const far = Math.max(...line.map((p) => Math.hypot(p[0] - first[0], p[1] - first[1])));
    setLine(null);
    if (far < LEAST_DRAG / view.zoom) return press(event);
    if (cutting) return onCut(line);
    const keys = set.sheets
      .filter((s) => shown.includes(s.number))
      .flatMap((s) => s.shapes)
      .filter((o) => inside(middles.get(o.key) ?? [-1, -1], line))
      .map((o) => o.key);
    take(keys, event.shiftKey);
  };
  // the pointer is captured by the picture, so what lies under it is asked for by place
  const press = (event: PointerEvent) => {
    const under = document.elementFromPoint(event.clientX, event.clientY);
    const key = under instanceof SVGElement ? under.dataset.key : undefined;
    take(key ? [key] : [], event.shiftKey);
  };

  const seen = `${view.x} ${view.y} ${width / view.zoom} ${height / view.zoom}`;
  const found = stop ? set.sheets.flatMap((s) => s.shapes).find((o) => o.key === stop) : undefined;
  return (
    <Box sx={{ position: "relative" }}>
      <svg
        ref={svg}
        id={SHEETS_ID}
        viewBox={seen}
        // one stop for the keyboard; within it arrows go from opening to opening
        tabIndex={0}
        role="listbox"
        aria-multiselectable="true"
        aria-activedescendant={walking && stop ? optionId(stop) : undefined}
        aria-label={label}
        onKeyDown={pressed}
        onPointerDown={start}
        onPointerMove={move}
        onPointerUp={end}
        onPointerCancel={(event) => {
          fingers.up(event);
          setLine(null);
          setPulled(null);
        }}
        style={{
          width: "100%",
          maxHeight: "calc(100dvh - 214px)",
          display: "block",
          background: greys.field,
          boxShadow: "0 1px 3px rgba(0,0,0,.35)",
          touchAction: "none",
          cursor: pulled ? "grabbing" : cutting ? "crosshair" : "default",
          userSelect: "none",
        }}
      >
        <defs>
          <pattern
            id="waste"
            width="2"
            height="2"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <path d="M0 0V2" stroke="#777" strokeWidth="0.5" />
          </pattern>
        </defs>
        {set.sheets.map(
          (sheet, i) =>
            shown.includes(sheet.number) && (
              <g key={sheet.number} fillOpacity={0.84} role="presentation">
                {sheet.shapes.map((o) => (
                  <Opening
                    key={o.key}
                    shape={o}
                    sheet={sheet.number}
                    grey={sheetGrey(i, set.sheets.length)}
                    chosen={marked.has(o.key)}
                    zoom={view.zoom}
                  />
                ))}
                <path
                  d={sheet.marks}
                  fill={greys.ink}
                  fillOpacity={1}
                  pointerEvents="none"
                  aria-hidden="true"
                />
              </g>
            ),
        )}
        <g pointerEvents="none" aria-hidden="true">
          {children}
        </g>
        {walking && found && (
          <g pointerEvents="none" aria-hidden="true" fill="none">
            <path d={found.outline} stroke={greys.white} strokeWidth={5} vectorEffect="non-scaling-stroke" />
            <path
              d={found.outline}
              stroke={greys.ink}
              strokeWidth={2.5}
              strokeDasharray="5 3"
              vectorEffect="non-scaling-stroke"
            />
          </g>
        )}
        {line && line.length > 1 && (
          <polyline
            points={line.map((p) => p.join(",")).join(" ")}
            fill={cutting ? "none" : "#0000000d"}
            stroke={signal}
            strokeWidth={0.4 / view.zoom}
            strokeDasharray={`${1.2 / view.zoom} ${0.8 / view.zoom}`}
            pointerEvents="none"
            aria-hidden="true"
          />
        )}
      </svg>
      <Box sx={{ display: "flex", gap: 0.5, alignItems: "center", mt: 0.5, minHeight: 34 }}>
        <Button variant="outlined" aria-label="Closer" title="Closer (+, wheel)" onClick={() => closer(1.6)}>
          +
        </Button>
        <Button
          variant="outlined"
          aria-label="Further off"
          title="Further off (-, wheel)"
          disabled={view.zoom <= 1}
          onClick={() => closer(1 / 1.6)}
        >
          −
        </Button>
        <Button variant="text" disabled={view.zoom <= 1} title="All of it (0)" onClick={() => setView(WHOLE)}>
          All of it
        </Button>
        <Typography variant="caption" sx={{ ml: 1 }}>
          {walking && here >= 0
            ? `${here + 1} of ${places.length}: ${found?.element ?? ""}. Space adds it, Enter takes it alone.`
            : "Arrow keys go from one to the next; + and -, the wheel or two fingers look closer."}
        </Typography>
      </Box>
    </Box>
  );
}
