/** Which pads are shown: by name, kind, line and state; and on which card. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { Ink, Stock } from "../../api/client";

export interface Filter {
  words: string;
  chemistry: string;
  line: string;
  state: string;
}

export const EMPTY_FILTER: Filter = { words: "", chemistry: "", line: "", state: "" };

export const passes = ({ words, chemistry, line, state }: Filter) => {
  const wanted = words.trim().toLowerCase();
  return (i: Ink) =>
    (!chemistry || i.chemistry === chemistry) &&
    (!line || i.line === line) &&
    (!state || (state === "at hand" ? i.state === "full" || i.state === "low" : i.state === state)) &&
    (!wanted || `${i.name} ${i.family} ${i.line} ${i.place} ${i.notes}`.toLowerCase().includes(wanted));
};

interface Props {
  inks: Ink[];
  stocks: Stock[];
  stock: string;
  filter: Filter;
  found: number;
  onFilter: (filter: Filter) => void;
  onStock: (key: string) => void;
}

export function Filters({ inks, stocks, stock, filter, found, onFilter, onStock }: Props) {
  const every = (name: "chemistry" | "line" | "state") =>
    [...new Set(inks.map((i) => i[name]))].filter(Boolean).sort();
  const choose = (label: string, name: keyof Filter, any: string, options: string[]) => (
    <TextField
      select
      label={label}
      value={filter[name]}
      onChange={(e) => onFilter({ ...filter, [name]: e.target.value })}
      sx={{ minWidth: 118 }}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      <MenuItem value="">{any}</MenuItem>
      {options.map((o) => (
        <MenuItem key={o} value={o}>
          {o}
        </MenuItem>
      ))}
    </TextField>
  );
  const filtered = Object.values(filter).some(Boolean);
  return (
    <Box
      role="search"
      aria-label="Which pads"
      sx={{ display: "flex", gap: 1.25, flexWrap: "wrap", alignItems: "center" }}
    >
      <TextField
        label="Find a pad"
        value={filter.words}
        onChange={(e) => onFilter({ ...filter, words: e.target.value })}
        sx={{ width: 190 }}
      />
      {choose("Kind of ink", "chemistry", "any kind", every("chemistry"))}
      {choose("Line", "line", "any line", every("line"))}
      {choose("State", "state", "any state", ["at hand", ...every("state")])}
      <TextField
        select
        label="Shown on"
        value={stock}
        onChange={(e) => onStock(e.target.value)}
        sx={{ minWidth: 150 }}
      >
        {stocks.map((s) => (
          <MenuItem key={s.key} value={s.key}>
            {s.name}
          </MenuItem>
        ))}
      </TextField>
      <Typography variant="body2" role="status">
        {filtered ? `${found} of ${inks.length}` : ""}
      </Typography>
      {filtered && (
        <Button variant="text" onClick={() => onFilter(EMPTY_FILTER)}>
          Show all
        </Button>
      )}
    </Box>
  );
}
