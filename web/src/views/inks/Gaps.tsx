/** What the drawer lacks and what it has twice, in sentences; each leads to what would fill it. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Gap } from "../../api/client";
import { greys } from "../../theme/theme";

interface Props {
  gaps: Gap[];
  stock: string;
  stockName: string;
  onPoint: (gap: Gap | null) => void;
}

/** The recipes for a colour on a card. */
export const recipesFor = (stock: string, lab: number[]) =>
  `/inks/recipes?card=${stock}&lab=${lab.map((v) => v.toFixed(1)).join(",")}`;

export function Gaps({ gaps, stock, stockName, onPoint }: Props) {
  return (
    <Paper variant="card" component="aside" aria-label="Worth knowing" sx={{ p: 2 }}>
      <Typography variant="h2">Worth knowing</Typography>
      <Typography variant="body2">
        By the pads at hand, on {stockName}. Choose a pad on the map to open it.
      </Typography>
      {gaps.length === 0 && (
        <Typography sx={{ mt: 2 }}>
          Nothing is missing: every hue has its light and its shadow, and no two pads are the same.
        </Typography>
      )}
      <Box component="ul" sx={{ mt: 1.5 }}>
        {gaps.map((gap) => (
          <Box
            component="li"
            key={gap.sentence}
            onMouseEnter={() => onPoint(gap)}
            onMouseLeave={() => onPoint(null)}
            onFocus={() => onPoint(gap)}
            onBlur={() => onPoint(null)}
            sx={{
              display: "grid",
              gridTemplateColumns: "28px 1fr",
              gap: 1,
              py: 1,
              borderTop: `1px solid ${greys.line}`,
              "&:hover": { bgcolor: greys.white },
            }}
          >
            <Mark gap={gap} />
            <Box>
              <Typography variant="body2">{gap.sentence}</Typography>
              {gap.wanted && (
                <Button variant="text" component={Link} to={recipesFor(stock, gap.wanted.lab)} sx={{ px: 0 }}>
                  What could fill it?
                </Button>
              )}
            </Box>
          </Box>
        ))}
      </Box>
    </Paper>
  );
}

/** Hatched in the colour that would fill it; two alike for twins. */
function Mark({ gap }: { gap: Gap }) {
  return (
    <svg width="28" height="28" viewBox="0 0 28 28" aria-hidden="true">
      {gap.wanted ? (
        <>
          <rect x="2" y="2" width="24" height="24" rx="3" fill={gap.wanted.hex} />
          <path d="M2 20 20 2M8 26 26 8" stroke={greys.white} strokeWidth="2" strokeOpacity="0.700" />
        </>
      ) : (
        <path
          d={
            gap.kind === "twins"
              ? "M3 9h13v13H3zM12 5h13v13H12z"
              : "M6 22V8m0 0 4 5M6 8l-4 5M20 6v14m0 0-4-5m4 5 4-5"
          }
          fill="none"
          stroke={greys.ink}
          strokeWidth="1.800"
        />
      )}
    </svg>
  );
}
