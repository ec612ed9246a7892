/** Points that are put on a photograph by hand: around an opening that is drawn, or two for another mend, or to measure by. */
import { useState } from "react";
import { oneMore } from "./Outline";
import { within } from "./Point";
import type { Kind } from "./Retouching";
import { pointsAt } from "./Ruler";

/** Lays an outline on the edge beside it and hands that on; where there is none it is said, and nothing is handed on. */
export type Fit = (points: number[][], then: (fitted: number[][]) => void) => void;

interface Put {
  points: number[][] | null;
  /** As they were put, where what is shown has been fitted to an edge. */
  drawn: number[][] | null;
}
const NOTHING: Put = { points: null, drawn: null };

export function useMend(corners: number[][], size: [number, number], onFit?: Fit) {
  const [{ points, drawn }, setPut] = useState(NOTHING);
  // what they are for; to measure by where nothing is being mended
  const [kind, setKind] = useState<Kind | null>(null);
  const own = (change: (now: number[][]) => number[][]) =>
    setPut((put) => (put.drawn ? put : { points: change(put.points ?? []), drawn: null }));
  return {
    points,
    kind,
    drawing: kind === "draw",
    fitted: drawn !== null,
    begin: (next: Kind) => {
      setKind(next);
      own(() => (next === "draw" ? [] : pointsAt(corners, size)));
    },
    measure: () => own(() => pointsAt(corners, size)),
    move: (to: number[][]) => own(() => to),
    put: (at: number[]) => own((now) => [...now, within(at, size)]),
    more: () => own((now) => [...now, oneMore(now, corners, size)]),
    less: () => own((now) => now.slice(0, -1)),
    fit:
      onFit &&
      (() => {
        const drawn = points ?? [];
        // what was put meanwhile counts, not what was fitted before it
        onFit(drawn, (fitted) => setPut((put) => (put.points === drawn ? { points: fitted, drawn } : put)));
      }),
    asDrawn: () => setPut((put) => ({ points: put.drawn, drawn: null })),
    stop: () => {
      setPut(NOTHING);
      setKind(null);
    },
  };
}
