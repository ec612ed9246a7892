/** One of a list that opens: a label, what is chosen, what there is. */
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";

interface Props<T extends string | number> {
  label: string;
  value: T | "";
  options: readonly (readonly [T, string])[];
  onChoose: (value: T) => void;
  /** What it is called where nothing is chosen; it can then be chosen again. */
  none?: string;
  disabled?: boolean;
  minWidth?: number;
  width?: number;
}

export function Select<T extends string | number>({
  label,
  value,
  options,
  onChoose,
  none,
  disabled = false,
  minWidth = 120,
  width,
}: Props<T>) {
  return (
    <TextField
      select
      label={label}
      value={value}
      disabled={disabled}
      onChange={(e) =>
        onChoose((typeof options[0]?.[0] === "number" ? Number(e.target.value) : e.target.value) as T)
      }
      sx={width === undefined ? { minWidth } : { width }}
      {...(none === undefined
        ? {}
        : { slotProps: { select: { displayEmpty: true }, inputLabel: { shrink: true } } })}
    >
      {none !== undefined && <MenuItem value="">{none}</MenuItem>}
      {options.map(([key, text]) => (
        <MenuItem key={key} value={key}>
          {text}
        </MenuItem>
      ))}
    </TextField>
  );
}
