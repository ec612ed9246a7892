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
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { useAct } from "../../api/acts";
import { api, data } from "../../api/client";
import { useSets, useStocks } from "../../api/hooks";
import { keys } from "../../api/keys";
import { StockChoice } from "../../parts/StockChoice";
import { sentenceOf } from "../../parts/words";
import { greys } from "../../theme/theme";
import { placeOf } from "../build/paths";
import { SetPreview } from "../../parts/SetPreview";

export function StartBuild({ open, onClose }: { open: boolean; onClose: () => void }) {
  const sets = useSets();
  const stocks = useStocks();
  const navigate = useNavigate();
  const [setId, setSetId] = useState<number | null>(null);
  const [stock, setStock] = useState<string | null>(null);
  const [name, setName] = useState("");
  const chosenSet = setId ?? sets.data?.[0]?.id;
  const chosenStock = stock ?? stocks.data?.[0]?.key;
  const setName_ = sets.data?.find((s) => s.id === chosenSet)?.name ?? "";

  const start = useAct(
    (body: { name: string; set_id: number; stock: string }) => data(api.POST("/api/builds", { body })),
    {
      changes: [keys.builds],
      then: (made) => navigate(placeOf(made.build_id, made.id, "strata")),
      ownTrouble: true,
    },
  );
  const press = () => {
    if (start.isPending || chosenSet === undefined || !chosenStock) return;
    start.mutate({ name: name.trim() || `${setName_}, a new build`, set_id: chosenSet, stock: chosenStock });
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
        <Button
          variant="contained"
          disabled={start.isPending || chosenSet === undefined || !chosenStock}
          onClick={press}
        >
          Start
        </Button>
      </DialogActions>
    </Dialog>
  );
}
