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
import { api, type Stock } from "../../api/client";
import { useDrawerChanged } from "../../api/hooks";
import { useNotice } from "../../parts/Notices";
import { sentenceOf, typed } from "../../parts/words";

const FINISHES = ["smooth", "vellum-finish", "coated"];
const STATES = ["plenty", "low", "used up", "wished for"];

export function EditStock({ stock, onClose }: { stock: Stock | null; onClose: () => void }) {
  const changed = useDrawerChanged();
  const say = useNotice();
  const [v, setV] = useState({
    name: stock?.name ?? "",
    L: String(stock?.lab[0] ?? ""),
    a: String(stock?.lab[1] ?? ""),
    b: String(stock?.lab[2] ?? ""),
    weight: String(stock?.weight_gsm ?? 270),
    thickness: String(stock?.thickness_mm ?? 0.33),
    finish: stock?.finish ?? "smooth",
    state: stock?.state ?? "plenty",
    place: stock?.place ?? "",
    notes: stock?.notes ?? "",
  });
  const [trouble, setTrouble] = useState<string | null>(null);
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
  const act = async (ask: () => Promise<unknown>, done: string) => {
    try {
      await ask();
      await changed();
      say({
        sentence: done,
        action: { label: "Undo", run: () => void api.POST("/api/drawer/undo").then(changed) },
      });
      onClose();
    } catch (error) {
      setTrouble(sentenceOf(error, "That could not be kept."));
    }
  };
  const save = () => {
    const lab = [v.L, v.a, v.b].map(typed);
    if (!v.name.trim() || ![...lab, typed(v.weight), typed(v.thickness)].every(Number.isFinite))
      return setTrouble("A card needs a name, and figures for its colour, weight and thickness.");
    const same = stock && lab.every((x, i) => x === stock.lab[i]);
    const body = {
      name: v.name.trim(),
      lab,
      weight_gsm: typed(v.weight),
      thickness_mm: typed(v.thickness),
      finish: v.finish as "smooth",
      state: v.state as "low",
      place: v.place.trim(),
      notes: v.notes,
      ...(same ? {} : { how: "typed" as const }),
    };
    void act(
      () =>
        stock
          ? api.PATCH("/api/stocks/{id}", { params: { path: { id: stock.id } }, body })
          : api.POST("/api/stocks", { body }),
      `${body.name} is ${stock ? "changed" : "in the house"}.`,
    );
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
            {FINISHES.map((f) => (
              <MenuItem key={f} value={f}>
                {f}
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
          <Box sx={{ gridColumn: "2 / -1", display: "grid" }}>{text("place", "Place")}</Box>
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
          <Button
            variant="text"
            onClick={() =>
              void act(
                () => api.DELETE("/api/stocks/{id}", { params: { path: { id: stock.id } } }),
                `${stock.name} is put away. Builds on it keep it.`,
              )
            }
          >
            Put it away
          </Button>
        )}
        <Box sx={{ flex: 1 }} />
        <Button variant="text" onClick={onClose}>
          Not now
        </Button>
        <Button type="submit" form="edit-stock-form" variant="contained">
          Keep it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
