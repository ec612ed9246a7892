/** What was measured of an ink, how and when; and where the next swatch comes from. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { api, type Ink, type Stock } from "../../api/client";
import { HOWS } from "../../parts/words";
import { Unseen } from "../../parts/Unseen";
import { greys } from "../../theme/theme";
import { useDrawerAct } from "./drawerAct";

const near = (a: number[], b: number[]) => a.every((v, i) => Math.abs(v - (b[i] ?? 0)) < 0.6);

export function Swatches({ ink, stocks, onMeasure }: { ink: Ink; stocks: Stock[]; onMeasure: () => void }) {
  const remove = useDrawerAct(
    (index: number) =>
      api.DELETE("/api/inks/{id}/swatches/{index}", { params: { path: { id: ink.id, index } } }),
    { said: () => `One swatch of ${ink.name} is gone.`, otherwise: "That swatch could not be taken away." },
  );
  return (
    <Box component="section" aria-label="Its swatches">
      <Typography variant="h3">What was measured</Typography>
      <Box
        component="table"
        sx={{
          fontSize: 12.5,
          borderCollapse: "collapse",
          width: "100%",
          "& td, & th": { textAlign: "left", pr: 0.75, py: 0.25, fontWeight: 400, verticalAlign: "baseline" },
          "& th": { color: greys.quiet },
        }}
      >
        <thead>
          <tr>
            <th scope="col">Coats</th>
            <th scope="col">On</th>
            <th scope="col">L* a* b*</th>
            <th scope="col">By</th>
            <th scope="col">
              <Unseen>Take away</Unseen>
            </th>
          </tr>
        </thead>
        <tbody>
          {ink.swatches.map((s, i) => (
            <tr key={i}>
              <td>{s.coats}</td>
              <td>
                {stocks.find((k) => near(k.lab, s.on.lab))?.name ?? `L* ${Math.round(s.on.lab[0] ?? 0)}`}
              </td>
              <td style={{ whiteSpace: "nowrap" }}>{s.lab.map((v) => v.toFixed(1)).join("  ")}</td>
              <td title={s.spread ? `spread ${s.spread.toFixed(1)}` : undefined}>
                {HOWS[s.how ?? ""]}
                {s.when ? `, ${s.when}` : ""}
              </td>
              <td>
                <Box
                  component="button"
                  type="button"
                  aria-label={`Take swatch ${i + 1} away`}
                  title="Take this swatch away"
                  onClick={() => remove.mutate(i)}
                  sx={{
                    border: 0,
                    bgcolor: "transparent",
                    cursor: "pointer",
                    font: "inherit",
                    minWidth: 24,
                    minHeight: 24,
                    color: greys.ink,
                  }}
                >
                  ×
                </Box>
              </td>
            </tr>
          ))}
        </tbody>
      </Box>
      <Box sx={{ display: "flex", gap: 1, mt: 0.75, flexWrap: "wrap" }}>
        <Button variant="outlined" onClick={onMeasure}>
          Add a swatch
        </Button>
        <Button variant="text" component={Link} to={`/inks/swatch-cards?ink=${ink.key}`}>
          On a swatch card
        </Button>
      </Box>
    </Box>
  );
}
