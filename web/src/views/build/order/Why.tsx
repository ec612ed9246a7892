/** Why a step stands where it does, and what it would cost to do it earlier. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { api, data, type OrderOfWork } from "../../../api/client";
import { keys } from "../../../api/keys";
import { minutes } from "../../../parts/lengths";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";

interface Props {
  order: OrderOfWork;
  place: number;
  pass: string | null;
  /** What else is done while the sheet is seated. */
  others: string[];
}

export function Why({ order, place, pass, others }: Props) {
  const { id, change } = useShared();
  const { data: found, error } = useQuery({
    queryKey: keys.why(id, order.key, order.better?.taken ?? false, place),
    queryFn: () =>
      data(api.GET("/api/colourings/{id}/order/why/{place}", { params: { path: { id, place } } })),
    staleTime: Infinity,
  });
  if (error) return null;
  if (!found) {
    return (
      <Typography variant="caption" component="div" sx={{ pl: "166px", pb: 1.25 }}>
        Following it back…
      </Typography>
    );
  }
  const { earlier, earlier_key: other, cost, forbids } = found;
  const after = others.at(-1);
  return (
    <Box sx={{ px: 2, pb: 1.25, pl: "166px", display: "grid", gap: 0.5 }}>
      {found.because.map((sentence) => (
        <Typography key={sentence} variant="caption">
          {sentence}
        </Typography>
      ))}
      {earlier && forbids && (
        <Typography variant="caption" sx={{ color: greys.quiet }}>
          Not before {earlier}: {forbids}
        </Typography>
      )}
      {earlier && pass && other && cost !== null && (
        <Box>
          <Button
            variant="outlined"
            onClick={() => change("pin_order", { before: pass, after: other })}
            sx={{ minHeight: 30, fontSize: 13 }}
          >
            Do it before {earlier}
            {cost >= 0.05 ? ` (${minutes(cost)} more)` : " (takes no longer)"}
          </Button>
        </Box>
      )}
      {pass && after && (
        <Box>
          <Button
            variant="text"
            onClick={() => change("keep_apart", { passes: [pass], after })}
            sx={{ minHeight: 30, fontSize: 13 }}
          >
            Come back to this sheet for it later
          </Button>
        </Box>
      )}
    </Box>
  );
}
