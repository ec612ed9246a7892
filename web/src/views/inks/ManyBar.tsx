/** The same change for all the pads that are marked; one step to undo. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { freshKey } from "../../api/acts";
import { api } from "../../api/client";
import { CHEMISTRIES, PADS, STATES } from "../../parts/words";
import { greys } from "../../theme/theme";
import { useDrawerAct } from "./drawerAct";

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
  const [what, setWhat] = useState("state");
  const [value, setValue] = useState("");
  const count = ids.length === 1 ? "1 pad" : `${ids.length} pads`;
  const field = WHAT[what];
  const change = useDrawerAct(
    ({ values, away }: { values: Record<string, string>; away: boolean }) =>
      api.PATCH("/api/inks", { body: { ids, values, away, edit_key: freshKey() } }),
    {
      said: ({ away }) => (away ? `${count} put away. Builds that use them keep them.` : `${count} changed.`),
      then: onDone,
      otherwise: "That could not be changed.",
    },
  );
  const busy = change.isPending;
  return (
    <Box
      component="form"
      aria-label="Change the marked pads"
      onSubmit={(e) => {
        e.preventDefault();
        if (!busy) change.mutate({ values: { [what]: value }, away: false });
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
      <Button variant="outlined" disabled={busy} onClick={() => change.mutate({ values: {}, away: true })}>
        Put away
      </Button>
      <Box sx={{ flex: 1 }} />
      <Button variant="text" onClick={onDone}>
        Unmark
      </Button>
    </Box>
  );
}
