/** One field of a swatch card: what it should look like, what it read, and what to mind. */
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import Typography from "@mui/material/Typography";
import type { CardField } from "../../../api/client";
import { coatsSaid } from "../../../parts/words";
import { greys } from "../../../theme/theme";

interface Props {
  number: number;
  field: CardField;
  card: string;
  trusted: boolean;
  marked: boolean;
  onMark: (on: boolean) => void;
}

export function FieldRow({ number, field, card, trusted, marked, onMark }: Props) {
  const { read } = field;
  const single = field.passes.length === 1;
  const can = read !== null && single && read.state !== "bare";
  const coats = field.passes.map((p) => coatsSaid(p.coats)).join(" + ");
  return (
    <Box
      component="li"
      sx={{
        display: "grid",
        gridTemplateColumns: "auto 78px 1fr",
        gap: 1,
        alignItems: "start",
        bgcolor: greys.sheet,
        border: `1px solid ${read && read.state !== "good" ? greys.ink : greys.line}`,
        borderRadius: 1,
        p: 1,
      }}
    >
      <Checkbox
        size="small"
        checked={marked}
        disabled={!can}
        onChange={(_, on) => onMark(on)}
        slotProps={{ input: { "aria-label": `Keep field ${number}, ${field.label}` } }}
        sx={{ p: 0.25 }}
      />
      <svg
        width="78"
        height="52"
        viewBox="0 0 78 52"
        role="img"
        aria-label={read ? "Expected on the left, read on the right" : "As the drawer expects it"}
      >
        <rect width="78" height="52" rx="3" fill={card} />
        <rect x="7" y="7" width={read ? 32 : 64} height="38" fill={field.expected.hex} />
        {read && <rect x="39" y="7" width="32" height="38" fill={read.colour.hex} />}
      </svg>
      <Box sx={{ minWidth: 0 }}>
        <Typography variant="body2" sx={{ fontWeight: 620 }}>
          {number}. {field.label}
        </Typography>
        <Typography variant="caption" component="div" sx={{ color: greys.quiet }}>
          {coats}
          {read
            ? ""
            : field.known
              ? " · known here: will correct the light"
              : " · not known on this card yet"}
        </Typography>
        {read && read.state !== "bare" && (
          <Typography variant="caption" component="div">
            L* a* b* {read.colour.lab.map((v) => v.toFixed(1)).join("  ")}
            <br />
            {single
              ? trusted
                ? `known, met to ${read.de00.toFixed(1)}`
                : `${read.de00.toFixed(1)} from the drawer’s`
              : `${read.de00.toFixed(1)} from the prediction`}
            , spread {read.spread.toFixed(1)}
          </Typography>
        )}
        {read?.sentence && (
          <Typography variant="caption" component="div" sx={{ fontWeight: 640 }}>
            {read.sentence}
          </Typography>
        )}
        {field.kept && (
          <Typography variant="caption" component="div" sx={{ fontWeight: 640 }}>
            Kept.
          </Typography>
        )}
      </Box>
    </Box>
  );
}
