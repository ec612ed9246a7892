/** A length that is typed as people write it: 4 1/4 in, or 105 mm; kept when it is left, or with Enter. */
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { figure, parsed, type Units } from "./lengths";

interface Props {
  label: string;
  mm: number;
  units: Units;
  onSet: (mm: number) => void;
  low?: number;
  high?: number;
  width?: number;
  disabled?: boolean;
}

export function LengthField({
  label,
  mm,
  units,
  onSet,
  low = -1000,
  high = 1600,
  width = 116,
  disabled = false,
}: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const shown = typed ?? figure(mm, units);
  const value = parsed(shown, units);
  const wrong = value === null || value < low || value > high;
  const keep = () => {
    if (typed !== null && !wrong && Math.abs(value - mm) > 0.005) onSet(Math.round(value * 1000) / 1000);
    setTyped(null);
  };
  return (
    <TextField
      label={`${label}, ${units}`}
      value={shown}
      disabled={disabled}
      error={typed !== null && wrong}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        if (e.key === "Enter") keep();
        if (e.key === "Escape") setTyped(null);
      }}
      sx={{ width }}
      slotProps={{ htmlInput: { inputMode: units === "mm" ? "decimal" : "text" } }}
    />
  );
}
