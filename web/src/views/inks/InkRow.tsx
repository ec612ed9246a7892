/** One pad in the list, drawn only while it is in sight. */
import { memo, type MouseEvent } from "react";
import type { Ink } from "../../api/client";
import { Dab } from "../../parts/Dab";
import { greys } from "../../theme/theme";

export const ROW = 46;
export const COLUMNS: { key: keyof Ink; label: string; width: string }[] = [
  { key: "name", label: "Pad", width: "minmax(150px, 1.6fr)" },
  { key: "line", label: "Line", width: "minmax(80px, 0.8fr)" },
  { key: "family", label: "Family", width: "minmax(90px, 1fr)" },
  { key: "chemistry", label: "Kind", width: "80px" },
  { key: "place", label: "Place", width: "minmax(90px, 1fr)" },
  { key: "state", label: "State", width: "84px" },
  { key: "lightness", label: "L*", width: "48px" },
  { key: "chroma", label: "C*", width: "48px" },
  { key: "hue", label: "h°", width: "48px" },
];
export const GRID = ["40px", "72px", ...COLUMNS.map((c) => c.width)].join(" ");
/** A grey has no hue worth a figure. */
export const shown = (ink: Ink, key: keyof Ink) =>
  key === "hue" && ink.neutral ? "–" : typeof ink[key] === "number" ? Math.round(ink[key]) : String(ink[key]);
export const text = new Intl.Collator(undefined, { numeric: true, sensitivity: "base" });

interface RowProps {
  ink: Ink;
  index: number;
  top: number;
  card: string;
  marked: boolean;
  active: boolean;
  chosen: boolean;
  onMark: (index: number, range: boolean) => void;
  onOpen: (key: string) => void;
  onAt: (index: number) => void;
}

// plain elements under one style sheet: dozens of them come and go while the list is scrolled
export const ROWS = {
  "& .pad-row": {
    position: "absolute",
    left: 0,
    right: 0,
    height: ROW,
    display: "grid",
    gridTemplateColumns: GRID,
    alignItems: "center",
    cursor: "pointer",
    borderBottom: `1px solid ${greys.line}`,
  },
  "& .pad-row:hover": { backgroundColor: "#f6f6f6" },
  "& .pad-row[aria-selected=true]": { backgroundColor: "#ededed" },
  "& .pad-row[data-open]": { backgroundColor: greys.white },
  "& .pad-row[data-active]": { boxShadow: `inset 3px 0 ${greys.ink}` },
  "& .pad-row > div": {
    paddingRight: "8px",
    overflow: "hidden",
    textOverflow: "ellipsis",
    whiteSpace: "nowrap",
  },
  "& .pad-row > div:first-of-type": { paddingLeft: "10px", paddingRight: 0, overflow: "visible" },
  "& .pad-row > div:nth-of-type(3)": { fontWeight: 600 },
  "& input[type=checkbox]": {
    width: 18,
    height: 18,
    margin: "4px 3px",
    accentColor: greys.ink,
    cursor: "pointer",
  },
} as const;

export const Row = memo(function Row({
  ink,
  index,
  top,
  card,
  marked,
  active,
  chosen,
  onMark,
  onOpen,
  onAt,
}: RowProps) {
  const pressed = (e: MouseEvent) => {
    onAt(index);
    if (e.shiftKey || e.ctrlKey || e.metaKey) onMark(index, e.shiftKey);
    else onOpen(ink.key);
  };
  return (
    // the grid around it has the keyboard: arrows move, Space marks, Enter opens
    // eslint-disable-next-line jsx-a11y/click-events-have-key-events
    <div
      className="pad-row"
      role="row"
      tabIndex={-1}
      id={`pad-${ink.id}`}
      aria-rowindex={index + 2}
      aria-selected={marked}
      data-open={chosen || undefined}
      data-active={active || undefined}
      onClick={pressed}
      style={{ transform: `translateY(${top}px)` }}
    >
      <div role="gridcell">
        <input
          type="checkbox"
          checked={marked}
          tabIndex={-1}
          aria-label={`Mark ${ink.name}`}
          onChange={() => undefined}
          onClick={(e) => {
            e.stopPropagation();
            onAt(index);
            onMark(index, e.shiftKey);
          }}
        />
      </div>
      <div role="gridcell">
        <Dab dabs={ink.dabs} card={card} width={58} />
      </div>
      {COLUMNS.map((c) => (
        <div key={c.key} role="gridcell">
          {shown(ink, c.key)}
        </div>
      ))}
    </div>
  );
});
