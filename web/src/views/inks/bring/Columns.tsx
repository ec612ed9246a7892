/** What each column of the file is, and what holds where the file says nothing. */
import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { InkImport } from "../../../api/client";
import { useStocks } from "../../../api/hooks";
import { CHEMISTRIES } from "../../../parts/words";
import { greys } from "../../../theme/theme";

const ENCODINGS: [string, string][] = [
  ["", "as it seems"],
  ["utf-8", "UTF-8"],
  ["cp1252", "Western European"],
  ["cp1250", "Central European"],
  ["cp1251", "Cyrillic"],
  ["cp1253", "Greek"],
  ["mac_roman", "old Macintosh"],
  ["shift_jis", "Japanese"],
];

export function Columns({
  row,
  onChange,
}: {
  row: InkImport;
  onChange: (body: Record<string, unknown>) => Promise<void>;
}) {
  const stocks = useStocks();
  const [line, setLine] = useState(row.options.line ?? "");
  const mapping = row.columns.map((c) => c.meaning);
  const mean = (index: number, meaning: string) => {
    // one meaning, one column: the other gives it up
    const once = meaning !== "" && meaning !== "note" && meaning !== "nm";
    void onChange({
      mapping: mapping.map((m, i) => (i === index ? meaning : once && m === meaning ? "" : m)),
    });
  };
  const left = row.columns.filter((c) => !c.meaning).map((c) => c.name);
  return (
    <Paper variant="card" component="section" aria-label="What the columns are" sx={{ p: 2 }}>
      <Typography variant="h2">What the columns are</Typography>
      <Box
        sx={{ display: "flex", gap: 1.25, overflowX: "auto", py: 1.5 }}
        tabIndex={0}
        role="group"
        aria-label="Columns"
      >
        {row.columns.map((c, i) => (
          <Box
            key={i}
            sx={{
              flex: "none",
              width: 168,
              border: `1px solid ${c.meaning ? greys.ink : greys.line}`,
              borderRadius: 1,
              p: 1,
              bgcolor: c.meaning ? greys.white : "transparent",
            }}
          >
            <Typography
              variant="caption"
              component="div"
              sx={{ fontWeight: 640, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}
            >
              {c.name}
            </Typography>
            {[0, 1, 2].map((n) => (
              <Typography
                key={n}
                variant="caption"
                component="div"
                sx={{
                  color: greys.quiet,
                  overflow: "hidden",
                  textOverflow: "ellipsis",
                  whiteSpace: "nowrap",
                  minHeight: 16,
                }}
              >
                {c.samples[n]}
              </Typography>
            ))}
            <TextField
              select
              fullWidth
              label={`${c.name} is`}
              value={c.meaning}
              onChange={(e) => mean(i, e.target.value)}
              sx={{ mt: 1 }}
              slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            >
              <MenuItem value="">left out</MenuItem>
              {row.meanings.map((m) => (
                <MenuItem key={m.key} value={m.key}>
                  {m.label}
                </MenuItem>
              ))}
            </TextField>
          </Box>
        ))}
      </Box>
      {left.length > 0 && (
        <Typography variant="caption" component="div">
          Left out: {left.join(", ")}. “Goes to the notes” keeps a column without a meaning.
        </Typography>
      )}
      <Typography variant="h3" sx={{ mt: 1.5 }}>
        Where the file says nothing
      </Typography>
      <Box sx={{ display: "flex", gap: 1.25, flexWrap: "wrap", mt: 1 }}>
        <TextField
          select
          label="Kind of ink"
          value={row.options.chemistry ?? "dye"}
          onChange={(e) => void onChange({ chemistry: e.target.value })}
          sx={{ minWidth: 130 }}
        >
          {CHEMISTRIES.map((c) => (
            <MenuItem key={c} value={c}>
              {c}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          label="Line"
          value={line}
          onChange={(e) => setLine(e.target.value)}
          onBlur={() => line !== row.options.line && void onChange({ line: line.trim() })}
          onKeyDown={(e) => e.key === "Enter" && void onChange({ line: line.trim() })}
          sx={{ width: 160 }}
        />
        <TextField
          select
          label="Swatches are on"
          value={row.options.stock ?? ""}
          onChange={(e) => void onChange({ stock: e.target.value || null })}
          sx={{ minWidth: 170 }}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">the whitest card</MenuItem>
          {stocks.data?.map((s) => (
            <MenuItem key={s.key} value={s.key}>
              {s.name}
            </MenuItem>
          ))}
        </TextField>
        {row.kind === "csv" && (
          <>
            <TextField
              select
              label="First row"
              value={
                row.options.head === null || row.options.head === undefined ? "" : String(row.options.head)
              }
              onChange={(e) =>
                void onChange({ head: e.target.value === "" ? null : e.target.value === "true" })
              }
              sx={{ minWidth: 170 }}
              slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            >
              <MenuItem value="">as it seems</MenuItem>
              <MenuItem value="true">names the columns</MenuItem>
              <MenuItem value="false">is an ink already</MenuItem>
            </TextField>
            <TextField
              select
              label="Letters"
              value={row.options.encoding ?? ""}
              onChange={(e) => void onChange({ encoding: e.target.value || null })}
              sx={{ minWidth: 160 }}
              slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            >
              {ENCODINGS.map(([key, label]) => (
                <MenuItem key={key} value={key}>
                  {label}
                </MenuItem>
              ))}
            </TextField>
          </>
        )}
      </Box>
    </Paper>
  );
}
