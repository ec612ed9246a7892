/** A figure that is typed: kept when it is left, or with Enter; what is no such figure goes back to what it was. */
import TextField from "@mui/material/TextField";
import { useState } from "react";

interface Props {
  label: string;
  value: number;
  low: number;
  high: number;
  whole?: boolean;
  onSet: (value: number) => void;
}

export function FigureField({ label, value, low, high, whole, onSet }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const next = typed === null || !typed.trim() ? NaN : Number(typed.replace(",", "."));
  const good = next >= low && next <= high && (!whole || Number.isInteger(next));
  const keep = () => {
    if (good && next !== value) onSet(next);
    setTyped(null);
  };
  return (
    <TextField
      label={label}
      value={typed ?? String(Math.round(value * 100) / 100)}
      error={typed !== null && !good}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        if (e.key === "Enter") keep();
        if (e.key === "Escape") setTyped(null);
      }}
      slotProps={{ htmlInput: { inputMode: whole ? "numeric" : "decimal" } }}
    />
  );
}
