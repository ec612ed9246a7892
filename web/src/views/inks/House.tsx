/** The cards and the brushes of the house. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { freshKey } from "../../api/acts";
import { api, type Ink, type Stock, type Tool } from "../../api/client";
import { useTools } from "../../api/hooks";
import { BRUSHES } from "../../parts/words";
import { greys } from "../../theme/theme";
import { useAhead } from "../../parts/useAhead";
import { useDrawerAct } from "./drawerAct";
import { EditStock } from "./EditStock";

export function House({ stocks, inks }: { stocks: Stock[]; inks: Ink[] }) {
  return (
    <Box
      sx={{
        display: "grid",
        gap: 2,
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1fr) minmax(0, 1fr)" },
        alignItems: "start",
      }}
    >
      <Cards stocks={stocks} />
      <Brushes inks={inks} />
    </Box>
  );
}

function Cards({ stocks }: { stocks: Stock[] }) {
  const [edited, setEdited] = useState<Stock | "new" | null>(null);
  return (
    <Paper variant="card" component="section" aria-label="The cards" sx={{ p: 2 }}>
      <Box sx={{ display: "flex", alignItems: "baseline" }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          Card stock
        </Typography>
        <Button variant="outlined" onClick={() => setEdited("new")}>
          Add a card
        </Button>
      </Box>
      <Typography variant="body2">
        The card under the ink decides half of its colour: measure it as you measure a pad.
      </Typography>
      <Box component="ul" sx={{ mt: 1 }}>
        {stocks.map((s) => (
          <Box
            component="li"
            key={s.key}
            sx={{
              display: "grid",
              gridTemplateColumns: "74px 1fr auto",
              gap: 1.5,
              alignItems: "center",
              py: 1,
              borderTop: `1px solid ${greys.line}`,
            }}
          >
            <svg width="74" height="44" viewBox="0 0 92 52" aria-hidden="true">
              <path d="M2 8 88 4l2 38-86 5z" fill={s.hex} />
              <path d="M4 47l86-5v2.400L4 49.500z" fill="#000" opacity="0.350" />
            </svg>
            <Box>
              <Typography sx={{ fontWeight: 620 }}>{s.name}</Typography>
              <Typography variant="caption" component="div">
                {s.weight_gsm} g/m², {s.thickness_mm} mm, {s.finish} · {s.state}
                {s.sheets == null ? "" : ` · ${s.sheets} ${s.sheets === 1 ? "sheet" : "sheets"}`}
                {s.place ? ` · ${s.place}` : ""}
              </Typography>
              <Typography variant="caption" sx={{ color: greys.quiet }}>
                L* a* b* {s.lab.map((v) => v.toFixed(1)).join("  ")}
              </Typography>
            </Box>
            <Button variant="text" aria-label={`Change ${s.name}`} onClick={() => setEdited(s)}>
              Change
            </Button>
          </Box>
        ))}
      </Box>
      {edited && <EditStock stock={edited === "new" ? null : edited} onClose={() => setEdited(null)} />}
    </Paper>
  );
}

function Brushes({ inks }: { inks: Ink[] }) {
  const tools = useTools();
  const [fresh, setFresh] = useState("");
  const families = [...new Set(inks.filter((i) => i.family).map((i) => `${i.line}|${i.family}`))].sort();
  const otherwise = "That could not be changed.";
  const remove = useDrawerAct((id: number) => api.DELETE("/api/tools/{id}", { params: { path: { id } } }), {
    otherwise,
  });
  const add = useDrawerAct(
    (brush: string) =>
      api.POST("/api/tools", { body: { brush: brush as "small", count: 1, edit_key: freshKey() } }),
    { then: () => setFresh(""), otherwise },
  );
  return (
    <Paper variant="card" component="section" aria-label="The brushes" sx={{ p: 2 }}>
      <Typography variant="h2">Brushes and daubers</Typography>
      <Typography variant="body2">
        Only these are proposed, and the order of work counts them: one kept for a family saves a cleaning.
        With none written down, three of each size are taken for granted.
      </Typography>
      <Box component="ul" sx={{ mt: 1 }}>
        {tools.data?.map((t) => (
          <Brush key={t.id} tool={t} families={families} onRemove={() => remove.mutate(t.id)} />
        ))}
      </Box>
      <Box sx={{ display: "flex", gap: 1, mt: 1.5 }}>
        <TextField
          select
          label="Add brushes of a size"
          value={fresh}
          onChange={(e) => setFresh(e.target.value)}
          sx={{ minWidth: 230 }}
        >
          {BRUSHES.map(([key, label]) => (
            <MenuItem key={key} value={key}>
              {label}
            </MenuItem>
          ))}
        </TextField>
        <Button variant="outlined" disabled={!fresh} onClick={() => add.mutate(fresh)}>
          Add
        </Button>
      </Box>
    </Paper>
  );
}

function Brush({ tool: t, families, onRemove }: { tool: Tool; families: string[]; onRemove: () => void }) {
  const [count, move] = useAhead(t.count);
  const change = useDrawerAct(
    (body: Partial<Tool>) =>
      api.PATCH("/api/tools/{id}", {
        params: { path: { id: t.id } },
        body: { ...body, edit_key: freshKey() } as never,
      }),
    { otherwise: "That could not be changed.", line: `tool-${t.id}` },
  );
  const setCount = (next: number) => {
    move(next);
    change.mutate({ count: next });
  };
  return (
    <Box
      component="li"
      sx={{
        display: "grid",
        gridTemplateColumns: "52px minmax(0, 1fr) auto",
        gap: 1.25,
        alignItems: "center",
        py: 1,
        borderTop: `1px solid ${greys.line}`,
      }}
    >
      <svg width="52" height="46" viewBox="0 0 52 46" aria-hidden="true">
        <path d="M23 24 21 3q5-3 10 0l-2 21z" fill="#8c8c8c" />
        <ellipse cx="26" cy="33" rx={3 + t.diameter * 0.52} ry={2.5 + t.diameter * 0.27} fill={greys.ink} />
        <path d="M20 24h12v4H20z" fill="#6a6a6a" />
      </svg>
      <Box sx={{ display: "flex", gap: 1.25, alignItems: "center", flexWrap: "wrap" }}>
        <Typography sx={{ fontWeight: 620, minWidth: 124 }}>{t.label}</Typography>
        <Box sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
          <Button
            variant="outlined"
            sx={{ minWidth: 32, px: 0 }}
            aria-label={`One ${t.label} fewer`}
            disabled={count < 1}
            onClick={() => setCount(count - 1)}
          >
            −
          </Button>
          <Typography sx={{ minWidth: 26, textAlign: "center" }}>{count}</Typography>
          <Button
            variant="outlined"
            sx={{ minWidth: 32, px: 0 }}
            aria-label={`One ${t.label} more`}
            onClick={() => setCount(count + 1)}
          >
            +
          </Button>
        </Box>
        <TextField
          select
          label="Kept for"
          value={t.family ? `${t.line}|${t.family}` : ""}
          onChange={(e) => {
            const [line = "", family = ""] = e.target.value.split("|");
            change.mutate({ line, family });
          }}
          sx={{ minWidth: 170 }}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">any ink</MenuItem>
          {[...new Set([...families, ...(t.family ? [`${t.line}|${t.family}`] : [])])].map((f) => (
            <MenuItem key={f} value={f}>
              {f.split("|").reverse().join(", ")}
            </MenuItem>
          ))}
        </TextField>
      </Box>
      <Button variant="text" aria-label={`Take ${t.label} off the list`} onClick={onRemove}>
        Off the list
      </Button>
    </Box>
  );
}
