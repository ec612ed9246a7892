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
import { Choices } from "../../parts/Choices";
import { freshKey } from "../../api/acts";
import { api, type Ink, type NewSwatch, type Stock } from "../../api/client";
import { Chip } from "../../parts/Dab";
import { sentenceOf } from "../../parts/words";
import { greys } from "../../theme/theme";
import { ByReader } from "./ByReader";
import { ByValue } from "./ByValue";
import { useDrawerAct } from "./drawerAct";

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
  const [way, setWay] = useState<Way>("reader");
  const [stock, setStock] = useState(stocks[0]?.key ?? "");
  const [coats, setCoats] = useState("1");
  const [found, setFound] = useState<Found | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const choose = (next: Way) => {
    setWay(next);
    setFound(null);
    setTrouble(null);
  };
  const add = useDrawerAct(
    (from: Found) =>
      api.POST("/api/inks/{id}/swatches", {
        params: { path: { id: ink.id } },
        body: {
          stock,
          coats: Number(coats),
          how: from.how,
          spread: from.spread ?? null,
          edit_key: freshKey(),
          ...(from.lab ? { lab: from.lab } : { hex: from.hex }),
        },
      }),
    {
      said: () => `A swatch of ${ink.name} is kept.`,
      then: () => {
        setFound(null);
        onClose();
      },
      ownTrouble: true,
    },
  );
  const busy = add.isPending;
  const keep = () => {
    if (!found || busy) return;
    setTrouble(null);
    add.mutate(found, {
      onError: (error) => setTrouble(sentenceOf(error, "That swatch could not be kept.")),
    });
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
        <Choices apart label="How" value={way} options={WAYS} onChoose={choose} />
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
            <Chip colour={found.shown} card={card?.hex ?? greys.white} width={86} />
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
        <Button variant="contained" disabled={!found || busy || !stock} onClick={keep}>
          Keep this swatch
        </Button>
      </DialogActions>
    </Dialog>
  );
}
