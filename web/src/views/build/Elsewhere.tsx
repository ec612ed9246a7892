/** A change that could not be made: the build moved on elsewhere, it was refused, or it cannot be taken now. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { greys } from "../../theme/theme";
import { useShared } from "./context";
import { useProgress } from "./useBuild";

export function Elsewhere() {
  const { queue } = useShared();
  const { conflict, refusal, held, offline, signedOut } = useProgress(queue);
  const stuck = held !== null && !offline && !signedOut;
  if (!conflict && !refusal && !stuck) return null;
  return (
    <Box
      role="alert"
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 2,
        px: 2.5,
        py: 1,
        bgcolor: greys.white,
        borderBottom: `2px solid ${greys.ink}`,
      }}
    >
      {conflict ? (
        <>
          <Typography sx={{ flex: 1 }}>{conflict.sentence} Your change was not made.</Typography>
          {conflict.edit.kind !== "undo" && conflict.edit.kind !== "redo" && (
            <Button variant="contained" onClick={() => queue.settle(true)}>
              Make my change on top
            </Button>
          )}
          <Button variant="outlined" onClick={() => queue.settle(false)}>
            Leave it as it is
          </Button>
        </>
      ) : stuck ? (
        <>
          <Typography sx={{ flex: 1 }}>{held} Your change is kept here and tried again.</Typography>
          <Button variant="outlined" onClick={() => queue.letGo()}>
            Let this change go
          </Button>
        </>
      ) : (
        <>
          <Typography sx={{ flex: 1 }}>{refusal}</Typography>
          <Button variant="outlined" onClick={() => queue.forget()}>
            All right
          </Button>
        </>
      )}
    </Box>
  );
}
