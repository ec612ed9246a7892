/** The panel's size: by the formats that cards are made in, or free; upright or lying; and what is trimmed off later. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useFormats } from "../../../api/hooks";
import { LengthField } from "../../../parts/LengthField";
import { Select } from "../../../parts/Select";
import { useShared } from "../context";

const NEAR = 0.15;
const LEAST = 5;
const MOST = 2000;
// mm; the sides of a panel as the core takes them

export function PanelFormat() {
  const { set, units, change } = useShared();
  const formats = useFormats();
  const trim = set.trim_mm;
  const wide = set.width_mm - 2 * trim;
  const tall = set.height_mm - 2 * trim;
  const lying = wide > tall + 0.1;
  const [a, b] = lying ? [tall, wide] : [wide, tall];
  const known = formats.data?.find(
    (f) => Math.abs(f.width_mm - a) < NEAR && Math.abs(f.height_mm - b) < NEAR,
  );
  const own = (values: Partial<{ width: number; height: number; trim: number }>) =>
    change("set_panel", { width: set.width_mm, height: set.height_mm, trim, ...values });
  return (
    <Box sx={{ display: "grid", gap: 1.5, pt: 0.75 }}>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
        <Select
          label="Panel for"
          value={known?.key ?? ""}
          none="a size of its own"
          options={[...(formats.data ?? [])]
            .sort((x, y) => Number(y.units === units) - Number(x.units === units))
            .map((f) => [f.key, f.label] as const)}
          onChoose={(format) => format && change("set_panel", { format, lying, trim })}
          minWidth={240}
        />
        <Button
          variant="outlined"
          onClick={() => own({ width: set.height_mm, height: set.width_mm })}
          title="Lay the panel on its side, or upright"
        >
          {lying ? "Stand it upright" : "Lay it on its side"}
        </Button>
      </Box>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <LengthField
          label="Wide"
          mm={set.width_mm}
          units={units}
          low={LEAST}
          high={MOST}
          onSet={(width) => own({ width })}
        />
        <LengthField
          label="High"
          mm={set.height_mm}
          units={units}
          low={LEAST}
          high={MOST}
          onSet={(height) => own({ height })}
        />
        <LengthField
          label="Trimmed later"
          mm={trim}
          units={units}
          low={0}
          high={40}
          width={132}
          onSet={(t) => own({ trim: t })}
        />
      </Box>
      <Typography variant="caption">
        A panel is 1/4 in (6 mm) smaller than its card, both ways. What is trimmed comes off each side at the
        end.
      </Typography>
    </Box>
  );
}
