/** Everything that is cut for the cards: sizes to the last place, scores, which way up. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Finish } from "../../../api/client";
import type { Units } from "../../../parts/lengths";
import { greys } from "../../../theme/theme";
import { exact, exactSize } from "./words";

export function CutList({ found, units }: { found: Finish; units: Units }) {
  return (
    <Box component="table" aria-label="Cut list" sx={{ width: "100%", borderCollapse: "collapse" }}>
      <thead>
        <tr>
          {["Piece", "Size", "Card"].map((head) => (
            <Box component="th" key={head} sx={{ textAlign: "left", fontSize: 13, fontWeight: 600, pb: 0.5 }}>
              {head}
            </Box>
          ))}
        </tr>
      </thead>
      <tbody>
        {found.pieces.map((p) => (
          <Box
            component="tr"
            key={p.key}
            sx={{ borderTop: `1px solid ${greys.rule}`, verticalAlign: "baseline" }}
          >
            <Box component="td" sx={{ py: 0.5, pr: 1 }}>
              <Typography variant="body2">
                {p.count > 1 ? `${p.count} × ` : ""}
                {p.name}
              </Typography>
              {[
                ...p.scores.map(
                  (s) => `Score ${s.down ? "down" : "across"} at ${exact(s.at, units)} ${units}`,
                ),
                ...(p.window
                  ? [`Its middle, ${exactSize(p.window.width, p.window.height, units)}, is cut out and kept`]
                  : []),
                p.up,
              ]
                .filter(Boolean)
                .map((line) => (
                  <Typography key={line} variant="caption" component="div" sx={{ color: greys.quiet }}>
                    {line}
                  </Typography>
                ))}
            </Box>
            <Box component="td" sx={{ pr: 1, whiteSpace: "nowrap" }}>
              <Typography variant="body2" sx={{ fontWeight: 600 }}>
                {exactSize(p.width, p.height, units)}
              </Typography>
            </Box>
            <Box component="td">
              <Typography variant="body2">{p.stock_name}</Typography>
            </Box>
          </Box>
        ))}
      </tbody>
    </Box>
  );
}
