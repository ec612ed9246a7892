/** The panel to arrange things on: pointed at, pushed about, turned; drawn outlines of a mask. */
import Box from "@mui/material/Box";
import { type PointerEvent, useMemo, useRef, useState } from "react";
import type { Thing } from "../../../api/client";
import { Canvas } from "../../../parts/Canvas";
import { greys, signal } from "../../../theme/theme";
import { useShared } from "../context";
import { useHead } from "../useBuild";
import { type Box as Span, type Guide, snap, turned } from "./guides";
import { coarseOf, marksOf, NoteShape, outlineOf } from "./ThingShape";

export type Point = [number, number];

interface Props {
  chosen: Thing | undefined;
  onChoose: (key: string | null) => void;
  /** Points of an outline being drawn, or null. */
  drawing: Point[] | null;
  onPoint: (point: Point) => void;
  onClosed: () => void;
}

interface Push {
  key: string;
  from: Point;
  dx: number;
  dy: number;
  turn: number | null;
  guides: Guide[];
  moved: boolean;
}

const AROUND = 9;
// mm of bench shown round the panel, where what hangs off can be seen
const CLICK = 0.6;
// mm before a press becomes a push

export function Easel({ chosen, onChoose, drawing, onPoint, onClosed }: Props) {
  const { state, set, painter, queue, change, pictureShown } = useShared();
  const head = useHead(queue);
  const svg = useRef<SVGSVGElement>(null);
  const [push, setPush] = useState<Push | null>(null);
  const [hover, setHover] = useState<string | null>(null);
  const [dropped, setDropped] = useState<{ push: Push; layout: string } | null>(null);
  const outlines = useMemo(() => new Map(set.things.map((t) => [t.key, outlineOf(set, t)])), [set]);
  const coarse = useMemo(() => new Map(set.things.map((t) => [t.key, coarseOf(set, t)])), [set]);
  // what has no ink yet shows as a faint outline
  const bare = useMemo(() => {
    const inked = new Set(state.elements.filter((e) => e.rungs.length > 0).map((e) => e.thing));
    return new Set(set.things.filter((t) => !inked.has(t.key) && !t.card).map((t) => t.key));
  }, [state.elements, set.things]);
  const { width_mm: wide, height_mm: tall } = set;
  const ratio = (wide + 2 * AROUND) / (tall + 2 * AROUND);

  const mm = (event: PointerEvent): Point => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    return [
      ((event.clientX - box.left) / box.width) * (wide + 2 * AROUND) - AROUND,
      ((event.clientY - box.top) / box.height) * (tall + 2 * AROUND) - AROUND,
    ];
  };
  const hit = (event: PointerEvent): string | null => {
    const found = document
      .elementsFromPoint(event.clientX, event.clientY)
      .find((n) => n instanceof SVGElement && n.dataset.thing);
    return found instanceof SVGElement ? (found.dataset.thing ?? null) : null;
  };
  const down = (event: PointerEvent<SVGSVGElement>) => {
    if (drawing) {
      const point = mm(event);
      const [first] = drawing;
      if (first && drawing.length > 2 && Math.hypot(point[0] - first[0], point[1] - first[1]) < 2) onClosed();
      else onPoint(point);
      return;
    }
    const onHandle = event.target instanceof SVGElement && event.target.dataset.turns;
    const key = onHandle ? (chosen?.key ?? null) : hit(event);
    onChoose(key);
    if (!key) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const thing = set.things.find((t) => t.key === key);
    const turn = onHandle ? (thing?.place?.turn ?? 0) : null;
    setPush({ key, from: mm(event), dx: 0, dy: 0, turn, guides: [], moved: false });
  };
  const move = (event: PointerEvent) => {
    if (!push) {
      if (!drawing) setHover(hit(event));
      return;
    }
    const at = mm(event);
    const thing = set.things.find((t) => t.key === push.key);
    if (!thing) return;
    if (push.turn !== null) {
      const [cx, cy] = middle(thing);
      const angle = (Math.atan2(at[1] - cy, at[0] - cx) * 180) / Math.PI + 90;
      setPush({ ...push, turn: turned(angle, event.shiftKey), moved: true });
      return;
    }
    const dx = at[0] - push.from[0];
    const dy = at[1] - push.from[1];
    const moved = push.moved || Math.hypot(dx, dy) > CLICK;
    const panel = { width: wide, height: tall, trim: set.trim_mm };
    const others = set.things
      .filter((t) => t.key !== push.key && t.on !== push.key)
      .map((t) => t.box as unknown as Span);
    const found = event.altKey
      ? { dx, dy, guides: [] }
      : snap(thing.box as unknown as Span, dx, dy, panel, others);
    setPush({ ...push, ...(moved ? found : { dx: 0, dy: 0, guides: [] }), moved });
  };
  const up = () => {
    setPush(null);
    if (!push?.moved) return;
    setDropped({ push, layout: (head ?? state).layout_key });
    if (push.turn !== null) change("move_thing", { thing: push.key, turn: push.turn });
    else change("move_thing", { thing: push.key, by: [tenth(push.dx), tenth(push.dy)] });
  };
  // until the new picture is there, the outline stays where the hand let go of it
  const shown = push ?? (dropped?.layout === (head ?? state).layout_key ? dropped.push : null);
  const carried = new Set(shown ? family(set.things, shown.key) : []);

  const transform = (thing: Thing): string | undefined => {
    if (!shown || !carried.has(thing.key)) return undefined;
    if (shown.turn !== null && thing.key === shown.key) {
      const [cx, cy] = middle(thing);
      return `rotate(${shown.turn - (thing.place?.turn ?? 0)} ${cx} ${cy})`;
    }
    return shown.turn === null ? `translate(${shown.dx} ${shown.dy})` : undefined;
  };

  return (
    <Box sx={{ width: "100%", height: "100%", containerType: "size", display: "grid", placeItems: "center" }}>
      <Box
        sx={{
          position: "relative",
          width: `min(100cqw, calc(100cqh * ${ratio}))`,
          aspectRatio: `${ratio}`,
        }}
      >
        <Box
          sx={{
            position: "absolute",
            left: `${(100 * AROUND) / (wide + 2 * AROUND)}%`,
            top: `${(100 * AROUND) / (tall + 2 * AROUND)}%`,
            width: `${(100 * wide) / (wide + 2 * AROUND)}%`,
            height: `${(100 * tall) / (tall + 2 * AROUND)}%`,
            boxShadow: "0 1px 3px rgba(0,0,0,.35)",
          }}
        >
          <Canvas
            painter={painter}
            picture={(head ?? state).picture_key}
            alt={`The panel of ${state.name} with what lies on it`}
            onShown={pictureShown}
          />
        </Box>
        <svg
          ref={svg}
          data-easel
          viewBox={`${-AROUND} ${-AROUND} ${wide + 2 * AROUND} ${tall + 2 * AROUND}`}
          style={{
            position: "absolute",
            inset: 0,
            width: "100%",
            height: "100%",
            touchAction: "none",
            cursor: drawing ? "crosshair" : hover ? "grab" : "default",
          }}
          onPointerDown={down}
          onPointerMove={move}
          onPointerUp={up}
          onPointerCancel={() => setPush(null)}
          onPointerLeave={() => setHover(null)}
          aria-hidden="true"
        >
          <defs>
            <clipPath id="off-panel">
              <path
                d={`M${-AROUND} ${-AROUND}H${wide + AROUND}V${tall + AROUND}H${-AROUND}ZM0 0V${tall}H${wide}V0Z`}
                clipRule="evenodd"
              />
            </clipPath>
          </defs>
          {set.trim_mm > 0 && (
            <rect
              x={set.trim_mm}
              y={set.trim_mm}
              width={wide - 2 * set.trim_mm}
              height={tall - 2 * set.trim_mm}
              fill="none"
              stroke={greys.ink}
              strokeWidth="0.250"
              strokeDasharray="2 1.500"
            />
          )}
          {set.things.map((thing) => (
            <g key={thing.key} data-thing={thing.key} transform={transform(thing)}>
              {thing.kind === "note" ? (
                <NoteShape thing={thing} />
              ) : (
                <>
                  <rect
                    data-thing={thing.kind === "mask" ? undefined : thing.key}
                    x={thing.box[0]}
                    y={thing.box[1]}
                    width={(thing.box[2] ?? 0) - (thing.box[0] ?? 0)}
                    height={(thing.box[3] ?? 0) - (thing.box[1] ?? 0)}
                    fill="none"
                    pointerEvents={thing.kind === "mask" ? "none" : "fill"}
                  />
                  <path
                    data-thing={thing.key}
                    d={(push?.moved ? coarse : outlines).get(thing.key)}
                    fill="none"
                    fillRule="evenodd"
                    pointerEvents="all"
                    stroke={
                      thing.kind === "mask" ||
                      bare.has(thing.key) ||
                      carried.has(thing.key) ||
                      hover === thing.key
                        ? greys.ink
                        : "none"
                    }
                    strokeWidth={bare.has(thing.key) && thing.kind !== "mask" ? 0.18 : 0.3}
                    strokeDasharray={thing.kind === "mask" ? "1.500 1" : undefined}
                    strokeOpacity={thing.wear?.off ? 0.35 : 0.9}
                  />
                  {!push && (
                    <>
                      <path
                        d={marksOf(set, thing)}
                        fill={greys.ink}
                        fillOpacity="0.350"
                        pointerEvents="none"
                      />
                      <path
                        d={outlines.get(thing.key)}
                        clipPath="url(#off-panel)"
                        fill={greys.quiet}
                        fillOpacity="0.350"
                        fillRule="evenodd"
                        pointerEvents="none"
                      />
                    </>
                  )}
                </>
              )}
            </g>
          ))}
          {chosen && <Chosen thing={chosen} transform={transform(chosen)} />}
          {push?.guides.map((g) => (
            <GuideLine key={g.axis} guide={g} wide={wide} tall={tall} />
          ))}
          {drawing && <Drawing points={drawing} />}
        </svg>
      </Box>
    </Box>
  );
}

