/** Where the edge of an opening lies between plastic and hole: moved by hand where the photograph is too dark or too bright. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";

const [LEAST, AS_FOUND, MOST, STEP] = [0.3, 0.5, 0.7, 0.05];

interface Props {
  level: number;
  busy: boolean;
  onLevel: (level: number) => void;
}

/** In words: how much wider or narrower than found. */
export function levelSaid(level: number): string {
  const steps = Math.round((AS_FOUND - level) / STEP);
  if (!steps) return "as found";
  const much = Math.abs(steps) > 2 ? "much" : Math.abs(steps) > 1 ? "rather" : "a little";
  return `${much} ${steps > 0 ? "wider" : "narrower"}`;
}

export function Level({ level, busy, onLevel }: Props) {
  const to = (by: number) => onLevel(Math.round((level + by) / STEP) * STEP);
  return (
    <Box
      role="group"
      aria-label="Edges of the openings"
      sx={{ display: "flex", gap: 1, mt: 1, alignItems: "center", flexWrap: "wrap" }}
    >
      <Typography variant="body2">
        Edges of the openings: <strong>{levelSaid(level)}</strong>
      </Typography>
      <Button variant="outlined" disabled={busy || level >= MOST - 1e-6} onClick={() => to(STEP)}>
        Narrower
      </Button>
      <Button variant="outlined" disabled={busy || level <= LEAST + 1e-6} onClick={() => to(-STEP)}>
        Wider
      </Button>
      {levelSaid(level) !== "as found" && (
        <Button variant="text" disabled={busy} onClick={() => onLevel(AS_FOUND)}>
          As found
        </Button>
      )}
    </Box>
  );
}
