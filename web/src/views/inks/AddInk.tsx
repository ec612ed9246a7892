/** A pad added by the colour of its swatch on white card, after one coat. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, Refusal } from "../../api/client";
import { useStocks } from "../../api/hooks";
import { useNotice } from "../../parts/Notices";

const EMPTY = { name: "", line: "", family: "", chemistry: "dye", L: "", a: "", b: "" };
type Field = keyof typeof EMPTY;

export function AddInk({ open, onClose }: { open: boolean; onClose: () => void }) {
  const queries = useQueryClient();
  const stocks = useStocks();
  const say = useNotice();
  const [values, setValues] = useState(EMPTY);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const set = (name: Field) => (event: { target: { value: string } }) => setValues({ ...values, [name]: event.target.value });
  const numbers = [values.L, values.a, values.b].map((v) => Number(v.replace(",", ".").replace("−", "-")));
  const ready = values.name.trim() && [values.L, values.a, values.b].every((v) => v.trim()) && numbers.every(Number.isFinite);
  const white = stocks.data?.reduce((best, s) => ((s.lab[0] ?? 0) > (best.lab[0] ?? 0) ? s : best), stocks.data[0] ?? { lab: [95.8, 0.2, 0.9] } as never);

  const add = async () => {
    if (busy || !ready) return;
    setBusy(true);
    setTrouble(null);
    try {
      const on = { lab: white?.lab ?? [95.8, 0.2, 0.9] };
      const body = { name: values.name.trim(), line: values.line.trim(), family: values.family.trim(), chemistry: values.chemistry, swatches: [{ on, coats: 1, lab: numbers }] };
      await api.POST("/api/inks", { body });
      await queries.invalidateQueries({ queryKey: ["inks"] });
      say({ sentence: `${body.name} is in the drawer.` });
      setValues(EMPTY);
      onClose();
    } catch (error) {
      setTrouble(error instanceof Refusal ? error.message : "That ink could not be added.");
    } finally {
      setBusy(false);
    }
  };

  return (
    <Dialog open={open} onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="add-ink">
      <DialogTitle id="add-ink">Add an ink</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2 }}>
        <TextField label="Name" value={values.name} onChange={set("name")} sx={{ mt: 1 }} slotProps={{ htmlInput: { maxLength: 200 } }} />
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1.5 }}>
          <TextField label="Line" value={values.line} onChange={set("line")} />
          <TextField label="Family" value={values.family} onChange={set("family")} />
        </Box>
        <TextField select label="Chemistry" value={values.chemistry} onChange={set("chemistry")}>
          {["dye", "pigment", "hybrid", "metallic"].map((c) => <MenuItem key={c} value={c}>{c}</MenuItem>)}
        </TextField>
        <Typography variant="body2">The dried colour of one coat on {white?.name ?? "white card"}, as a colour reader gives it (CIELAB, D50):</Typography>
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 1fr", gap: 1.5 }}>
          <TextField label="L*" value={values.L} onChange={set("L")} />
          <TextField label="a*" value={values.a} onChange={set("a")} />
          <TextField label="b*" value={values.b} onChange={set("b")} />
        </Box>
        {trouble && <Typography role="alert" sx={{ fontWeight: 600 }}>{trouble}</Typography>}
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>Not now</Button>
        <Button variant="contained" disabled={!ready || busy} onClick={() => void add()}>Add it</Button>
      </DialogActions>
    </Dialog>
  );
}
