/** What can be done with the drawer as a whole: recipes, swatch cards, files in and out, the way back. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Tooltip from "@mui/material/Tooltip";
import { useCallback, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { useDrawerHistory } from "../../api/hooks";
import { useUndoKeys } from "../../parts/undoKeys";
import { useWayBack } from "./drawerAct";

const FILES: [string, string][] = [
  ["drawer.csv", "Table for a spreadsheet (CSV)"],
  ["drawer.csv?decimal=comma", "Table with decimal commas (CSV)"],
  ["drawer.txt", "Colour reader's text (CGATS.17)"],
  ["drawer.gpl", "Palette (GPL), on this card"],
  ["drawer.json", "Everything (JSON)"],
];

export function DrawerTools({ stock, onAdd }: { stock: string | undefined; onAdd: () => void }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const on = (file: string) =>
    stock
      ? `/api/drawer/out/${file}${file.includes("?") ? "&" : "?"}stock=${stock}`
      : `/api/drawer/out/${file}`;
  return (
    <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
      <WayBack />
      <Button variant="outlined" component={Link} to={`/inks/recipes${stock ? `?card=${stock}` : ""}`}>
        What makes a colour?
      </Button>
      <Button variant="outlined" component={Link} to="/inks/swatch-cards">
        Swatch cards
      </Button>
      <Button
        variant="outlined"
        aria-haspopup="menu"
        aria-expanded={at !== null}
        onClick={(e) => setAt(e.currentTarget)}
      >
        Files
      </Button>
      <Menu
        disablePortal
        anchorEl={at}
        open={at !== null}
        onClose={() => setAt(null)}
        onClick={() => setAt(null)}
      >
        <MenuItem component={Link} to="/inks/bring-in">
          Bring in a list of inks …
        </MenuItem>
        {FILES.map(([file, label]) => (
          <MenuItem key={file} component="a" href={on(file)} download>
            {label}
          </MenuItem>
        ))}
        <MenuItem component="a" href={on("chart.pdf?paper=A4")} target="_blank" rel="noreferrer">
          Chart to print, A4 (PDF)
        </MenuItem>
        <MenuItem component="a" href={on("chart.pdf?paper=letter")} target="_blank" rel="noreferrer">
          Chart to print, letter (PDF)
        </MenuItem>
        <MenuItem component="a" href={on("labels.pdf?paper=A4")} target="_blank" rel="noreferrer">
          Labels for the pads, A4 (PDF)
        </MenuItem>
        <MenuItem component="a" href={on("labels.pdf?paper=letter")} target="_blank" rel="noreferrer">
          Labels for the pads, letter (PDF)
        </MenuItem>
      </Menu>
      <Button variant="contained" onClick={onAdd}>
        Add an ink
      </Button>
    </Box>
  );
}

/** Undo and redo of the drawer, by button and by key. */
export function WayBack() {
  const history = useDrawerHistory();
  const { mutate, isPending } = useWayBack();
  const revision = history.data?.revision;
  // pressed while the last step is still on its way: done when that is
  const wanted = useRef<"undo" | "redo" | null>(null);
  const step = useCallback(
    (to: "undo" | "redo") => {
      if (isPending) wanted.current = to;
      else mutate({ to, revision });
    },
    [mutate, isPending, revision],
  );
  useEffect(() => {
    if (isPending || !wanted.current) return;
    step(wanted.current);
    wanted.current = null;
  }, [isPending, step]);
  useUndoKeys(
    useCallback(() => step("undo"), [step]),
    useCallback(() => step("redo"), [step]),
  );
  const { undo, redo } = history.data ?? {};
  return (
    <>
      <Tooltip title={undo ? `Undo: ${undo} (Ctrl Z)` : "Nothing to undo"}>
        <span>
          <Button variant="outlined" disabled={!undo} onClick={() => step("undo")}>
            Undo
          </Button>
        </span>
      </Tooltip>
      <Tooltip title={redo ? `Redo: ${redo} (Ctrl Shift Z)` : "Nothing to redo"}>
        <span>
          <Button variant="outlined" disabled={!redo} onClick={() => step("redo")}>
            Redo
          </Button>
        </span>
      </Tooltip>
    </>
  );
}
