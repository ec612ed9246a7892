/** Something is on its way: said in words, for eyes and for screen readers. */
import Box from "@mui/material/Box";
import { keyframes } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import { greys } from "../theme/theme";

// moved, not laid out anew in every frame: while a page comes there is other work to do
const across = keyframes`
  from { transform: translateX(-100%); }
  to { transform: translateX(340%); }
`;

export function Busy({ what }: { what: string }) {
  return (
    <Box role="status" sx={{ p: 4, maxWidth: 360 }}>
      <Typography sx={{ mb: 1 }}>{what} …</Typography>
      <Box
        role="progressbar"
        aria-label={what}
        sx={{ height: 4, overflow: "hidden", background: greys.line }}
      >
        <Box
          sx={{
            width: "30%",
            height: 1,
            background: greys.ink,
            animation: `${across} 1.6s ease-in-out infinite`,
            "@media (prefers-reduced-motion: reduce)": { animation: "none" },
          }}
        />
      </Box>
    </Box>
  );
}
