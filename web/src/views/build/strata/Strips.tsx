/** What every element would wear, side by side: a core each, its pads from light to deep. */
import Box from "@mui/material/Box";
import type { Proposal } from "../../../api/client";
import { bed, slab } from "../../../parts/coreShapes";
import { greys } from "../../../theme/theme";

const WIDE = 30;
const TALL = 44;

export function Strips({ worn }: { worn: Proposal["worn"] }) {
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>
      {worn.map((w) => (
        <Box key={w.element} title={`${w.element}: ${w.pads.map((p) => p.name).join(", ")}`}>
          <svg width={WIDE} height={TALL} role="img" aria-label={`${w.element}: ${w.ladder}`}>
            {w.pads.map((p, i) => {
              const floor = TALL - (i * (TALL - 2)) / w.pads.length;
              const top = TALL - ((i + 1) * (TALL - 2)) / w.pads.length;
              return (
                <path
                  key={p.key + String(i)}
                  d={slab(bed(1, WIDE - 1, floor, i, 1.2), bed(1, WIDE - 1, top, i + 1, 1.2))}
                  fill={p.colour.hex}
                />
              );
            })}
            <rect x="0.5" y="0.5" width={WIDE - 1} height={TALL - 1} rx="3" fill="none" stroke={greys.edge} />
          </svg>
        </Box>
      ))}
    </Box>
  );
}
