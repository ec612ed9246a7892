/** How a build's screens are laid out: the picture large and always there, the work beside or below it. */
import Box from "@mui/material/Box";
import type { ReactNode } from "react";
import { PartByPart } from "../../parts/PartByPart";
import { greys } from "../../theme/theme";

interface Props {
  picture: ReactNode;
  /** Right under the picture: what it shows, how to move through it. */
  below?: ReactNode;
  /** Above the picture, small. */
  above?: ReactNode;
  children: ReactNode;
  /** Columns from the width on where both have room. */
  columns?: string;
}

/** What is left under the bars: these take two rows where there is no room for one. */
const TALL = { md: "calc(100dvh - 132px - 28px)", lg: "calc(100dvh - 92px - 28px)" };

export function Desk({ picture, below, above, children, columns }: Props) {
  return (
    <Box
      sx={{
        flex: 1,
        display: "grid",
        gridTemplateColumns: {
          xs: "minmax(0, 1fr)",
          md: columns ?? "minmax(380px, 1fr) minmax(480px, 616px)",
        },
        gap: { xs: 1, md: 2 },
        p: { xs: 1, sm: 1.5 },
        minHeight: 0,
      }}
    >
      <Box
        sx={{
          display: "flex",
          flexDirection: "column",
          alignItems: "center",
          gap: 0.5,
          // half the height at the least, and in sight while the rest is pulled past it
          height: { xs: "61dvh", ...TALL },
          position: { xs: "sticky", md: "static" },
          top: 0,
          zIndex: 2,
          bgcolor: greys.ground,
          pb: { xs: 0.5, md: 0 },
        }}
      >
        {above}
        <Box sx={{ flex: 1, minHeight: 0, width: "100%", display: "flex", justifyContent: "center" }}>
          {picture}
        </Box>
        {below && <Box sx={{ width: "100%", maxWidth: 620 }}>{below}</Box>}
      </Box>
      <Box
        sx={{
          overflowY: { md: "auto" },
          // what comes later must not make the rest narrower, which would be laid out anew
          scrollbarGutter: { md: "stable" },
          height: TALL,
          display: "grid",
          gridAutoRows: "max-content",
          gridTemplateColumns: "minmax(0, 1fr)",
          gap: 1.25,
          alignContent: "start",
        }}
      >
        <PartByPart>{children}</PartByPart>
      </Box>
    </Box>
  );
}
