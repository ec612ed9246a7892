/** A set from an SVG drawing with one group per sheet. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import LinearProgress from "@mui/material/LinearProgress";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { type LayerSet, Refusal, upload } from "../../api/client";

const MOST_BYTES = 8_000_000;

export function BringIn({ open, onClose }: { open: boolean; onClose: () => void }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File | null>(null);
  const [name, setName] = useState("");
  const [kind, setKind] = useState("stencil");
  const [width, setWidth] = useState("");
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);

  const choose = (picked: File | undefined) => {
    setTrouble(null);
    if (!picked) return;
    if (picked.size > MOST_BYTES) return setTrouble("This drawing is over 8 MB; save it without embedded pictures.");
    setFile(picked);
    if (!name) setName(picked.name.replace(/\.svg$/i, "").replace(/[-_]+/g, " "));
  };
  const bring = async () => {
    if (!file || busy) return;
    setBusy(true);
    setTrouble(null);
    const form = new FormData();
    form.append("file", file);
    form.append("name", name.trim() || file.name);
    form.append("kind", kind);
    if (width.trim()) form.append("width_mm", width.replace(",", "."));
    try {
      const made = await upload<LayerSet>("/api/sets", form);
      await queries.invalidateQueries({ queryKey: ["sets"] });
      await navigate(`/sets/${made.id}`);
    } catch (error) {
      setTrouble(error instanceof Refusal ? error.message : "That drawing could not be brought in.");
    } finally {
      setBusy(false);
    }
  };

  return (
    <Dialog open={open} onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="bring-in">
      <DialogTitle id="bring-in">Bring in a set</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2 }}>
        <Typography variant="body2">An SVG drawing with one group per sheet, in the order of the sheets, up to 8 MB. Filled shapes become openings.</Typography>
        <input ref={input} type="file" accept=".svg,image/svg+xml" hidden aria-label="The drawing" onChange={(e) => choose(e.target.files?.[0])} />
        <Box sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
          <Button variant="outlined" onClick={() => input.current?.click()}>Choose the drawing</Button>
          <Typography variant="body2">{file?.name ?? "none yet"}</Typography>
        </Box>
        <TextField label="Name" value={name} onChange={(e) => setName(e.target.value)} slotProps={{ htmlInput: { maxLength: 200 } }} />
        <TextField select label="Kind" value={kind} onChange={(e) => setKind(e.target.value)}>
          {["stencil", "stamp set", "die-cut"].map((k) => <MenuItem key={k} value={k}>{k}</MenuItem>)}
        </TextField>
        <TextField label="Width in mm, if the drawing does not say" value={width} onChange={(e) => setWidth(e.target.value)} />
        {busy && <LinearProgress aria-label="Reading the drawing" />}
        {trouble && <Typography role="alert" sx={{ fontWeight: 600 }}>{trouble}</Typography>}
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>Not now</Button>
        <Button variant="contained" disabled={!file || busy} onClick={() => void bring()}>Bring it in</Button>
      </DialogActions>
    </Dialog>
  );
}
