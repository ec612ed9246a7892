/** A new build: a set, a card, a name. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { useAct } from "../../api/acts";
import { api, data } from "../../api/client";
import { useFormats, useSets, useStocks } from "../../api/hooks";
import { keys } from "../../api/keys";
import { StockChoice } from "../../parts/StockChoice";
import { sentenceOf } from "../../parts/words";
import { greys } from "../../theme/theme";
import { placeOf } from "../build/paths";
import { SetPreview } from "../../parts/SetPreview";

const NONE = 0;
// no set has this number

export function StartBuild({ open, onClose }: { open: boolean; onClose: () => void }) {
  const sets = useSets();
  const stocks = useStocks();
  const navigate = useNavigate();
  const [setId, setSetId] = useState<number | null>(null);
  const [stock, setStock] = useState<string | null>(null);
  const [name, setName] = useState("");
  const [format, setFormat] = useState("");
  const formats = useFormats();
  const chosenSet = setId ?? sets.data?.[0]?.id ?? NONE;
  const chosenStock = stock ?? stocks.data?.[0]?.key;
  const setName_ = sets.data?.find((s) => s.id === chosenSet)?.name ?? "A card";
  // with no set, the panel has to have a size of its own
  const chosenFormat = format || (chosenSet === NONE ? "a2" : "");

  const start = useAct(
    (body: { name: string; set_id: number | null; stock: string; panel?: Record<string, unknown> }) =>
      data(api.POST("/api/builds", { body })),
    {
      changes: [keys.builds],
      then: (made) => navigate(placeOf(made.build_id, made.id, chosenSet === NONE ? "panel" : "strata")),
      ownTrouble: true,
    },
  );
  const press = () => {
    if (start.isPending || !chosenStock) return;
    start.mutate({
      name: name.trim() || `${setName_}, a new build`,
      set_id: chosenSet === NONE ? null : chosenSet,
      stock: chosenStock,
      ...(chosenFormat ? { panel: { format: chosenFormat } } : {}),
    });
  };

  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="start-title">
      <DialogTitle id="start-title">Start a build</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2 }}>
        <TextField
          label="What is it for?"
          placeholder="Thank-you for the lock crew"
          value={name}
          onChange={(e) => setName(e.target.value)}
          sx={{ mt: 1 }}
          slotProps={{ htmlInput: { maxLength: 200 } }}
        />
        <Typography variant="h3" component="h3">
          The set
        </Typography>
        {sets.data?.length === 0 && (
          <Typography>
            There is no set yet. <Link to="/sets">Bring one in first.</Link>
          </Typography>
        )}
        <Box role="radiogroup" aria-label="The set" sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
          {sets.data?.map((s) => (
            <ButtonBase
              key={s.id}
              role="radio"
              aria-checked={s.id === chosenSet}
              onClick={() => setSetId(s.id)}
              sx={{
                p: 1,
                borderRadius: 1,
                border: `2px solid ${s.id === chosenSet ? greys.ink : greys.line}`,
                display: "grid",
                gap: 0.5,
              }}
            >
              <SetPreview set={s} height={110} />
              <Typography variant="caption">{s.name}</Typography>
            </ButtonBase>
          ))}
          <ButtonBase
            role="radio"
            aria-checked={chosenSet === NONE}
            onClick={() => setSetId(NONE)}
            sx={{
              p: 1,
              width: 108,
              borderRadius: 1,
              border: `2px solid ${chosenSet === NONE ? greys.ink : greys.line}`,
            }}
          >
            <Typography variant="caption">None yet: an empty panel</Typography>
          </ButtonBase>
        </Box>
        <TextField
          select
          label="Panel for"
          value={chosenFormat}
          onChange={(e) => setFormat(e.target.value)}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          {chosenSet !== NONE && <MenuItem value="">as large as the set</MenuItem>}
          {(formats.data ?? []).map((f) => (
            <MenuItem key={f.key} value={f.key}>
              {f.label}
            </MenuItem>
          ))}
        </TextField>
        <Typography variant="h3" component="h3">
          The card
        </Typography>
        <StockChoice stocks={stocks.data ?? []} chosen={chosenStock} onChoose={setStock} />
        {start.error && (
          <Typography role="alert" sx={{ fontWeight: 600 }}>
            {sentenceOf(start.error, "That build could not be started.")}
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Not now
        </Button>
        <Button variant="contained" disabled={start.isPending || !chosenStock} onClick={press}>
          Start
        </Button>
      </DialogActions>
    </Dialog>
  );
}
