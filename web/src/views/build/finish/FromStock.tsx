/** The pieces laid on sheets of stock, drawn with the cuts in their order; how the stock is bought. */
import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { Finish, FinishValues, Stock } from "../../../api/client";
import type { Units } from "../../../parts/lengths";
import { Select } from "../../../parts/Select";
import { greys } from "../../../theme/theme";
import { exact, exactSize, soldAs } from "./words";

type From = Finish["sheets"][number];
type Sheet = From["laid"][number];

const GRAINS = [
  ["long", "along the long side"],
  ["short", "along the short side"],
] as const;

interface Props {
  found: Finish;
  stocks: Stock[];
  units: Units;
  onChange: (finish: FinishValues) => void;
}

export function FromStock({ found, stocks, units, onChange }: Props) {
  const { finish } = found;
  return (
    <Box sx={{ display: "grid", gap: 2 }}>
      {found.sheets.map((from) => (
        <Box component="section" key={from.stock} aria-label={from.stock_name}>
          <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center", mb: 0.75 }}>
            <Typography variant="h3" component="h3" sx={{ flex: "1 1 180px" }}>
              {from.laid.length ? `${taken(from)} of ${from.stock_name}` : from.stock_name}
            </Typography>
            <Select
              label="Its sheets are"
              value={from.sheet.key}
              options={found.sheet_sizes.map((s) => [s.key, s.label] as const)}
              minWidth={180}
              onChoose={(size) =>
                onChange({ ...finish, sheets: soldAs(finish, from.stock, size, from.grain) })
              }
            />
            <Select
              label="Its grain runs"
              value={from.grain as "long" | "short" | ""}
              options={GRAINS}
              none="nobody knows"
              minWidth={180}
              onChoose={(grain) =>
                onChange({ ...finish, sheets: soldAs(finish, from.stock, from.sheet.key, grain) })
              }
            />
          </Box>
          {from.problem && <Typography>{from.problem}</Typography>}
          {from.laid.length > 0 && (
            <Typography variant="caption" component="p" sx={{ mb: 0.75 }}>
              {said(from)}
            </Typography>
          )}
          <Box sx={{ display: "grid", gridTemplateColumns: "repeat(auto-fill, minmax(230px, 1fr))", gap: 1 }}>
            {gathered(from.laid).map(([sheet, times], n) => (
              // layouts have no name but their place
              <Layout
                key={n}
                sheet={sheet}
                times={times}
                units={units}
                hex={stocks.find((s) => s.key === from.stock)?.hex ?? "#ffffff"}
              />
            ))}
          </Box>
        </Box>
      ))}
    </Box>
  );
}

const taken = (from: From) => (from.take === 1 ? "1 sheet" : `${from.take} sheets`);

/** How well the stock is used, and whether it could be done with less. */
export function said(from: Pick<From, "take" | "fewest" | "waste">): string {
  const waste = `${Math.round(from.waste * 100)} % is left over.`;
  if (!from.fewest || from.take < 1) return waste;
  const least =
    from.take <= from.fewest ? "It cannot be done with fewer." : `No way needs fewer than ${from.fewest}.`;
  return `${waste} ${least}`;
}

/** Sheets that are cut alike, once each, with how many there are. */
export function gathered(sheets: Sheet[]): [Sheet, number][] {
  const found = new Map<string, [Sheet, number]>();
  for (const sheet of sheets) {
    const key = JSON.stringify([sheet.width, sheet.height, sheet.pieces]);
    const known = found.get(key);
    if (known) known[1] += 1;
    else found.set(key, [sheet, 1]);
  }
  return [...found.values()];
}

interface LayoutProps {
  sheet: Sheet;
  times: number;
  units: Units;
  hex: string;
}

function Layout({ sheet, times, units, hex }: LayoutProps) {
  const small = Math.min(sheet.width, sheet.height) / 24;
  return (
    <Paper variant="card" sx={{ p: 1 }}>
      <Box
        component="svg"
        role="img"
        aria-label={`A sheet with ${sheet.pieces.length} pieces and ${sheet.cuts.length} cuts`}
        viewBox={`-2 -2 ${sheet.width + 4} ${sheet.height + 4}`}
        sx={{ width: "100%", maxHeight: 250, display: "block" }}
      >
        <rect
          width={sheet.width}
          height={sheet.height}
          fill={greys.rule}
          stroke={greys.edge}
          strokeWidth={0.6}
        />
        {sheet.left.map((b) => (
          <rect key={`${b.x} ${b.y}`} {...b} fill={hex} opacity={0.45} />
        ))}
        {sheet.pieces.map((p) => (
          <g key={`${p.x} ${p.y}`}>
            <rect
              x={p.x}
              y={p.y}
              width={p.width}
              height={p.height}
              fill={hex}
              stroke={greys.ink}
              strokeWidth={0.5}
            />
            <text
              x={p.x + p.width / 2}
              y={p.y + p.height / 2}
              fontSize={Math.min(small, p.height * 0.34)}
              textAnchor="middle"
              fill={greys.ink}
              stroke={greys.white}
              strokeWidth={small / 5}
              paintOrder="stroke"
            >
              <tspan>{p.name}</tspan>
              <tspan x={p.x + p.width / 2} dy={Math.min(small, p.height * 0.34) * 1.15}>
                {exactSize(p.width, p.height, units)}
              </tspan>
            </text>
          </g>
        ))}
        {sheet.cuts.map((c, n) => {
          const along = c.down ? c.part.x + c.at : c.part.y + c.at;
          const [x, y] = c.down ? [along, c.part.y] : [c.part.x, along];
          // its number at the far end, where names of small pieces are not
          const [cx, cy] = c.down ? [x, y + c.part.height - small] : [x + c.part.width - small, y];
          return (
            // cuts are told by their number
            <g key={n}>
              <path
                d={c.down ? `M${x} ${y}v${c.part.height}` : `M${x} ${y}h${c.part.width}`}
                stroke={greys.ink}
                strokeWidth={0.9}
                strokeDasharray="4 2"
              />
              <circle cx={cx} cy={cy} r={small * 0.72} fill={greys.ink} />
              <text
                x={cx}
                y={cy}
                fontSize={small * 0.85}
                textAnchor="middle"
                dominantBaseline="central"
                fill={greys.white}
              >
                {n + 1}
              </text>
            </g>
          );
        })}
      </Box>
      <Typography variant="caption" component="p" sx={{ mt: 0.5, fontWeight: 600 }}>
        {times > 1 ? `${times} sheets like this` : sheet.offcut ? "An off-cut" : "One sheet like this"}
      </Typography>
      <Box component="ol" aria-label="Cuts" sx={{ pl: 2.5, m: 0, listStyle: "decimal" }}>
        {sheet.cuts.map((c, n) => (
          // cuts are told by their number
          <Typography component="li" variant="caption" key={n}>
            {c.down ? "Down" : "Across"} at {exact(c.at, units)} {units}{" "}
            {c.down ? "from the left" : "from the top"}
          </Typography>
        ))}
      </Box>
    </Paper>
  );
}
