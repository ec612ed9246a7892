/** The colourings of a build: which one is on the screen, another begun from it, named, let go. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useAct } from "../../api/acts";
import { api, data } from "../../api/client";
import { keys } from "../../api/keys";
import { say } from "../../parts/said";
import { useShared } from "./context";
import { PaletteItems } from "./Palette";
import { placeOf } from "./paths";

type Naming = { what: "copy" | "rename"; name: string } | null;

export function Colourings() {
  const { id, state } = useShared();
  const navigate = useNavigate();
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [naming, setNaming] = useState<Naming>(null);
  const build = state.build_id;
  const changes = [keys.colourings, keys.builds, keys.build(build)];
  const open = (colouring: number) => navigate(placeOf(build, colouring, "strata"));
  const copy = useAct(
    (name: string) =>
      data(
        api.POST("/api/builds/{id}/colourings", {
          params: { path: { id: build } },
          body: { copy: id, name },
        }),
      ),
    { changes, then: (made) => open(made.id) },
  );
  const rename = useAct(
    (name: string) => api.PATCH("/api/colourings/{id}", { params: { path: { id } }, body: { name } }),
    { changes },
  );
  const back = useAct(
    (gone: number) => api.POST("/api/colourings/{id}/back", { params: { path: { id: gone } } }),
    {
      changes,
    },
  );
  const letGo = useAct(() => api.DELETE("/api/colourings/{id}", { params: { path: { id } } }), {
    then: async () => {
      const next = state.colourings.find((c) => c.id !== id);
      if (next) await open(next.id);
      say({
        sentence: `“${state.colouring}” is let go.`,
        action: { label: "Bring it back", run: () => back.mutate(id) },
      });
    },
    changes: [keys.builds, keys.build(build)],
  });
  const chosen = (what: () => void) => () => {
    setAt(null);
    what();
  };
  return (
    <Box sx={{ flex: "0 1 auto", minWidth: 0 }}>
      <Button
        variant="text"
        aria-haspopup="menu"
        aria-expanded={at !== null}
        title="The colourings of this build"
        onClick={(e) => setAt(e.currentTarget)}
        sx={{ maxWidth: { xs: 150, md: 190 }, justifyContent: "start" }}
      >
        <Box component="span" sx={{ overflow: "hidden", textOverflow: "ellipsis" }}>
          {state.colouring}
        </Box>
      </Button>
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        {state.colourings.map((c) => (
          <MenuItem key={c.id} selected={c.id === id} onClick={chosen(() => void open(c.id))}>
            {c.name}
          </MenuItem>
        ))}
        <MenuItem
          divider
          onClick={chosen(() => setNaming({ what: "copy", name: `${state.colouring}, again` }))}
        >
          Another one, begun from this …
        </MenuItem>
        <MenuItem onClick={chosen(() => setNaming({ what: "rename", name: state.colouring }))}>
          Another name …
        </MenuItem>
        <MenuItem divider disabled={state.colourings.length < 2} onClick={chosen(() => letGo.mutate())}>
          Let this one go
        </MenuItem>
        <PaletteItems onDone={() => setAt(null)} />
      </Menu>
      {naming && (
        <NameIt
          naming={naming}
          onName={(name) => (naming.what === "copy" ? copy.mutate(name) : rename.mutate(name))}
          onClose={() => setNaming(null)}
        />
      )}
    </Box>
  );
}

function NameIt({
  naming,
  onName,
  onClose,
}: {
  naming: NonNullable<Naming>;
  onName: (name: string) => void;
  onClose: () => void;
}) {
  const [name, setName] = useState(naming.name);
  const keep = () => {
    if (!name.trim()) return;
    onName(name.trim());
    onClose();
  };
  const title = naming.what === "copy" ? "Another colouring" : "Name of this colouring";
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="colouring-title">
      <DialogTitle id="colouring-title">{title}</DialogTitle>
      <DialogContent>
        <TextField
          fullWidth
          autoFocus
          label="What it is called"
          value={name}
          onChange={(e) => setName(e.target.value)}
          onKeyDown={(e) => {
            if (e.key !== "Enter") return;
            // else the same press would go on to the button that gets the focus back, and open its menu again
            e.preventDefault();
            keep();
          }}
          sx={{ mt: 1 }}
          slotProps={{ htmlInput: { maxLength: 200 } }}
        />
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Not now
        </Button>
        <Button variant="contained" disabled={!name.trim()} onClick={keep}>
          {naming.what === "copy" ? "Begin it" : "Keep"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
