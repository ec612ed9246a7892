/** A set in small: its sheets on top of one another, from pale to dark. */
import { useInView } from "react-intersection-observer";
import type { SetSummary } from "../api/client";
import { usePreview } from "../api/hooks";
import { greys } from "../theme/theme";

export const SHEET_GREYS = [greys.rule, "#a5a5a5", greys.edge, "#5e5e5e", "#1f1f1f", "#000000"];

export const sheetGrey = (index: number, count: number): string =>
  SHEET_GREYS[count < 2 ? 4 : Math.round((index * 4) / (count - 1))] ?? "#333333";

export function SetPreview({ set, height = 160 }: { set: SetSummary; height?: number }) {
  const { ref, inView } = useInView({ rootMargin: "600px", triggerOnce: true });
  const paths = usePreview(set, inView).data?.paths ?? [];
  return (
    <svg
      ref={ref}
      height={height}
      width={(height * set.width_mm) / set.height_mm}
      viewBox={`0 0 ${set.width_mm} ${set.height_mm}`}
      role="img"
      aria-label={`${set.name}, all sheets`}
      style={{ display: "block", background: greys.field }}
    >
      {paths.map((path, i) => (
        <path key={i} d={path} fill={sheetGrey(i, paths.length)} fillOpacity={0.85} />
      ))}
    </svg>
  );
}
