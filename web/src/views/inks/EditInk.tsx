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
import { freshKey } from "../../api/acts";
import { api, type Ink } from "../../api/client";
import { onlyChanged } from "../../parts/changed";
import { CHEMISTRIES, CLEANINGS, PADS, sentenceOf, STATES, typed } from "../../parts/words";
import { useDrawerAct } from "./drawerAct";

const TEXTS = ["name", "line", "family", "place"] as const;
const LABELS = { name: "Name", line: "Line", family: "Family", place: "Place in the drawer" };

export function EditInk({ ink, open, onClose }: { ink: Ink; open: boolean; onClose: () => void }) {
  // as it was when the dialog was opened
  const [opened] = useState(ink);
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
  const [wrong, setWrong] = useState<string | null>(null);
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
  const change = useDrawerAct(
    (body: Partial<Ink>) =>
      api.PATCH("/api/inks/{id}", {
        params: { path: { id: ink.id } },
        // decided on what the dialog was opened with: what was changed elsewhere since is not put back
        body: { ...body, revision: opened.revision, edit_key: freshKey() } as never,
      }),
    { then: onClose, ownTrouble: true },
  );
  const save = () => {
    if (change.isPending) return;
    const minutes = typed(v.minutes);
    const depth = typed(v.depth);
    if (!v.name.trim() || !Number.isFinite(minutes) || !Number.isInteger(depth))
      return setWrong("A pad needs a name; depth and minutes are numbers.");
    setWrong(null);
    const kind = v.chemistry !== opened.chemistry;
    // another kind of ink brings its own minutes and cleaning, unless they were said here
    const own = {
      dry_minutes: kind && minutes === opened.dry_minutes ? null : minutes,
      cleaning: kind && v.cleaning === opened.cleaning ? null : v.cleaning,
    };
    const values = {
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
    };
    const body = onlyChanged(values, opened);
    if (Object.keys(body).length === 0) return onClose();
    change.mutate(body as Partial<Ink>);
  };
  const trouble = wrong ?? (change.error && sentenceOf(change.error, "That could not be changed."));
  const busy = change.isPending;
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="edit-ink">
      <DialogTitle id="edit-ink">{ink.name}</DialogTitle>
      <DialogContent>
        <Box
          component="form"
          id="edit-ink-form"
          onSubmit={(e) => {
            e.preventDefault();
            save();
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
