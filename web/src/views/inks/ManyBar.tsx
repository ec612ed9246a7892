/** The same change for all the pads that are marked; one step to undo. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api } from "../../api/client";
import { useDrawerChanged } from "../../api/hooks";
import { useNotice } from "../../parts/Notices";
import { CHEMISTRIES, PADS, sentenceOf, STATES } from "../../parts/words";
import { greys } from "../../theme/theme";

const WHAT: Record<string, { label: string; options?: readonly string[] }> = {
  state: { label: "State", options: STATES },
  place: { label: "Place" },
  line: { label: "Line" },
  family: { label: "Family" },
  chemistry: { label: "Kind of ink", options: CHEMISTRIES },
  pad: { label: "Pad", options: PADS },
  character: { label: "Character", options: ["vivid", "muted"] },
};

export function ManyBar({ ids, onDone }: { ids: number[]; onDone: () => void }) {
  const changed = useDrawerChanged();
  const say = useNotice();
  const [what, setWhat] = useState("state");
  const [value, setValue] = useState("");
  const [busy, setBusy] = useState(false);
  const count = ids.length === 1 ? "1 pad" : `${ids.length} pads`;
  const field = WHAT[what];
  const send = async (values: Record<string, string>, away: boolean, done: string) => {
    if (busy) return;
    setBusy(true);
    try {
      await api.PATCH("/api/inks", { body: { ids, values, away } });
      await changed();
      onDone();
      say({
        sentence: done,
        action: { label: "Undo", run: () => void api.POST("/api/drawer/undo").then(changed) },
      });
    } catch (error) {
      say({ sentence: sentenceOf(error, "That could not be changed.") });
    } finally {
      setBusy(false);
    }
  };
  return (
    <Box
      component="form"
      aria-label="Change the marked pads"
      onSubmit={(e) => {
        e.preventDefault();
        void send({ [what]: value }, false, `${count} changed.`);
      }}
      sx={{
        position: "sticky",
        bottom: 8,
        mt: 1,
        display: "flex",
        gap: 1.25,
        alignItems: "center",
        flexWrap: "wrap",
        bgcolor: greys.sheet,
        border: `2px solid ${greys.ink}`,
        borderRadius: 1,
        p: 1.25,
      }}
    >
      <Typography sx={{ fontWeight: 640 }}>{count} marked</Typography>
      <TextField
        select
        label="Change"
        value={what}
        onChange={(e) => {
          setWhat(e.target.value);
          setValue("");
        }}
        sx={{ minWidth: 120 }}
      >
        {Object.entries(WHAT).map(([key, w]) => (
          <MenuItem key={key} value={key}>
            {w.label}
          </MenuItem>
        ))}
      </TextField>
      {field?.options ? (
        <TextField
          select
          label="to"
          value={value}
          onChange={(e) => setValue(e.target.value)}
          sx={{ minWidth: 130 }}
        >
          {field.options.map((o) => (
            <MenuItem key={o} value={o}>
              {o}
            </MenuItem>
          ))}
        </TextField>
      ) : (
        <TextField
          label="to"
          value={value}
          onChange={(e) => setValue(e.target.value)}
          sx={{ width: 160 }}
          slotProps={{ htmlInput: { maxLength: 200 } }}
        />
      )}
      <Button type="submit" variant="contained" disabled={busy || (!!field?.options && !value)}>
        Change them
      </Button>
      <Button
        variant="outlined"
        disabled={busy}
        onClick={() => void send({}, true, `${count} put away. Builds that use them keep them.`)}
      >
        Put away
      </Button>
      <Box sx={{ flex: 1 }} />
      <Button variant="text" onClick={onDone}>
        Unmark
      </Button>
    </Box>
  );
}
