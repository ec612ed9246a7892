/** Two colours side by side: as it was thought, as it is. What they are is said beside them. */
import Box from "@mui/material/Box";

export function ColourPair({ before, after }: { before: string; after: string }) {
  return (
    <Box aria-hidden="true" sx={{ display: "flex", height: 36, borderRadius: 1, overflow: "hidden" }}>
      <Box sx={{ flex: 1, bgcolor: before }} />
      <Box sx={{ flex: 1, bgcolor: after }} />
    </Box>
  );
}
