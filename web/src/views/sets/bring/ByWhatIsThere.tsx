/** The size of photographed sheets by what lies beside one: the lines of a mat, or a ruler. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Import } from "../../../api/client";
import { size as said, type Units } from "../../../parts/lengths";

/** mm from line to line, as mats are printed. */
const LINES: [string, number][] = [
  ["1 cm", 10],
  ["½ in", 12.7],
  ["1 in", 25.4],
];
const NO_SHEET = { least: 20, most: 700 };
// mm: by what would make it smaller or larger, nobody is asked

interface Size {
  width_mm: number;
  height_mm: number;
}

interface Props {
  item: Import;
  units: Units;
  onSize: (size: Size) => void;
}

export function ByWhatIsThere({ item, units, onSize }: Props) {
  const { width_mm: width, height_mm: height } = item.options;
  if (!item.guessed || !width || !height) return null;
  const by = (times: number): Size => ({
    width_mm: Number((width * times).toFixed(2)),
    height_mm: Number((height * times).toFixed(2)),
  });
  const ruler = item.sheets.find((s) => s.by_ruler)?.by_ruler;
  const apart = item.sheets.find((s) => s.lines_apart)?.lines_apart;
  const strokes = ruler && by(ruler);
  const lines = apart ? LINES.map(([name, mm]): [string, Size] => [name, by(mm / apart)]) : [];
  return (
    <>
      {strokes && isSheet(strokes) && <ByTheRuler size={strokes} units={units} onSize={onSize} />}
      {apart && <ByTheMat sizes={lines.filter(([, size]) => isSheet(size))} onSize={onSize} />}
    </>
  );
}

const isSheet = ({ width_mm, height_mm }: Size) =>
  Math.min(width_mm, height_mm) > NO_SHEET.least && Math.max(width_mm, height_mm) < NO_SHEET.most;

function ByTheRuler({ size, units, onSize }: { size: Size; units: Units; onSize: Props["onSize"] }) {
  return (
    <Box role="group" aria-label="Size by the ruler beside it">
      <Typography variant="body2">
        A ruler lies beside it. By its strokes the sheet is {said(size.width_mm, size.height_mm, units)}, to
        about one part in a hundred.
      </Typography>
      <Button variant="outlined" sx={{ mt: 0.5 }} onClick={() => onSize(size)}>
        Size it by the ruler
      </Button>
    </Box>
  );
}

function ByTheMat({ sizes, onSize }: { sizes: [string, Size][]; onSize: Props["onSize"] }) {
  return (
    <Box role="group" aria-label="Size by the lines of the mat">
      <Typography variant="body2">It lies on a mat. How far apart are its lines?</Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, mt: 0.5 }}>
        {sizes.map(([name, size]) => (
          <Button key={name} variant="outlined" onClick={() => onSize(size)}>
            {name}
          </Button>
        ))}
      </Box>
    </Box>
  );
}
