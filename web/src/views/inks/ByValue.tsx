/** A colour in figures: CIELAB from any instrument, a hex code, or one taken from a photograph. */
import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { FromPicture } from "../../parts/FromPicture";
import { typed } from "../../parts/words";
import type { Found } from "./AddSwatch";

const NAMES = ["L*", "a*", "b*"] as const;

export function ByValue({ picture, onFound }: { picture: boolean; onFound: (found: Found | null) => void }) {
  const [figures, setFigures] = useState(["", "", ""]);
  const [code, setCode] = useState("");
  const figure = (index: number, text: string) => {
    const fresh = figures.map((f, i) => (i === index ? text : f));
    setFigures(fresh);
    setCode("");
    const lab = fresh.map(typed);
    const [l = NaN] = lab;
    onFound(
      lab.every(Number.isFinite) && l >= 0 && l <= 110
        ? {
            lab,
            how: "typed",
            shown: `lab(${lab[0]}% ${lab[1]} ${lab[2]})`,
            said: `L* a* b* ${lab.join("  ")}, as an instrument gave it.`,
          }
        : null,
    );
  };
  const hex = (text: string, how: Found["how"], said: string) => {
    setCode(text);
    setFigures(["", "", ""]);
    const full = `#${text.trim().replace(/^#/, "")}`;
    onFound(/^#[0-9a-f]{6}$/i.test(full) ? { hex: full, how, shown: full, said } : null);
  };
  if (picture) {
    return (
      <Box>
        <Typography variant="body2" sx={{ mb: 1 }}>
          A photograph shows a colour as its light had it: good enough for a first guess, and marked as one. A
          swatch card corrects the light.
        </Typography>
        <FromPicture
          onPick={(found) => hex(found, "photograph", `${found}, from a photograph: its light is in it.`)}
        />
      </Box>
    );
  }
  return (
    <Box sx={{ display: "grid", gap: 1.5 }}>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 1fr", gap: 1.5 }}>
        {NAMES.map((name, i) => (
          <TextField
            key={name}
            label={name}
            value={figures[i]}
            onChange={(e) => figure(i, e.target.value)}
            slotProps={{ htmlInput: { inputMode: "decimal" } }}
          />
        ))}
      </Box>
      <TextField
        label="or a hex code"
        placeholder="#5b8f6a"
        value={code}
        onChange={(e) =>
          hex(
            e.target.value,
            "screen colour",
            "A screen’s colour: it cannot hold a strong cyan or green, so take it as a first guess.",
          )
        }
      />
      <Typography variant="caption">CIELAB for D50 and 2 degrees, dried.</Typography>
    </Box>
  );
}
