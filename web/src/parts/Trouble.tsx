/** What happened, what was kept, and what to do. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Refusal } from "../api/client";
import { greys } from "../theme/theme";

/** ``alone``: in place of a whole view, whose heading it is then. */
export function Trouble({
  error,
  again,
  alone = false,
}: {
  error: unknown;
  again?: () => void;
  alone?: boolean;
}) {
  const offline = error instanceof Refusal && error.status === 0;
  const sentence = error instanceof Error ? error.message : "Something went wrong.";
  return (
    <Box
      role="alert"
      sx={{
        m: 3,
        p: 2,
        maxWidth: 560,
        bgcolor: greys.sheet,
        border: `2px solid ${greys.ink}`,
        borderRadius: 1,
      }}
    >
      <Typography component={alone ? "h1" : "p"} sx={{ fontWeight: 600 }}>
        {sentence}
      </Typography>
      <Typography sx={{ mt: 0.5 }}>
        {offline
          ? "Everything up to now is kept. This page tries again by itself."
          : "Nothing you made was lost."}
      </Typography>
      {again && (
        <Button variant="outlined" sx={{ mt: 1.5 }} onClick={again}>
          Try again
        </Button>
      )}
    </Box>
  );
}
