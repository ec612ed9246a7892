/** A card stock: its colour as measured, its weight and thickness, where it lies and how much is left. */
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
import { freshKey } from "../../api/acts";
import { api, type Schemas, type Stock } from "../../api/client";
import { onlyChanged } from "../../parts/changed";
import { sentenceOf, typed } from "../../parts/words";
import { useDrawerAct } from "./drawerAct";

type NewStock = Schemas["StockRequest"];

const FINISHES = [
  ["", "not known"],
  ["smooth", "smooth, it drinks ink"],
  ["vellum-finish", "vellum-finish, it drinks ink"],
  ["absorbent", "rough, it drinks ink"],
  ["coated", "coated, ink stays on top"],
] as const;
const MOST_SHEETS = 9999;
const STATES = ["plenty", "low", "used up", "wished for"];

export function EditStock({ stock, onClose }: { stock: Stock | null; onClose: () => void }) {
  const [v, setV] = useState({
    name: stock?.name ?? "",
    L: String(stock?.lab[0] ?? ""),
    a: String(stock?.lab[1] ?? ""),
    b: String(stock?.lab[2] ?? ""),
    weight: String(stock?.weight_gsm ?? 270),
    thickness: String(stock?.thickness_mm ?? 0.33),
    finish: stock?.finish ?? "",
    state: stock?.state ?? "plenty",
    sheets: stock?.sheets == null ? "" : String(stock.sheets),
    place: stock?.place ?? "",
    notes: stock?.notes ?? "",
  });
  const [wrong, setWrong] = useState<string | null>(null);
  // as it was when the dialog was opened
  const [opened] = useState(stock);
  const set = (name: keyof typeof v) => (e: { target: { value: string } }) =>
    setV({ ...v, [name]: e.target.value });
  const text = (name: keyof typeof v, label: string, figures = false) => (
    <TextField
      label={label}
      value={v[name]}
      onChange={set(name)}
      slotProps={{ htmlInput: { maxLength: 200, ...(figures ? { inputMode: "decimal" } : {}) } }}
    />
  );
  const keep = useDrawerAct(
    (body: NewStock) =>
      opened
        ? api.PATCH("/api/stocks/{id}", {
            params: { path: { id: opened.id } },
            body: { ...onlyChanged(body, opened), revision: opened.revision, edit_key: freshKey() },
          })
        : api.POST("/api/stocks", { body: { ...body, edit_key: freshKey() } }),
    {
      said: (body) => `${body.name} is ${opened ? "changed" : "in the house"}.`,
      then: onClose,
      ownTrouble: true,
    },
  );
  const away = useDrawerAct((id: number) => api.DELETE("/api/stocks/{id}", { params: { path: { id } } }), {
    said: () => `${opened?.name} is put away. Builds on it keep it.`,
    then: onClose,
    ownTrouble: true,
  });
  const failed = keep.error ?? away.error;
  const trouble = wrong ?? (failed && sentenceOf(failed, "That could not be kept."));
  const save = () => {
    const lab = [v.L, v.a, v.b].map(typed);
    if (!v.name.trim() || ![...lab, typed(v.weight), typed(v.thickness)].every(Number.isFinite))
      return setWrong("A card needs a name, and figures for its colour, weight and thickness.");
    const sheets = v.sheets.trim() === "" ? null : typed(v.sheets);
    if (sheets !== null && !(Number.isInteger(sheets) && sheets >= 0 && sheets <= MOST_SHEETS))
      return setWrong(`Sheets are counted from 0 to ${MOST_SHEETS}; leave it empty if nobody counts them.`);
    setWrong(null);
    const same = opened && lab.every((x, i) => x === opened.lab[i]);
    const body = {
      name: v.name.trim(),
      lab,
      weight_gsm: typed(v.weight),
      thickness_mm: typed(v.thickness),
      finish: v.finish as "smooth",
      state: v.state as "low",
      sheets,
      place: v.place.trim(),
      notes: v.notes,
      ...(same ? {} : { how: "typed" as const }),
    };
    keep.mutate(body);
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="edit-stock">
      <DialogTitle id="edit-stock">{stock ? stock.name : "Add a card"}</DialogTitle>
      <DialogContent>
        <Box
          component="form"
          id="edit-stock-form"
          onSubmit={(e) => {
            e.preventDefault();
            save();
          }}
          sx={{ display: "grid", gap: 1.75, gridTemplateColumns: "1fr 1fr 1fr", pt: 1 }}
        >
          <Box sx={{ gridColumn: "1 / -1", display: "grid" }}>{text("name", "Name")}</Box>
          {text("L", "L*", true)}
          {text("a", "a*", true)}
          {text("b", "b*", true)}
          {text("weight", "g/m²", true)}
          {text("thickness", "Thickness, mm", true)}
          <TextField select label="Finish" value={v.finish} onChange={set("finish")}>
            {FINISHES.map(([f, label]) => (
              <MenuItem key={f} value={f}>
                {label}
              </MenuItem>
            ))}
          </TextField>
          <TextField select label="How much is left" value={v.state} onChange={set("state")}>
            {STATES.map((f) => (
              <MenuItem key={f} value={f}>
                {f}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label="Sheets in the house"
            value={v.sheets}
            onChange={set("sheets")}
            placeholder="not counted"
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { inputMode: "numeric", maxLength: 5 } }}
          />
          {text("place", "Place")}
          <TextField
            label="Notes"
            value={v.notes}
            onChange={set("notes")}
            multiline
            minRows={2}
            sx={{ gridColumn: "1 / -1" }}
            slotProps={{ htmlInput: { maxLength: 4000 } }}
          />
          <Typography variant="caption" sx={{ gridColumn: "1 / -1" }}>
            The colour of the bare card as a colour reader gives it (CIELAB, D50 and 2 degrees). Builds and
            swatches follow it.
          </Typography>
          {trouble && (
            <Typography role="alert" sx={{ fontWeight: 600, gridColumn: "1 / -1" }}>
              {trouble}
            </Typography>
          )}
        </Box>
      </DialogContent>
      <DialogActions>
        {stock && (
          <Button variant="text" disabled={away.isPending} onClick={() => away.mutate(stock.id)}>
            Put it away
          </Button>
        )}
        <Box sx={{ flex: 1 }} />
        <Button variant="text" onClick={onClose}>
          Not now
        </Button>
        <Button type="submit" form="edit-stock-form" variant="contained" disabled={keep.isPending}>
          Keep it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
