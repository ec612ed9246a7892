/** What comes of a list of inks: the sum, examples, what was taken back, and the rows that cannot be taken. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { InkImport } from "../../../api/client";
import { useStocks } from "../../../api/hooks";
import { Chip } from "../../../parts/Dab";
import { greys } from "../../../theme/theme";

export const many = (count: number, one: string, more: string) => `${count} ${count === 1 ? one : more}`;

export function Sum({ row }: { row: InkImport }) {
  const parts = [
    row.new && `${row.new} new`,
    row.changed && `${row.changed} brought up to date`,
    row.same && `${row.same} the same as here`,
    row.stocks && many(row.stocks, "card", "cards"),
    row.tools && `${many(row.tools, "size", "sizes")} of brushes`,
  ].filter(Boolean);
  return (
    <Typography role="status" sx={{ fontWeight: 600 }}>
      {parts.length ? parts.join(", ") : "No ink comes of it yet"}
      {row.problem_count ? `; ${many(row.problem_count, "row", "rows")} cannot be taken` : ""}.
    </Typography>
  );
}

export function Undone({ row, onUndone }: { row: InkImport; onUndone: () => void }) {
  return (
    <Box
      sx={{
        display: "flex",
        gap: 1.5,
        alignItems: "center",
        bgcolor: greys.sheet,
        border: `2px solid ${greys.ink}`,
        borderRadius: 1,
        p: 1.5,
      }}
    >
      <Typography sx={{ flex: 1 }}>{many(row.inks, "ink is", "inks are")} in the drawer.</Typography>
      <Button variant="outlined" onClick={onUndone}>
        Undo all of it
      </Button>
    </Box>
  );
}

const WHAT = { new: "new", changed: "brought up to date", same: "as it is here" };

export function Preview({ row }: { row: InkImport }) {
  const stocks = useStocks();
  const card = stocks.data?.find((s) => s.key === row.options.stock)?.hex ?? "#f4f4f4";
  if (!row.preview.length) return null;
  return (
    <Paper variant="card" component="section" aria-label="What comes of it" sx={{ p: 2 }}>
      <Typography variant="h2">What comes of it</Typography>
      <Box component="ul" sx={{ mt: 1, maxHeight: 420, overflow: "auto" }} tabIndex={0} aria-label="The inks">
        {row.preview.map((p) => (
          <Box
            component="li"
            key={`${p.line}|${p.name}|${p.rows[0]}`}
            sx={{
              display: "grid",
              gridTemplateColumns: "54px 1fr auto",
              gap: 1.25,
              alignItems: "center",
              py: 0.4,
              borderTop: `1px solid ${greys.line}`,
            }}
          >
            <Chip colour={p.colour.hex} card={card} width={50} />
            <Box>
              <Typography variant="body2" sx={{ fontWeight: 600 }}>
                {p.name}
              </Typography>
              <Typography variant="caption" sx={{ color: greys.quiet }}>
                {[p.line, p.family, p.chemistry, many(p.swatches, "swatch", "swatches")]
                  .filter(Boolean)
                  .join(" · ")}
              </Typography>
            </Box>
            <Typography variant="caption" sx={{ fontWeight: p.what === "same" ? 400 : 640 }}>
              {WHAT[p.what]}
            </Typography>
          </Box>
        ))}
      </Box>
      {row.inks > row.preview.length && (
        <Typography variant="caption">and {row.inks - row.preview.length} more</Typography>
      )}
    </Paper>
  );
}

export function Problems({ row }: { row: InkImport }) {
  return (
    <Box
      component="section"
      aria-label="Rows that cannot be taken"
      sx={{ bgcolor: greys.sheet, border: `2px solid ${greys.ink}`, borderRadius: 1, p: 2 }}
    >
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          Cannot be taken
        </Typography>
        <Button variant="text" component="a" href={`/api/ink-imports/${row.id}/problems`} download>
          These rows as a table
        </Button>
      </Box>
      <Typography variant="body2">
        The other rows are not held up by them. Mend them in the table and bring that in.
      </Typography>
      <Box component="ul" sx={{ mt: 1, maxHeight: 380, overflow: "auto" }} tabIndex={0} aria-label="The rows">
        {row.problems.map((p, i) => (
          <Box component="li" key={i} sx={{ py: 0.5, borderTop: `1px solid ${greys.line}` }}>
            <Typography variant="body2">
              <strong>
                {row.kind === "json" ? (p.column ?? `no. ${p.row}`) : `Row ${p.row}`}
                {row.kind !== "json" && p.column ? `, ${p.column}` : ""}:
              </strong>{" "}
              {p.sentence}
            </Typography>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
