/** A swatch of a pad: by the colour reader, typed in, or picked from a photograph; shown before it is kept. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, type Ink, type NewSwatch, type Stock } from "../../api/client";
import { useDrawerChanged } from "../../api/hooks";
import { Chip } from "../../parts/Dab";
import { useNotice } from "../../parts/Notices";
import { sentenceOf } from "../../parts/words";
import { greys } from "../../theme/theme";
import { ByReader } from "./ByReader";
import { ByValue } from "./ByValue";

/** A colour on its way: what the server takes, and how it looks. */
export type Found = Pick<NewSwatch, "lab" | "hex" | "how" | "spread"> & { shown: string; said: string };

const WAYS = [
  ["reader", "Colour reader"],
  ["value", "Type it in"],
  ["picture", "From a photograph"],
] as const;
type Way = (typeof WAYS)[number][0];

interface Props {
  ink: Ink;
  stocks: Stock[];
  open: boolean;
  onClose: () => void;
}

export function AddSwatch({ ink, stocks, open, onClose }: Props) {
  const changed = useDrawerChanged();
  const say = useNotice();
  const [way, setWay] = useState<Way>("reader");
  const [stock, setStock] = useState(stocks[0]?.key ?? "");
  const [coats, setCoats] = useState("1");
  const [found, setFound] = useState<Found | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const choose = (next: Way) => {
    setWay(next);
    setFound(null);
    setTrouble(null);
  };
  const keep = async () => {
    if (!found || busy) return;
    setBusy(true);
    setTrouble(null);
    try {
      const colour = found.lab ? { lab: found.lab } : { hex: found.hex };
      await api.POST("/api/inks/{id}/swatches", {
        params: { path: { id: ink.id } },
        body: { stock, coats: Number(coats), how: found.how, spread: found.spread ?? null, ...colour },
      });
      await changed();
      say({
        sentence: `A swatch of ${ink.name} is kept.`,
        action: { label: "Undo", run: () => void api.POST("/api/drawer/undo").then(changed) },
      });
      setFound(null);
      onClose();
    } catch (error) {
      setTrouble(sentenceOf(error, "That swatch could not be kept."));
    } finally {
      setBusy(false);
    }
  };
  const card = stocks.find((s) => s.key === stock);
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="add-swatch">
      <DialogTitle id="add-swatch">A swatch of {ink.name}</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2 }}>
        <Box sx={{ display: "flex", gap: 1.5, mt: 1 }}>
          <TextField
            select
            label="On"
            value={stock}
            onChange={(e) => {
              setStock(e.target.value);
              setFound(null);
            }}
            sx={{ flex: 1 }}
          >
            {stocks.map((s) => (
              <MenuItem key={s.key} value={s.key}>
                {s.name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Coats"
            value={coats}
            onChange={(e) => {
              setCoats(e.target.value);
              setFound(null);
            }}
            sx={{ width: 130 }}
          >
            {["1", "2", "3"].map((n) => (
              <MenuItem key={n} value={n}>
                {n === "1" ? "one coat" : `${n} coats`}
              </MenuItem>
            ))}
          </TextField>
        </Box>
        {!stocks.length && (
          <Typography>
            There is no card in the house yet: add the one that the swatch is on, under Cards and brushes.
          </Typography>
        )}
        <Box role="group" aria-label="How" sx={{ display: "flex", gap: 1 }}>
          {WAYS.map(([key, label]) => (
            <Button
              key={key}
              variant={way === key ? "contained" : "outlined"}
              aria-pressed={way === key}
              onClick={() => choose(key)}
            >
              {label}
            </Button>
          ))}
        </Box>
        {way === "reader" && (
          <ByReader ink={ink} stock={stock} coats={Number(coats)} onFound={setFound} onTrouble={setTrouble} />
        )}
        {way !== "reader" && <ByValue key={way} picture={way === "picture"} onFound={setFound} />}
        {found && (
          <Box
            sx={{
              display: "flex",
              gap: 1.5,
              alignItems: "center",
              borderTop: `1px solid ${greys.line}`,
              pt: 1.5,
            }}
          >
            <Chip colour={found.shown} card={card?.hex ?? "#fff"} width={86} />
            <Typography variant="body2">{found.said}</Typography>
          </Box>
        )}
        {trouble && (
          <Typography role="alert" sx={{ fontWeight: 600 }}>
            {trouble}
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Not now
        </Button>
        <Button variant="contained" disabled={!found || busy || !stock} onClick={() => void keep()}>
          Keep this swatch
        </Button>
      </DialogActions>
    </Dialog>
  );
}
