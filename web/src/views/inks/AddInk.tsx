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
import { useState } from "react";
import { Choices } from "../../parts/Choices";
import { freshKey } from "../../api/acts";
import { api, type Schemas } from "../../api/client";
import { useStocks } from "../../api/hooks";
import { Chip } from "../../parts/Dab";
import { say } from "../../parts/said";
import { CHEMISTRIES, sentenceOf } from "../../parts/words";
import type { Found } from "./AddSwatch";
import { ByValue } from "./ByValue";
import { useDrawerAct } from "./drawerAct";
import { greys } from "../../theme/theme";

const EMPTY = { name: "", line: "", family: "", chemistry: "dye" };
type Field = keyof typeof EMPTY;

export function AddInk({ open, onClose }: { open: boolean; onClose: () => void }) {
  const stocks = useStocks();
  const [values, setValues] = useState(EMPTY);
  const [trouble, setTrouble] = useState<string | null>(null);
  const set = (name: Field) => (event: { target: { value: string } }) =>
    setValues({ ...values, [name]: event.target.value });
  const [picture, setPicture] = useState(false);
  const [found, setFound] = useState<Found | null>(null);
  const ready = values.name.trim() && found;
  const white = stocks.data?.reduce(
    (best, s) => ((s.lab[0] ?? 0) > (best.lab[0] ?? 0) ? s : best),
    stocks.data[0] ?? ({ lab: [95.8, 0.2, 0.9] } as never),
  );

  const add = useDrawerAct(
    (body: Schemas["NewInkRequest"]) => api.POST("/api/inks", { body: { ...body, edit_key: freshKey() } }),
    {
      then: (_, body) => {
        say({ sentence: `${body.name} is in the drawer.` });
        setValues(EMPTY);
        setFound(null);
        onClose();
      },
      ownTrouble: true,
    },
  );
  const busy = add.isPending;
  const press = () => {
    if (busy || !found || !values.name.trim()) return;
    setTrouble(null);
    const swatch = {
      on: { lab: white?.lab ?? [95.8, 0.2, 0.9], ...(white?.key ? { card: white.key } : {}) },
      coats: 1,
      how: found.how,
      when: new Date().toISOString().slice(0, 10),
      ...(found.lab ? { lab: found.lab } : { hex: found.hex }),
    };
    add.mutate(
      {
        name: values.name.trim(),
        line: values.line.trim(),
        family: values.family.trim(),
        chemistry: values.chemistry,
        swatches: [swatch],
      },
      { onError: (error) => setTrouble(sentenceOf(error, "That ink could not be added.")) },
    );
  };

  return (
    <Dialog open={open} onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="add-ink">
      <DialogTitle id="add-ink">Add an ink</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2 }}>
        <TextField
          label="Name"
          value={values.name}
          onChange={set("name")}
          sx={{ mt: 1 }}
          slotProps={{ htmlInput: { maxLength: 200 } }}
        />
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1.5 }}>
          <TextField label="Line" value={values.line} onChange={set("line")} />
          <TextField label="Family" value={values.family} onChange={set("family")} />
        </Box>
        <TextField select label="Chemistry" value={values.chemistry} onChange={set("chemistry")}>
          {CHEMISTRIES.map((c) => (
            <MenuItem key={c} value={c}>
              {c}
            </MenuItem>
          ))}
        </TextField>
        <Typography variant="body2">
          The dried colour of one coat on {white?.name ?? "white card"}:
        </Typography>
        <Choices
          apart
          label="How"
          value={picture ? "picture" : "typed"}
          options={[
            ["typed", "Type it in"],
            ["picture", "From a photograph"],
          ]}
          onChoose={(key) => {
            setPicture(key === "picture");
            setFound(null);
          }}
        />
        <ByValue key={String(picture)} picture={picture} onFound={setFound} />
        {found && (
          <Box sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
            <Chip colour={found.shown} card={white?.hex ?? greys.white} width={86} />
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
        <Button variant="contained" disabled={!ready || busy} onClick={press}>
          Add it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
