/** Something is on its way: said in words, for eyes and for screen readers. */
import Box from "@mui/material/Box";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";

export function Busy({ what }: { what: string }) {
  return (
    <Box role="status" sx={{ p: 4, maxWidth: 360 }}>
      <Typography sx={{ mb: 1 }}>{what} …</Typography>
      <LinearProgress color="primary" aria-label={what} />
    </Box>
  );
}
