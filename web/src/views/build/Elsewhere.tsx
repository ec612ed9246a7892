/** A change that could not be made: because the build moved on elsewhere, or because it was refused. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { greys } from "../../theme/theme";
import { useShared } from "./context";

export function Elsewhere() {
  const { conflict, settle, refusal, forget } = useShared();
  if (!conflict && !refusal) return null;
  return (
    <Box role="alert" sx={{ display: "flex", alignItems: "center", gap: 2, px: 2.5, py: 1, bgcolor: "#fff", borderBottom: `2px solid ${greys.ink}` }}>
      {conflict ? (
        <>
          <Typography sx={{ flex: 1 }}>{conflict.sentence} Your change was not made.</Typography>
          {conflict.edit.kind !== "undo" && conflict.edit.kind !== "redo" && (
            <Button variant="contained" onClick={() => settle(true)}>Make my change on top</Button>
          )}
          <Button variant="outlined" onClick={() => settle(false)}>Leave it as it is</Button>
        </>
      ) : (
        <>
          <Typography sx={{ flex: 1 }}>{refusal}</Typography>
          <Button variant="outlined" onClick={forget}>All right</Button>
        </>
      )}
    </Box>
  );
}
