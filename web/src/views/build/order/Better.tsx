/** How long it takes, how sure that is, and a better order when one was found. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { OrderOfWork } from "../../../api/client";
import { minutes } from "../../../parts/lengths";
import { counted } from "../../../parts/words";
import { greys } from "../../../theme/theme";
import { underWay, type useOrder } from "./useOrder";

export function Totals({ order }: { order: OrderOfWork }) {
  const parts = [
    counted(order.placements, "placement"),
    counted(order.masks, "mask"),
    counted(order.cleanings, "cleaning"),
    `${minutes(order.waiting)} of waiting`,
  ];
  const saved = order.one_by_one - order.minutes;
  return (
    <Box sx={{ width: "100%" }}>
      <Typography variant="h2">
        {minutes(order.minutes)}
        {order.cards > 1 ? ` for ${order.cards} cards` : ""}
      </Typography>
      <Typography variant="body2">
        {parts.join(", ")}. {order.words}
      </Typography>
      {order.cards > 1 && saved > 1 && (
        <Typography variant="body2">
          One card after another would take {minutes(order.one_by_one)}, {minutes(saved)} more.
        </Typography>
      )}
    </Box>
  );
}

/** The search and what it found; nothing is changed until it is taken. */
export function Better({ order, work }: { order: OrderOfWork; work: ReturnType<typeof useOrder> }) {
  const { better, job } = order;
  if (underWay(order)) {
    return (
      <Paper variant="card" sx={{ p: 1.5, display: "flex", gap: 1.5, alignItems: "center" }}>
        <Box sx={{ flex: 1 }}>
          <Typography variant="body2" role="status">
            Looking for a shorter order. You can work with this one meanwhile.
          </Typography>
          <LinearProgress
            variant="determinate"
            value={100 * (job?.share ?? 0)}
            aria-label="How far the search is"
            sx={{ mt: 0.75, height: 4, bgcolor: greys.rule }}
          />
        </Box>
        <Button variant="outlined" onClick={() => work.stop.mutate()}>
          Stop
        </Button>
      </Paper>
    );
  }
  if (better && (better.taken || Math.abs(better.saves) >= 0.05 || order.words)) {
    return <Offer order={order} better={better} work={work} />;
  }
  return (
    <Paper variant="card" sx={{ p: 1.5, display: "flex", gap: 1.5, alignItems: "center" }}>
      <Typography variant="body2" sx={{ flex: 1 }}>
        {job?.state === "failed" || job?.state === "stopped"
          ? job.sentence || "The search was stopped."
          : "This is the order at once."}
      </Typography>
      <Button variant="outlined" disabled={work.look.isPending} onClick={() => work.look.mutate()}>
        Look for a shorter one
      </Button>
    </Paper>
  );
}

function Offer({
  order,
  better,
  work,
}: {
  order: OrderOfWork;
  better: NonNullable<OrderOfWork["better"]>;
  work: ReturnType<typeof useOrder>;
}) {
  const less = better.saves;
  // as far apart as the two times that are read on the screen
  const whole = Math.abs(Math.round(better.minutes + less) - Math.round(better.minutes));
  const apart = minutes(Math.abs(less) < 1 ? Math.abs(less) : whole);
  const said =
    less >= 0.05
      ? `An order that takes ${minutes(better.minutes)}, ${apart} less`
      : less <= -0.05
        ? `An order by your wishes takes ${minutes(better.minutes)}, ${apart} more`
        : `No shorter order was found; this one has as little to do as can be`;
  return (
    <Paper variant="card" sx={{ p: 1.5, display: "flex", gap: 1.5, alignItems: "center" }}>
      <Typography variant="body2" role="status" sx={{ flex: 1 }}>
        {better.taken ? "You work by the order that was found." : `${said}. The picture stays the same.`}{" "}
        {better.taken && order.words}
      </Typography>
      <Button
        variant={better.taken ? "outlined" : "contained"}
        disabled={work.take.isPending}
        onClick={() => work.take.mutate(!better.taken)}
      >
        {better.taken ? "Back to the first order" : "Take it"}
      </Button>
    </Paper>
  );
}
