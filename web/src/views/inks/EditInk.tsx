/** Everything that a maker says of a pad; what is left as its kind has it stays so. */
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
import { api, type Ink } from "../../api/client";
import { useDrawerChanged } from "../../api/hooks";
import { CHEMISTRIES, CLEANINGS, PADS, sentenceOf, STATES, typed } from "../../parts/words";

const TEXTS = ["name", "line", "family", "place"] as const;
const LABELS = { name: "Name", line: "Line", family: "Family", place: "Place in the drawer" };

export function EditInk({ ink, open, onClose }: { ink: Ink; open: boolean; onClose: () => void }) {
  const changed = useDrawerChanged();
  const [v, setV] = useState({
    name: ink.name,
    line: ink.line,
    family: ink.family,
    place: ink.place,
    notes: ink.notes,
    depth: String(ink.depth),
    minutes: String(ink.dry_minutes),
    chemistry: ink.chemistry,
    character: ink.character,
    pad: ink.pad,
    state: ink.state,
    cleaning: ink.cleaning,
  });
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const set = (name: keyof typeof v) => (e: { target: { value: string } }) =>
    setV({ ...v, [name]: e.target.value });
  const pick = (
    name: keyof typeof v,
    label: string,
    options: readonly string[],
    words?: Record<string, string>,
  ) => (
    <TextField select label={label} value={v[name]} onChange={set(name)}>
      {options.map((o) => (
        <MenuItem key={o} value={o}>
          {words?.[o] ?? o}
        </MenuItem>
      ))}
    </TextField>
  );
  const save = async () => {
    if (busy) return;
    const minutes = typed(v.minutes);
    const depth = typed(v.depth);
    if (!v.name.trim() || !Number.isFinite(minutes) || !Number.isInteger(depth))
      return setTrouble("A pad needs a name; depth and minutes are numbers.");
    setBusy(true);
    setTrouble(null);
    const kind = v.chemistry !== ink.chemistry;
    const own = {
      ...(minutes !== ink.dry_minutes || !kind ? { dry_minutes: minutes } : {}),
      ...(v.cleaning !== ink.cleaning || !kind ? { cleaning: v.cleaning } : {}),
    };
    // another kind of ink brings its own minutes and cleaning, unless they were said here
    const reset = kind
      ? {
          ...(minutes === ink.dry_minutes ? { dry_minutes: null } : {}),
          ...(v.cleaning === ink.cleaning ? { cleaning: null } : {}),
        }
      : {};
    const body = {
      name: v.name.trim(),
      line: v.line.trim(),
      family: v.family.trim(),
      place: v.place.trim(),
      notes: v.notes,
      depth,
      chemistry: v.chemistry,
      character: v.character,
      pad: v.pad,
      state: v.state,
      ...own,
      ...reset,
    };
    try {
      await api.PATCH("/api/inks/{id}", { params: { path: { id: ink.id } }, body: body as never });
      await changed();
      onClose();
    } catch (error) {
      setTrouble(sentenceOf(error, "That could not be changed."));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="edit-ink">
      <DialogTitle id="edit-ink">{ink.name}</DialogTitle>
      <DialogContent>
        <Box
          component="form"
          id="edit-ink-form"
          onSubmit={(e) => {
            e.preventDefault();
            void save();
          }}
          sx={{ display: "grid", gap: 1.75, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, pt: 1 }}
        >
          {TEXTS.map((name) => (
            <TextField
              key={name}
              label={LABELS[name]}
              value={v[name]}
              onChange={set(name)}
              slotProps={{ htmlInput: { maxLength: 200 } }}
            />
          ))}
          <TextField
            label="Rank of depth in its family"
            value={v.depth}
            onChange={set("depth")}
            slotProps={{ htmlInput: { inputMode: "numeric" } }}
          />
          {pick("state", "How full it is", STATES)}
          {pick("chemistry", "Kind of ink", CHEMISTRIES)}
          {pick("pad", "Pad", PADS)}
          {pick("character", "Character", ["vivid", "muted"])}
          {pick("cleaning", "Comes off with", Object.keys(CLEANINGS), CLEANINGS)}
          <TextField
            label="Minutes to dry"
            value={v.minutes}
            onChange={set("minutes")}
            slotProps={{ htmlInput: { inputMode: "decimal" } }}
          />
          <TextField
            label="Notes"
            value={v.notes}
            onChange={set("notes")}
            multiline
            minRows={2}
            sx={{ gridColumn: { sm: "1 / -1" } }}
            slotProps={{ htmlInput: { maxLength: 4000 } }}
          />
          <Typography variant="caption" sx={{ gridColumn: { sm: "1 / -1" } }}>
            Drying and cleaning follow the kind of ink until you say otherwise. Follow the label of the
            product.
          </Typography>
          {trouble && (
            <Typography role="alert" sx={{ fontWeight: 600, gridColumn: { sm: "1 / -1" } }}>
              {trouble}
            </Typography>
          )}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Not now
        </Button>
        <Button type="submit" form="edit-ink-form" variant="contained" disabled={busy}>
          Keep it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
