/** A recipe laid in a build: which build, which element, on which sheet, in the place of which pass. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { freshKey, useAct } from "../../../api/acts";
import { api, type Recipe } from "../../../api/client";
import { useBuilds } from "../../../api/hooks";
import { keys } from "../../../api/keys";
import { colouringQuery } from "../../../api/queries";
import { sentenceOf } from "../../../parts/words";
import { placeOf } from "../../build/paths";

export interface Place {
  /** Number of the colouring. */
  build: number | null;
  element: string | null;
  sheet: number | null;
  pass: string | null;
}

interface Props {
  recipe: Recipe;
  stock: string;
  place: Place;
  onClose: () => void;
}

export function UseInBuild({ recipe, stock, place, onClose }: Props) {
  const builds = useBuilds();
  const navigate = useNavigate();
  const [chosen, setChosen] = useState(place.build);
  const id = chosen ?? builds.data?.[0]?.colouring_id ?? 0;
  const build = useQuery({
    ...colouringQuery(id),
    enabled: id > 0,
  });
  const [element, setElement] = useState(place.element);
  const [sheet, setSheet] = useState(place.sheet);
  const [instead, setInstead] = useState(place.pass ?? "");
  const state = build.data;
  const own = state?.elements.find((e) => e.name === element) ?? state?.elements[0];
  const onSheet = sheet !== null && own?.sheets.includes(sheet) ? sheet : own?.sheets[0];
  const rungs = own?.rungs.filter((r) => r.sheet === onSheet) ?? [];
  const lay = useAct(
    (at: { revision: number; element: string; sheet: number }) => {
      const values = {
        element: at.element,
        sheet: at.sheet,
        passes: recipe.passes.map((p) => ({ ink: p.ink, coats: p.coats })),
        ...(rungs.some((r) => r.key === instead) ? { instead } : {}),
      };
      const body = { revision: at.revision, kind: "lay_recipe" as const, values, edit_key: freshKey() };
      return api.POST("/api/colourings/{id}/edits", { params: { path: { id } }, body });
    },
    {
      changes: [keys.colouring(id), keys.builds],
      then: (_, at) =>
        navigate(`${placeOf(state?.build_id ?? 0, id, "strata")}?element=${encodeURIComponent(at.element)}`),
      ownTrouble: true,
    },
  );
  const press = () => {
    if (state && own && onSheet !== undefined && !lay.isPending)
      lay.mutate(
        { revision: state.revision, element: own.name, sheet: onSheet },
        { onError: () => void build.refetch() },
      );
  };
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="use-title">
      <DialogTitle id="use-title">Use in a build</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 1.75 }}>
        <Typography variant="body2">
          {recipe.passes
            .map((p) => `${p.name}, ${p.coats} ${p.coats === 1 ? "coat" : "coats"}`)
            .join(", then ")}
        </Typography>
        {builds.data?.length === 0 && <Typography>There is no build yet: start one from Home.</Typography>}
        {!!builds.data?.length && (
          <TextField
            select
            label="Build"
            value={id}
            onChange={(e) => {
              setChosen(Number(e.target.value));
              setElement(null);
              setSheet(null);
              setInstead("");
            }}
          >
            {builds.data.map((b) => (
              <MenuItem key={b.id} value={b.colouring_id}>
                {b.name}
              </MenuItem>
            ))}
          </TextField>
        )}
        {state && own && (
          <Box sx={{ display: "grid", gap: 1.75 }}>
            <TextField
              select
              label="Element"
              value={own.name}
              onChange={(e) => {
                setElement(e.target.value);
                setSheet(null);
                setInstead("");
              }}
            >
              {state.elements.map((e) => (
                <MenuItem key={e.name} value={e.name}>
                  {e.name}
                </MenuItem>
              ))}
            </TextField>
            <TextField
              select
              label="Sheet"
              value={onSheet ?? ""}
              onChange={(e) => {
                setSheet(Number(e.target.value));
                setInstead("");
              }}
            >
              {own.sheets.map((n) => (
                <MenuItem key={n} value={n}>
                  {n}
                </MenuItem>
              ))}
            </TextField>
            <TextField
              select
              label="In the place of"
              value={rungs.some((r) => r.key === instead) ? instead : ""}
              onChange={(e) => setInstead(e.target.value)}
              slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            >
              <MenuItem value="">nothing: after what is there</MenuItem>
              {rungs.map((r) => (
                <MenuItem key={r.key} value={r.key}>
                  {r.ink_name}, {r.role}
                </MenuItem>
              ))}
            </TextField>
            {state.stock !== stock && (
              <Typography variant="body2" sx={{ fontWeight: 600 }}>
                This build is on {state.stock_name}: the recipe was found for another card, and will look
                different there.
              </Typography>
            )}
          </Box>
        )}
        {lay.error && (
          <Typography role="alert" sx={{ fontWeight: 600 }}>
            {sentenceOf(lay.error, "That recipe could not be laid.")}
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Not now
        </Button>
        <Button variant="contained" disabled={!own || lay.isPending} onClick={press}>
          Lay it there
        </Button>
      </DialogActions>
    </Dialog>
  );
}
