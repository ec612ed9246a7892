/** The drawer as a list: only the rows in sight are drawn; pads are chosen by the row, many with shift. */
import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, useCallback, useMemo, useRef, useState } from "react";
import type { Ink } from "../../api/client";
import { greys } from "../../theme/theme";
import { ROWS, ROW, COLUMNS, GRID, text, Row } from "./InkRow";

interface Props {
  inks: Ink[];
  card: string;
  chosen: string | undefined;
  marked: ReadonlySet<number>;
  onMark: (ids: ReadonlySet<number>) => void;
  onOpen: (key: string) => void;
}

export function InkList({ inks, card, chosen, marked, onMark, onOpen }: Props) {
  const [sort, setSort] = useState<{ key: keyof Ink; down: boolean } | null>(null);
  const [at, setAt] = useState(0);
  const anchor = useRef(0);
  const frame = useRef<HTMLDivElement>(null);
  const rows = useMemo(() => {
    if (!sort) return inks;
    const sorted = [...inks].sort((a, b) => {
      const [x, y] = [a[sort.key], b[sort.key]];
      return typeof x === "number" && typeof y === "number" ? x - y : text.compare(String(x), String(y));
    });
    return sort.down ? sorted.reverse() : sorted;
  }, [inks, sort]);
  // eslint-disable-next-line react-hooks/incompatible-library -- nothing of it is handed to memoised parts
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => frame.current,
    estimateSize: () => ROW,
    overscan: 8,
  });
  const mark = useCallback(
    (index: number, range: boolean) => {
      const fresh = new Set(marked);
      const ids = (
        range
          ? rows.slice(Math.min(anchor.current, index), Math.max(anchor.current, index) + 1)
          : rows.slice(index, index + 1)
      ).map((r) => r.id);
      const on = range || !fresh.has(ids[0] ?? 0);
      for (const id of ids)
        if (on) fresh.add(id);
        else fresh.delete(id);
      if (!range) anchor.current = index;
      onMark(fresh);
    },
    [rows, marked, onMark],
  );
  const go = (to: number, range: boolean) => {
    const next = Math.max(0, Math.min(rows.length - 1, to));
    setAt(next);
    list.scrollToIndex(next);
    if (range)
      onMark(
        new Set([
          ...marked,
          ...rows.slice(Math.min(anchor.current, next), Math.max(anchor.current, next) + 1).map((r) => r.id),
        ]),
      );
    else anchor.current = next;
  };
  const pressed = (event: KeyboardEvent) => {
    const steps: Record<string, number> = {
      ArrowDown: 1,
      ArrowUp: -1,
      PageDown: 10,
      PageUp: -10,
      Home: -rows.length,
      End: rows.length,
    };
    const row = rows[at];
    if (event.key in steps) go(at + (steps[event.key] ?? 0), event.shiftKey);
    else if (event.key === " ") mark(at, event.shiftKey);
    else if (event.key === "Enter" && row) onOpen(row.key);
    else if (event.key.toLowerCase() === "a" && (event.ctrlKey || event.metaKey))
      onMark(new Set(rows.map((r) => r.id)));
    else if (event.key === "Escape" && marked.size) onMark(new Set());
    else return;
    event.preventDefault();
  };
  const all = rows.length > 0 && rows.every((r) => marked.has(r.id));
  return (
    <Paper
      variant="tray"
      ref={frame}
      role="grid"
      aria-label="The drawer as a list"
      aria-rowcount={rows.length + 1}
      aria-multiselectable="true"
      tabIndex={0}
      aria-activedescendant={rows[at] ? `pad-${rows[at].id}` : undefined}
      onKeyDown={pressed}
      sx={{
        overflow: "auto",
        height: { xs: 460, md: "calc(100dvh - 210px)" },
        fontSize: 14,
      }}
    >
      <Box
        role="row"
        aria-rowindex={1}
        sx={{
          display: "grid",
          gridTemplateColumns: GRID,
          minWidth: 860,
          alignItems: "center",
          position: "sticky",
          top: 0,
          zIndex: 2,
          height: 36,
          bgcolor: greys.sheet,
          borderBottom: `1px solid ${greys.line}`,
        }}
      >
        <Box role="columnheader" sx={{ pl: "10px" }}>
          <input
            type="checkbox"
            checked={all}
            tabIndex={-1}
            aria-label="All of these pads"
            onChange={() => onMark(all ? new Set() : new Set(rows.map((r) => r.id)))}
            style={{ width: 18, height: 18, accentColor: greys.ink }}
          />
        </Box>
        <Box role="columnheader" sx={{ fontSize: 13 }}>
          Dabs
        </Box>
        {COLUMNS.map((c) => (
          <Box
            key={c.key}
            role="columnheader"
            aria-sort={sort?.key === c.key ? (sort.down ? "descending" : "ascending") : "none"}
          >
            <Box
              component="button"
              type="button"
              onClick={() => setSort({ key: c.key, down: sort?.key === c.key && !sort.down })}
              sx={{
                border: 0,
                background: "none",
                p: 0,
                minHeight: 30,
                font: "inherit",
                fontSize: 13,
                fontWeight: sort?.key === c.key ? 680 : 500,
                cursor: "pointer",
                color: greys.ink,
              }}
            >
              {c.label}
              {sort?.key === c.key ? (sort.down ? " ↓" : " ↑") : ""}
            </Box>
          </Box>
        ))}
      </Box>
      <Box
        role="rowgroup"
        sx={ROWS}
        style={{ height: list.getTotalSize(), position: "relative", minWidth: 860 }}
      >
        {list.getVirtualItems().map((item) => {
          const ink = rows[item.index];
          return (
            ink && (
              <Row
                key={ink.id}
                ink={ink}
                index={item.index}
                top={item.start}
                card={card}
                marked={marked.has(ink.id)}
                active={item.index === at}
                chosen={ink.key === chosen}
                onMark={mark}
                onOpen={onOpen}
                onAt={setAt}
              />
            )
          );
        })}
      </Box>
    </Paper>
  );
}
