/** Something is on its way: said in words, for eyes and for screen readers. */
import Box from "@mui/material/Box";
import LinearProgress from "@mui/material/LinearProgress";
import { keyframes } from "@mui/material/styles";
import Typography from "@mui/material/Typography";

const across = keyframes`
  from { transform: translateX(-100%); }
  to { transform: translateX(340%); }
`;
// moved, where the widget's own bars are laid out anew in every frame: while a page comes there is other work to do
const MOVED = {
  "& .MuiLinearProgress-bar1": { width: "30%", animation: `${across} 1.6s ease-in-out infinite` },
  "& .MuiLinearProgress-bar2": { display: "none" },
};

export function Busy({ what }: { what: string }) {
  return (
    <Box role="status" sx={{ p: 4, maxWidth: 360 }}>
      <Typography sx={{ mb: 1 }}>{what} …</Typography>
      <LinearProgress color="primary" aria-label={what} sx={MOVED} />
    </Box>
  );
}
