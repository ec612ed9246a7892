/** From bare card to finished: drag it, or step with the comma and full-stop keys. */
import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { greys } from "../theme/theme";

interface Props {
  count: number;
  at: number;
  colours: string[];
  label: string;
  onMove: (at: number) => void;
}

export function Scrubber({ count, at, colours, label, onMove }: Props) {
  return (
    <Box sx={{ width: "100%" }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
        <IconButton aria-label="One pass back" disabled={at <= 0} onClick={() => onMove(at - 1)}>
          <Arrow d="M10 3 4 8l6 5z" />
        </IconButton>
        <Box sx={{ flex: 1, position: "relative" }}>
          <Box
            aria-hidden="true"
            sx={{
              position: "absolute",
              left: 0,
              right: 0,
              top: "50%",
              height: 12,
              mt: "-6px",
              display: "flex",
              border: `1px solid ${greys.quiet}`,
              borderRadius: 0.5,
              overflow: "hidden",
            }}
          >
            {colours.map((colour, i) => (
              <Box
                key={i}
                sx={{
                  flex: 1,
                  bgcolor: i < at ? colour : greys.bench,
                  borderRight: i + 1 < count ? `1px solid ${greys.ground}` : 0,
                }}
              />
            ))}
          </Box>
          <Slider
            aria-label="Build-up"
            min={0}
            max={Math.max(1, count)}
            value={at}
            disabled={count === 0}
            getAriaValueText={() => label}
            onChange={(_, value) => onMove(value as number)}
            sx={{
              color: greys.ink,
              py: 1.25,
              "& .MuiSlider-rail, & .MuiSlider-track": { opacity: 0 },
              "& .MuiSlider-thumb": {
                width: 10,
                height: 26,
                borderRadius: 0.75,
                border: "2px solid #fff",
                "&:hover, &.Mui-focusVisible": { boxShadow: "0 0 0 4px rgba(0,0,0,.2)" },
              },
            }}
          />
        </Box>
        <IconButton aria-label="One pass on" disabled={at >= count} onClick={() => onMove(at + 1)}>
          <Arrow d="M6 3l6 5-6 5z" />
        </IconButton>
      </Box>
      <Typography variant="caption" sx={{ display: "block", textAlign: "center", mt: -0.5, minHeight: 20 }}>
        {label}
      </Typography>
    </Box>
  );
}

function Arrow({ d }: { d: string }) {
  return (
    <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true">
      <path d={d} fill="currentColor" />
    </svg>
  );
}
