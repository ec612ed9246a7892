/** The drawer, arranged by hue and depth so that gaps show; an ink opened beside it. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { type Ink, upload } from "../../api/client";
import { useInks, useStocks } from "../../api/hooks";
import { Busy } from "../../parts/Busy";
import { useNotice } from "../../parts/Notices";
import { Trouble } from "../../parts/Trouble";
import { greys } from "../../theme/theme";
import { AddInk } from "./AddInk";
import { DrawerMap } from "./DrawerMap";
import { InkOpened } from "./InkOpened";

export function Component() {
  const stocks = useStocks();
  const [params, setParams] = useSearchParams();
  const stock = params.get("card") ?? stocks.data?.[0]?.key;
  const inks = useInks(stock);
  const [words, setWords] = useState("");
  const [adding, setAdding] = useState(false);
  useEffect(() => {
    document.title = "Inks · Anastrata";
  }, []);
  if (inks.isPending || stocks.isPending) return <Busy what="Opening the drawer" />;
  if (inks.error) return <Trouble error={inks.error} again={() => void inks.refetch()} />;
  const set = (name: string, value: string) => setParams((old) => { const fresh = new URLSearchParams(old); fresh.set(name, value); return fresh; }, { replace: true });
  const wanted = words.trim().toLowerCase();
  const found = inks.data.filter((i) => `${i.name} ${i.family} ${i.line} ${i.chemistry}`.toLowerCase().includes(wanted));
  const opened = inks.data.find((i) => i.key === params.get("ink")) ?? found.reduce<Ink | undefined>((best, i) => (best && best.chroma >= i.chroma ? best : i), undefined);
  const card = stocks.data?.find((s) => s.key === stock);
  return (
    <Box sx={{ p: { xs: 2, sm: 3 }, flex: 1, display: "flex", flexDirection: "column", gap: 2 }}>
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap" }}>
        <Typography variant="h1">The drawer</Typography>
        <Typography>{inks.data.length} inks</Typography>
        <Box sx={{ flex: 1 }} />
        <TextField label="Find" value={words} onChange={(e) => setWords(e.target.value)} sx={{ width: 160 }} />
        <TextField select label="Shown on" value={card?.key ?? ""} onChange={(e) => set("card", e.target.value)} sx={{ width: 170 }}>
          {stocks.data?.map((s) => <MenuItem key={s.key} value={s.key}>{s.name}</MenuItem>)}
        </TextField>
        <Button variant="outlined" component={Link} to={`/inks/recipes${card ? `?card=${card.key}` : ""}`}>What makes a colour?</Button>
        <FileIn />
        <Button variant="outlined" component="a" href="/api/drawer">Drawer to a file</Button>
        <Button variant="contained" onClick={() => setAdding(true)}>Add an ink</Button>
      </Box>
      {inks.data.length === 0 ? (
        <Typography sx={{ maxWidth: 520 }}>The drawer is empty. Add the pads you own with the colour of a swatch, or bring in a drawer file. They are then arranged by hue and depth, and every prediction uses them.</Typography>
      ) : (
        <Box sx={{ flex: 1, display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", md: "1fr 360px" }, minHeight: 0 }}>
          <Box sx={{ bgcolor: greys.bench, border: `1px solid ${greys.line}`, borderRadius: 1, overflowX: "auto" }}>
            {found.length ? (
              <DrawerMap inks={found} card={card?.hex ?? "#f2f2f2"} chosen={opened?.key} onChoose={(key) => set("ink", key)} />
            ) : (
              <Typography sx={{ p: 3 }}>No pad in the drawer answers to “{words}”.</Typography>
            )}
          </Box>
          {opened && <InkOpened key={opened.key} ink={opened} stocks={stocks.data ?? []} />}
        </Box>
      )}
      <AddInk open={adding} onClose={() => setAdding(false)} />
    </Box>
  );
}

function FileIn() {
  const input = useRef<HTMLInputElement>(null);
  const queries = useQueryClient();
  const say = useNotice();
  const take = async (file: File | undefined) => {
    if (!file) return;
    const form = new FormData();
    form.append("file", file);
    try {
      const brought = await upload<{ inks: number; stocks: number }>("/api/drawer", form);
      await queries.invalidateQueries();
      say({ sentence: `${brought.inks} inks and ${brought.stocks} cards are in the house.` });
    } catch (error) {
      say({ sentence: error instanceof Error ? `${error.message} Nothing was changed.` : "That file could not be brought in." });
    } finally {
      if (input.current) input.current.value = "";
    }
  };
  return (
    <>
      <input ref={input} type="file" accept=".json,application/json" hidden aria-label="A drawer file" onChange={(e) => void take(e.target.files?.[0])} />
      <Button variant="outlined" onClick={() => input.current?.click()}>Bring in a drawer file</Button>
    </>
  );
}
