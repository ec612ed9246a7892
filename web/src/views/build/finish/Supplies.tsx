/** What the cards take in all, what is not in the house first; as a list to carry along. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Finish } from "../../../api/client";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";

export function Supplies({ found }: { found: Finish }) {
  const { id } = useShared();
  const wanting = found.supplies.filter((s) => s.wanting);
  const pads = found.supplies.filter((s) => s.kind === "pad" && !s.wanting).length;
  const rest = found.supplies.filter((s) => s.kind !== "pad" && !s.wanting);
  return (
    <Box sx={{ display: "grid", gap: 0.5, justifyItems: "start" }}>
      {wanting.length > 0 && (
        <Box component="ul" aria-label="To be got first" sx={{ width: "100%" }}>
          {wanting.map((s) => (
            <Typography component="li" variant="body2" key={`${s.kind} ${s.name}`} sx={{ fontWeight: 600 }}>
              {s.name} {s.wanting}
              {s.kind === "stock" && `: ${s.amount}`}
            </Typography>
          ))}
        </Box>
      )}
      <Box component="ul" aria-label="Supplies" sx={{ width: "100%" }}>
        <Typography component="li" variant="body2">
          {pads} {pads === 1 ? "pad is" : "pads are"} there
        </Typography>
        {rest.map((s) => (
          <Typography component="li" variant="body2" key={`${s.kind} ${s.name}`}>
            {s.name}: {s.amount}
            <Typography variant="caption" component="span" sx={{ color: greys.quiet }}>
              {s.place && `, ${s.place}`}
            </Typography>
          </Typography>
        ))}
      </Box>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <Button
          component="a"
          href={`/api/colourings/${id}/supplies.pdf`}
          target="_blank"
          rel="noopener"
          variant="outlined"
        >
          Print the list
        </Button>
        <Button component="a" href={`/api/colourings/${id}/supplies.csv`} variant="text">
          As a file (CSV)
        </Button>
      </Box>
    </Box>
  );
}
