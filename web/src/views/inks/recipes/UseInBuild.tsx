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
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, data, type Recipe } from "../../../api/client";
import { useBuilds } from "../../../api/hooks";
import { sentenceOf } from "../../../parts/words";

export interface Place {
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
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [chosen, setChosen] = useState(place.build);
  const id = chosen ?? builds.data?.[0]?.id ?? 0;
  const build = useQuery({
    queryKey: ["build", id],
    queryFn: () => data(api.GET("/api/builds/{id}", { params: { path: { id } } })),
    enabled: id > 0,
  });
  const [element, setElement] = useState(place.element);
  const [sheet, setSheet] = useState(place.sheet);
  const [instead, setInstead] = useState(place.pass ?? "");
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const state = build.data;
  const own = state?.elements.find((e) => e.name === element) ?? state?.elements[0];
  const onSheet = sheet !== null && own?.sheets.includes(sheet) ? sheet : own?.sheets[0];
  const rungs = own?.rungs.filter((r) => r.sheet === onSheet) ?? [];
  const lay = async () => {
    if (!state || !own || onSheet === undefined || busy) return;
    setBusy(true);
    setTrouble(null);
    const values = {
      element: own.name,
      sheet: onSheet,
      passes: recipe.passes.map((p) => ({ ink: p.ink, coats: p.coats })),
      ...(rungs.some((r) => r.key === instead) ? { instead } : {}),
    };
    try {
      await api.POST("/api/builds/{id}/edits", {
        params: { path: { id } },
        body: { revision: state.revision, kind: "lay_recipe", values },
      });
      await queries.invalidateQueries({ queryKey: ["build", id] });
      await navigate(`/builds/${id}/strata?element=${encodeURIComponent(own.name)}`);
    } catch (error) {
      setTrouble(sentenceOf(error, "That recipe could not be laid."));
      void build.refetch();
      setBusy(false);
    }
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
              <MenuItem key={b.id} value={b.id}>
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
                  sheet {n}
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
        <Button variant="contained" disabled={!own || busy} onClick={() => void lay()}>
          Lay it there
        </Button>
      </DialogActions>
    </Dialog>
  );
}
