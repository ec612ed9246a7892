/** Cards to choose from, shown as offcuts with their edge. */
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Typography from "@mui/material/Typography";
import type { Stock } from "../api/client";
import { greys } from "../theme/theme";

interface Props {
  stocks: Stock[];
  chosen: string | undefined;
  onChoose: (key: string) => void;
  /** Pointed at, or with the keys on it; null when left. */
  onLook?: (key: string | null) => void;
}

export function StockChoice({ stocks, chosen, onChoose, onLook }: Props) {
  return (
    <Box role="radiogroup" aria-label="The card" sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
      {stocks.map((s) => (
        <ButtonBase
          key={s.key}
          role="radio"
          aria-checked={s.key === chosen}
          onClick={() => onChoose(s.key)}
          onPointerEnter={() => onLook?.(s.key)}
          onPointerLeave={() => onLook?.(null)}
          onFocus={() => onLook?.(s.key)}
          onBlur={() => onLook?.(null)}
          sx={{
            p: 0.75,
            width: 108,
            display: "grid",
            gap: 0.5,
            justifyItems: "start",
            textAlign: "left",
            borderRadius: 1,
            border: `2px solid ${s.key === chosen ? greys.ink : greys.line}`,
          }}
        >
          <svg width="92" height="48" viewBox="0 0 92 48" aria-hidden="true">
            <path d="M2 6 88 2l2 38-86 5z" fill={s.hex} />
            <path d="M4 45l86-5v2.400L4 47.500z" fill="#000" opacity="0.350" />
          </svg>
          <Typography variant="caption" sx={{ fontWeight: 600 }}>
            {s.name}
          </Typography>
          <Typography variant="caption" sx={{ color: greys.quiet }}>
            {s.weight_gsm} g/m², {s.thickness_mm} mm
          </Typography>
        </ButtonBase>
      ))}
    </Box>
  );
}
