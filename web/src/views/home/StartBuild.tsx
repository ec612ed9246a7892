/** A new build: a set, a card, a name. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, data } from "../../api/client";
import { useSets, useStocks } from "../../api/hooks";
import { StockChoice } from "../../parts/StockChoice";
import { greys } from "../../theme/theme";
import { SetPreview } from "../../parts/SetPreview";

export function StartBuild({ open, onClose }: { open: boolean; onClose: () => void }) {
  const sets = useSets();
  const stocks = useStocks();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [setId, setSetId] = useState<number | null>(null);
  const [stock, setStock] = useState<string | null>(null);
  const [name, setName] = useState("");
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const chosenSet = setId ?? sets.data?.[0]?.id;
  const chosenStock = stock ?? stocks.data?.[0]?.key;
  const setName_ = sets.data?.find((s) => s.id === chosenSet)?.name ?? "";

  const start = async () => {
    if (busy || chosenSet === undefined || !chosenStock) return;
    setBusy(true);
    try {
      const body = {
        name: name.trim() || `${setName_}, a new colouring`,
        set_id: chosenSet,
        stock: chosenStock,
      };
      const made = await data(api.POST("/api/builds", { body }));
      await queries.invalidateQueries({ queryKey: ["builds"] });
      await navigate(`/builds/${made.id}/strata`);
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : "That build could not be started.");
    } finally {
      setBusy(false);
    }
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
        </Box>
        <Typography variant="h3" component="h3">
          The card
        </Typography>
        <StockChoice stocks={stocks.data ?? []} chosen={chosenStock} onChoose={setStock} />
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
        <Button
          variant="contained"
          disabled={busy || chosenSet === undefined || !chosenStock}
          onClick={() => void start()}
        >
          Start
        </Button>
      </DialogActions>
    </Dialog>
  );
}
