/**
 * An ink as a dab on its card: a thumb-press of one coat, a second and a third
 * laid further in, so that the edge tells how the ink builds up.
 */
import { useId } from "react";
import type { Colour } from "../api/client";

export const OUTER_DAB =
  "M7 30C4 18 13 7 27 6c15-1.500 29-1 38 5 8 5.500 9 15 3 23-6 8-20 11-34 10.500C20 44 9.500 41 7 30z";
export const INNER_DAB =
  "M24 29c-2-8 4-14.500 14-15.500 11-1 21 .5 26.500 5 5 4.500 4 10-1 14.500-5.500 5-15 6-23.500 5.500C32 38 26 36 24 29z";
const INNER =
  "M42 27.500c-1-5 3-8.500 9-9 6-.5 11.500 1 13.500 4 1.500 3-.5 6-4 8-4.500 2.500-9 2.500-12.500 1.500-3.500-.8-5.300-2-6-4.500z";

export function Dab({
  dabs,
  card,
  width = 64,
  title,
}: {
  dabs: Colour[];
  card: string;
  width?: number;
  title?: string;
}) {
  const id = useId();
  const [one, two, three] = dabs;
  return (
    <svg
      width={width}
      height={(width * 50) / 78}
      viewBox="0 0 78 50"
      role={title ? "img" : undefined}
      aria-labelledby={title ? id : undefined}
      aria-hidden={title ? undefined : true}
      style={{ display: "block", flex: "none" }}
    >
      {title && <title id={id}>{title}</title>}
      <rect width="78" height="50" rx="3" fill={card} />
      <path d={OUTER_DAB} fill={one?.hex ?? card} />
      {two && <path d={INNER_DAB} fill={two.hex} />}
      {three && <path d={INNER} fill={three.hex} />}
    </svg>
  );
}

/** One colour pressed on another, for small places. */
export function Chip({ colour, card, width = 34 }: { colour: string; card: string; width?: number }) {
  return (
    <svg
      width={width}
      height={(width * 50) / 78}
      viewBox="0 0 78 50"
      aria-hidden="true"
      style={{ display: "block", flex: "none" }}
    >
      <rect width="78" height="50" rx="4" fill={card} />
      <path d={OUTER_DAB} fill={colour} />
    </svg>
  );
}
