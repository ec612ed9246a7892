/** Sheets of which she has a second copy: while one carries its ink the other is laid on, and nothing need be washed. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { OrderOfWork } from "../../../api/client";
import { Chips } from "../../../parts/Chips";
import { useShared } from "../context";
import { titleOf } from "./Visits";

export function Twice({ order }: { order: OrderOfWork }) {
  const { set, change } = useShared();
  const sheets = set.sheets.filter((s) => s.kind === "stencil");
  if (!sheets.length) return null;
  const called = new Map(sheets.map((s) => [titleOf(set, s.number), s.number]));
  const there = [...called].filter(([, n]) => order.wishes.twice.includes(n)).map(([name]) => name);
  return (
    <Box>
      <Typography variant="h3" component="h3" sx={{ mb: 0.5 }}>
        Sheets you have twice
      </Typography>
      <Chips
        label="Sheets you have twice"
        names={[...called.keys()]}
        chosen={there}
        onChoose={(names) => change("wish_order", { twice: names.flatMap((n) => called.get(n) ?? []) })}
      />
      <Typography variant="caption" component="p" sx={{ mt: 0.5 }}>
        One copy for the inks that must not meet the others’: then it need not be washed in between.
      </Typography>
    </Box>
  );
}
