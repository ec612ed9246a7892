/** The size of photographed sheets by the lines of the mat that one lies on. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Import } from "../../../api/client";

/** mm from line to line, as mats are printed. */
const LINES: [string, number][] = [
  ["1 cm", 10],
  ["½ in", 12.7],
  ["1 in", 25.4],
];
const NO_SHEET = { least: 20, most: 700 };
// mm: by lines that would make it smaller or larger, nobody is asked

interface Props {
  item: Import;
  onSize: (size: { width_mm: number; height_mm: number }) => void;
}

export function ByTheMat({ item, onSize }: Props) {
  const apart = item.sheets.find((s) => s.lines_apart)?.lines_apart;
  const { width_mm: width, height_mm: height } = item.options;
  if (!item.guessed || !apart || !width || !height) return null;
  const sizes = LINES.map(([name, mm]) => {
    const by = mm / apart;
    return { name, width_mm: Number((width * by).toFixed(2)), height_mm: Number((height * by).toFixed(2)) };
  }).filter(
    (s) =>
      Math.min(s.width_mm, s.height_mm) > NO_SHEET.least && Math.max(s.width_mm, s.height_mm) < NO_SHEET.most,
  );
  return (
    <Box role="group" aria-label="Size by the lines of the mat">
      <Typography variant="body2">It lies on a mat. How far apart are its lines?</Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, mt: 0.5 }}>
        {sizes.map(({ name, ...size }) => (
          <Button key={name} variant="outlined" onClick={() => onSize(size)}>
            {name}
          </Button>
        ))}
      </Box>
    </Box>
  );
}
