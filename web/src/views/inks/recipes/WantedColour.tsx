/** The wanted colour: by numbers that can be dragged, by a code, from a pad, or from a picture of one's own. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Slider from "@mui/material/Slider";
import TextField from "@mui/material/TextField";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Colour, Ink } from "../../../api/client";
import { FromPicture } from "../../../parts/FromPicture";

export type Target = { lab: [number, number, number] } | { hex: string };

interface Props {
  shown: Colour | undefined;
  inks: Ink[];
  onWant: (target: Target) => void;
}

const AXES = [
  { name: "Lightness", index: 0, low: 0, high: 100, ends: ["dark", "light"] },
  { name: "Green to red", index: 1, low: -80, high: 80, ends: ["green", "red"] },
  { name: "Blue to yellow", index: 2, low: -80, high: 90, ends: ["blue", "yellow"] },
] as const;

export function WantedColour({ shown, inks, onWant }: Props) {
  const lab = (shown?.lab ?? [60, 0, 0]) as [number, number, number];
  const [dragged, setDragged] = useState<[number, number, number] | null>(null);
  const now = dragged ?? lab;
  const [code, setCode] = useState("");
  const slide = (index: number, value: number) => {
    const fresh: [number, number, number] = [...now];
    fresh[index] = value;
    setDragged(fresh);
    onWant({ lab: fresh });
  };
  const give = () => {
    const hex = `#${code.trim().replace(/^#/, "")}`;
    if (/^#[0-9a-f]{6}$/i.test(hex)) {
      setDragged(null);
      onWant({ hex });
    }
  };
  return (
    <Paper
      variant="card"
      component="section"
      aria-label="The wanted colour"
      sx={{
        display: "grid",
        gap: 2,
        p: 2,
      }}
    >
      <Typography variant="h2">The wanted colour</Typography>
      <Box
        role="img"
        aria-label={`Wanted: L ${now.map((v) => v.toFixed(0)).join(", ")}`}
        sx={{ height: 92, borderRadius: 1, bgcolor: shown?.hex ?? "#999" }}
      />
      {shown && !shown.in_gamut && (
        <Typography variant="caption">A screen cannot show it as strong as it is.</Typography>
      )}
      {AXES.map((axis) => (
        <Box key={axis.name}>
          <Typography variant="caption" id={`axis-${axis.index}`}>
            {axis.name}
          </Typography>
          <Slider
            size="small"
            aria-labelledby={`axis-${axis.index}`}
            min={axis.low}
            max={axis.high}
            step={1}
            value={Math.round(now[axis.index])}
            onChange={(_, v) => slide(axis.index, v as number)}
            onChangeCommitted={() => setDragged(null)}
          />
        </Box>
      ))}
      <Box
        component="form"
        onSubmit={(e) => {
          e.preventDefault();
          give();
        }}
        sx={{ display: "flex", gap: 1 }}
      >
        <TextField
          label="Hex code"
          value={code}
          onChange={(e) => setCode(e.target.value)}
          placeholder="#5b8f6a"
          sx={{ flex: 1 }}
        />
        <Button type="submit" variant="outlined">
          Take it
        </Button>
      </Box>
      <TextField
        select
        label="The colour of a pad"
        value=""
        onChange={(e) => {
          const ink = inks.find((i) => i.key === e.target.value);
          if (ink?.dabs[0]) {
            setDragged(null);
            onWant({ lab: ink.dabs[0].lab as [number, number, number] });
          }
        }}
      >
        {inks.map((i) => (
          <MenuItem key={i.key} value={i.key}>
            {i.name}
          </MenuItem>
        ))}
      </TextField>
      <FromPicture
        onPick={(hex) => {
          setDragged(null);
          onWant({ hex });
        }}
      />
    </Paper>
  );
}
