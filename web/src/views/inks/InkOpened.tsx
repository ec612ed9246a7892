/** An ink opened: its dabs on every card in the house, and what was measured. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQueries, useQueryClient } from "@tanstack/react-query";
import { api, data, type Ink, type Stock } from "../../api/client";
import { Dab } from "../../parts/Dab";
import { useNotice } from "../../parts/Notices";
import { greys } from "../../theme/theme";

const nearWhite = (lab: number[]) => (lab[0] ?? 0) > 60;

export function InkOpened({ ink, stocks }: { ink: Ink; stocks: Stock[] }) {
  const queries = useQueryClient();
  const say = useNotice();
  const params = { params: { path: { id: ink.id } } };
  const shown = useQueries({
    queries: stocks.map((s) => ({
      queryKey: ["ink", ink.id, s.key],
      queryFn: () => data(api.GET("/api/inks/{id}", { params: { path: { id: ink.id }, query: { stock: s.key } } })),
    })),
  });
  const refresh = () => queries.invalidateQueries({ queryKey: ["inks"] });
  const putAway = async () => {
    await api.DELETE("/api/inks/{id}", params);
    await refresh();
    say({ sentence: `${ink.name} is put away. Builds that use it keep it.`, action: { label: "Bring it back", run: () => void api.POST("/api/inks/{id}/back", params).then(refresh) } });
  };
  return (
    <Box component="aside" aria-label={ink.name} sx={{ bgcolor: greys.sheet, border: `1px solid ${greys.line}`, borderRadius: 1, p: 2, display: "grid", gap: 1.5, alignContent: "start" }}>
      <Box>
        <Typography variant="h2">{ink.name}</Typography>
        <Typography variant="body2">{[ink.line, ink.family, ink.depth ? `depth ${ink.depth}` : ""].filter(Boolean).join(" · ")}</Typography>
        <Typography variant="body2">{ink.chemistry}, {ink.opaque ? "hides what is under it" : "translucent"}, {ink.character}</Typography>
        {ink.estimated && <Typography variant="body2" sx={{ fontWeight: 600 }}>How well it hides is an estimate: it was seen on white card only.</Typography>}
      </Box>
      <Box sx={{ display: "grid", gap: 1.25, gridTemplateColumns: "repeat(auto-fill, minmax(140px, 1fr))" }}>
        {stocks.map((s, i) => (
          <Box key={s.key}>
            <Dab dabs={shown[i]?.data?.dabs ?? []} card={s.hex} width={144} title={`${ink.name} on ${s.name}: one, two and three coats`} />
            <Typography variant="caption">{s.name}</Typography>
          </Box>
        ))}
        <Typography variant="caption" sx={{ color: greys.quiet, gridColumn: "1 / -1" }}>
          Outer edge one coat, then two, then three. {ink.dabs.every((d) => d.in_gamut) ? "" : "A screen cannot show it quite this strong."} White card as measured; the others are predicted.
        </Typography>
      </Box>
      <Box component="table" sx={{ fontSize: 13, borderCollapse: "collapse", "& td, & th": { textAlign: "left", pr: 1.5, py: 0.25, fontWeight: 400 }, "& th": { color: greys.quiet } }}>
        <thead><tr><th scope="col">Coats</th><th scope="col">On</th><th scope="col">L*</th><th scope="col">a*</th><th scope="col">b*</th></tr></thead>
        <tbody>
          {ink.swatches.map((s, i) => (
            <tr key={i}><td>{s.coats}</td><td>{nearWhite(s.on.lab) ? "white" : "black"}</td>{s.lab.map((v, j) => <td key={j}>{v.toFixed(1)}</td>)}</tr>
          ))}
        </tbody>
      </Box>
      <Box><Button variant="text" onClick={() => void putAway()}>Put this ink away</Button></Box>
    </Box>
  );
}
