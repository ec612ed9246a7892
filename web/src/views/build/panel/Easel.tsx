/** The panel to arrange things on: pointed at, pushed about, turned; drawn outlines of a mask. */
import Box from "@mui/material/Box";
import { type PointerEvent, useMemo, useRef, useState } from "react";
import type { Thing } from "../../../api/client";
import { Canvas } from "../../../parts/Canvas";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";
import { useHead } from "../useBuild";
import { AROUND, family, middle, type Point } from "./around";
import { type Box as Span, type Guide, snap, turned } from "./guides";
import { Chosen, Drawing, GuideLine } from "./marks";
import { coarseOf, marksOf, NoteShape, outlineOf } from "./ThingShape";

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
    const turn = onHandle ? (thing?.place.turn ?? 0) : null;
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
      return `rotate(${shown.turn - thing.place.turn} ${cx} ${cy})`;
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
