/** A figure that is typed: kept when it is left, or with Enter; what is none goes back to what it was, Escape as well. */
import TextField from "@mui/material/TextField";
import { useState } from "react";

interface Props {
  label: string;
  /** As it stands in the field while nobody types. */
  shown: string;
  /** The figure that somebody typed; null for what is none. */
  read: (text: string) => number | null;
  onKeep: (value: number) => void;
  decimal: boolean;
  width?: number | undefined;
  disabled?: boolean | undefined;
}

export function TypedField({ label, shown, read, onKeep, decimal, width, disabled = false }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const keep = () => {
    const value = typed === null ? null : read(typed);
    if (value !== null) onKeep(value);
    setTyped(null);
  };
  return (
    <TextField
      label={label}
      value={typed ?? shown}
      disabled={disabled}
      error={typed !== null && read(typed) === null}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        if (e.key === "Enter") keep();
        if (e.key === "Escape") setTyped(null);
      }}
      sx={width === undefined ? {} : { width }}
      slotProps={{ htmlInput: { inputMode: decimal ? "decimal" : "text" } }}
    />
  );
}
