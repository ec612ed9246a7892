/** The drawer: as a map where gaps show, as a list, and the cards and brushes that go with it. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useCallback, useDeferredValue, useEffect, useMemo, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { Choices } from "../../parts/Choices";
import type { Gap, Ink, Stock } from "../../api/client";
import { useDrawer, useGaps } from "../../api/hooks";
import { Busy } from "../../parts/Busy";
import { PartByPart } from "../../parts/PartByPart";
import { Trouble } from "../../parts/Trouble";
import { useThere } from "../../parts/useThere";
import { greys } from "../../theme/theme";
import { AddInk } from "./AddInk";
import { DrawerMap } from "./DrawerMap";
import { EMPTY_FILTER, type Filter, Filters, passes } from "./Filters";
import { Gaps } from "./Gaps";
import { House } from "./House";
import { InkList } from "./InkList";
import { InkOpened } from "./InkOpened";
import { ManyBar } from "./ManyBar";
import { DrawerTools } from "./DrawerTools";

const VIEWS = [
  ["map", "Map"],
  ["list", "List"],
  ["house", "Cards and brushes"],
] as const;
const NO_GAPS: Gap[] = [];

export function Component() {
  const [params, setParams] = useSearchParams();
  const { inks, stocks, stock } = useDrawer(params.get("card") ?? undefined);
  const [adding, setAdding] = useState(false);
  const view = params.get("view") ?? "map";
  useEffect(() => {
    document.title = "Inks · Anastrata";
  }, []);
  const set = useCallback(
    (name: string, value: string | null) =>
      setParams(
        (old) => {
          const fresh = new URLSearchParams(old);
          if (value === null) fresh.delete(name);
          else fresh.set(name, value);
          return fresh;
        },
        { replace: name !== "view" && name !== "ink" },
      ),
    [setParams],
  );
  const own = useThere(stocks.isPending ? undefined : inks.data);
  if (inks.error) return <Trouble alone error={inks.error} again={() => void inks.refetch()} />;
  if (!own) return <Busy what="Opening the drawer" />;
  const card = stocks.data?.find((s) => s.key === stock);
  return (
    <Box
      sx={{
        p: { xs: 1.5, sm: 2.5 },
        flex: 1,
        display: "flex",
        flexDirection: "column",
        gap: 1.5,
        minHeight: 0,
      }}
    >
      <PartByPart>
        <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap" }}>
          <Typography variant="h1">The drawer</Typography>
          <Typography>{own.length} inks</Typography>
          <Choices
            label="Look at it as"
            value={view}
            options={VIEWS}
            onChoose={(key) => set("view", key)}
            button={{ fontSize: 16, fontWeight: 400, px: 1.75 }}
            sx={{ ml: 1 }}
          />
          <Box sx={{ flex: 1 }} />
          <DrawerTools stock={stock} onAdd={() => setAdding(true)} />
        </Box>
        {view === "house" ? (
          <House stocks={stocks.data ?? []} inks={own} />
        ) : own.length === 0 ? (
          <Empty onAdd={() => setAdding(true)} />
        ) : (
          <Pads
            inks={own}
            stocks={stocks.data ?? []}
            card={card}
            view={view}
            opened={params.get("ink")}
            set={set}
          />
        )}
        <AddInk open={adding} onClose={() => setAdding(false)} />
      </PartByPart>
    </Box>
  );
}

function Empty({ onAdd }: { onAdd: () => void }) {
  return (
    <Box sx={{ maxWidth: 560, display: "grid", gap: 1.5, justifyItems: "start" }}>
      <Typography>
        The drawer is empty. Add the pads you own with the colour of a swatch, or bring in a list of them.
        They are then arranged by hue and lightness so that gaps show, and every prediction uses them.
      </Typography>
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="contained" onClick={onAdd}>
          Add the first ink
        </Button>
        <Button variant="outlined" component={Link} to="/inks/bring-in">
          Bring in a list
        </Button>
      </Box>
    </Box>
  );
}

interface PadsProps {
  inks: Ink[];
  stocks: Stock[];
  card: Stock | undefined;
  view: string;
  opened: string | null;
  set: (name: string, value: string | null) => void;
}

function Pads({ inks, stocks, card, view, opened, set }: PadsProps) {
  const gaps = useGaps(card?.key);
  const [filter, setFilter] = useState<Filter>(EMPTY_FILTER);
  // the fields answer at once, the map follows when there is time
  const wanted = useDeferredValue(filter);
  const found = useMemo(() => inks.filter(passes(wanted)), [inks, wanted]);
  const [pointed, setPointed] = useState<Gap | null>(null);
  const [marked, setMarked] = useState<ReadonlySet<number>>(new Set());
  const open = useCallback((key: string) => set("ink", key), [set]);
  const ink = inks.find((i) => i.key === opened);
  const hex = card?.hex ?? "#f2f2f2";
  return (
    <PartByPart>
      <Filters
        inks={inks}
        stocks={stocks}
        stock={card?.key ?? ""}
        filter={filter}
        onFilter={setFilter}
        onStock={(key) => set("card", key)}
        found={found.length}
      />
      <Box
        sx={{
          flex: 1,
          display: "grid",
          gap: 2,
          gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1fr) 372px" },
          minHeight: 0,
          alignItems: "start",
          alignContent: "start",
        }}
      >
        <Box sx={{ minWidth: 0 }}>
          {found.length === 0 && (
            <Typography sx={{ p: 3, bgcolor: greys.bench, borderRadius: 1 }}>
              No pad in the drawer answers to that.{" "}
              <Button variant="text" onClick={() => setFilter(EMPTY_FILTER)}>
                Show all of them
              </Button>
            </Typography>
          )}
          {found.length > 0 && view === "map" && (
            <Paper
              variant="tray"
              sx={{
                overflowX: "auto",
              }}
            >
              <DrawerMap
                inks={inks}
                found={found}
                card={hex}
                gaps={gaps.data ?? NO_GAPS}
                pointed={pointed}
                chosen={ink?.key}
                onChoose={open}
              />
            </Paper>
          )}
          {found.length > 0 && view === "list" && (
            <InkList
              inks={found}
              card={hex}
              chosen={ink?.key}
              marked={marked}
              onMark={setMarked}
              onOpen={open}
            />
          )}
          {marked.size > 0 && view === "list" && (
            <ManyBar ids={[...marked]} onDone={() => setMarked(new Set())} />
          )}
        </Box>
        {ink ? (
          <InkOpened
            key={ink.key}
            ink={ink}
            stocks={stocks}
            stock={card?.key ?? ""}
            onClose={() => set("ink", null)}
            onOpen={open}
          />
        ) : (
          <Gaps
            gaps={gaps.data ?? []}
            stock={card?.key ?? ""}
            stockName={card?.name ?? "white card"}
            onPoint={setPointed}
          />
        )}
      </Box>
    </PartByPart>
  );
}
