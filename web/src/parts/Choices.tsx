/** One of a few, side by side: the toolkit's toggle group in our own ink. */
import type { SxProps, Theme } from "@mui/material/styles";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { greys } from "../theme/theme";

interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChoose: (value: T) => void;
  /** Each by itself, in rows where there is not room for all; else one bar. */
  apart?: boolean;
  /** Of each button: larger at the table. */
  button?: SxProps<Theme>;
  sx?: SxProps<Theme>;
}

const BY_ITSELF = { m: 0, border: `1px solid ${greys.ink}`, borderRadius: 1 };

export function Choices<T extends string>({ label, value, options, onChoose, apart, button, sx }: Props<T>) {
  return (
    <ToggleButtonGroup
      exclusive
      value={value}
      aria-label={label}
      onChange={(_, next: T | null) => next !== null && onChoose(next)}
      sx={[
        apart ? { display: "flex", flexWrap: "wrap", gap: 0.75 } : {},
        ...(Array.isArray(sx) ? (sx as SxProps<Theme>[]) : [sx ?? {}]),
      ] as SxProps<Theme>} // prettier-ignore
    >
      {options.map(([key, text]) => (
        <ToggleButton
          key={key}
          value={key}
          sx={[
            {
              px: 1.5,
              py: 0,
              minHeight: 32,
              font: "inherit",
              fontSize: 14,
              fontWeight: 640,
              textTransform: "none",
              color: greys.ink,
              borderColor: greys.ink,
              "&.Mui-selected, &.Mui-selected:hover": { bgcolor: greys.ink, color: greys.white },
              ...(apart ? { "&.MuiToggleButton-root.MuiToggleButtonGroup-grouped": BY_ITSELF } : {}),
            },
            ...(Array.isArray(button) ? (button as SxProps<Theme>[]) : [button ?? {}]),
          ] as SxProps<Theme>} // prettier-ignore
        >
          {text}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