const tenth = (v: number) => Math.round(v * 20) / 20;

const middle = (thing: Thing): Point => {
  const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = thing.box;
  if (thing.place && !thing.shape?.of) return [thing.place.x, thing.place.y];
  return [(x0 + x1) / 2, (y0 + y1) / 2];
};

/** A thing with all that lies on it, and the masks that are cut from it: they go with it. */
function family(things: Thing[], key: string): string[] {
  const found = [key];
  for (const at of found)
    found.push(
      ...things
        .filter((t) => (t.on === at || t.shape?.of === at) && !found.includes(t.key))
        .map((t) => t.key),
    );
  return found;
}

function Chosen({ thing, transform }: { thing: Thing; transform: string | undefined }) {
  const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = thing.box;
  const cx = (x0 + x1) / 2;
  return (
    <g transform={transform} fill="none">
      <rect
        x={x0}
        y={y0}
        width={x1 - x0}
        height={y1 - y0}
        stroke={greys.white}
        strokeWidth="0.900"
        pointerEvents="none"
      />
      <rect
        x={x0}
        y={y0}
        width={x1 - x0}
        height={y1 - y0}
        stroke={greys.ink}
        strokeWidth="0.350"
        pointerEvents="none"
      />
      {thing.kind !== "note" && (
        <g data-turns="true">
          <path d={`M${cx} ${y0}V${y0 - 5}`} stroke={greys.ink} strokeWidth="0.350" />
          <circle
            data-turns="true"
            cx={cx}
            cy={y0 - 6}
            r="4.200"
            fill="transparent"
            pointerEvents="all"
            style={{ cursor: "grab" }}
          />
          <circle
            data-turns="true"
            cx={cx}
            cy={y0 - 6}
            r="1.500"
            fill={greys.white}
            stroke={greys.ink}
            strokeWidth="0.400"
          />
        </g>
      )}
    </g>
  );
}

function GuideLine({ guide, wide, tall }: { guide: Guide; wide: number; tall: number }) {
  const d =
    guide.axis === "x"
      ? `M${guide.at} ${-AROUND}V${tall + AROUND}`
      : `M${-AROUND} ${guide.at}H${wide + AROUND}`;
  return (
    <g pointerEvents="none">
      <path d={d} stroke={greys.white} strokeWidth="0.700" />
      <path d={d} stroke={signal} strokeWidth="0.300" />
      {guide.of && (
        <text
          x={guide.axis === "x" ? guide.at + 1 : 1 - AROUND}
          y={guide.axis === "x" ? 3.4 - AROUND : guide.at - 1}
          fontSize="3"
          fill={greys.ink}
          stroke={greys.white}
          strokeWidth="0.800"
          paintOrder="stroke"
        >
          {guide.of}
        </text>
      )}
    </g>
  );
}

function Drawing({ points }: { points: Point[] }) {
  const d = points.map(([x, y], i) => `${i ? "L" : "M"}${x} ${y}`).join("");
  return (
    <g pointerEvents="none">
      <path d={d} fill={greys.white} fillOpacity="0.300" stroke={greys.ink} strokeWidth="0.400" />
      {points.map(([x, y], i) => (
        <circle
          key={i}
          cx={x}
          cy={y}
          r={i ? 0.9 : 1.6}
          fill={greys.white}
          stroke={greys.ink}
          strokeWidth="0.350"
        />
      ))}
    </g>
  );
}
