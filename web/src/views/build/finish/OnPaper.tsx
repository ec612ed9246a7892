/** The plan on paper: how large its letters are, in colour or not; a page for whoever helps; outlines at true size. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Select } from "../../../parts/Select";
import { useShared } from "../context";

const PAPERS = [
  ["letter", "letter"],
  ["A4", "A4"],
] as const;
const TYPES = [
  ["normal", "normal"],
  ["large", "large"],
] as const;
const COLOURS = [
  ["yes", "in colour"],
  ["no", "black on white"],
] as const;
const PARTS = [
  ["all", "Print the plan"],
  ["helper", "For whoever helps"],
  ["true size", "Outlines at true size"],
] as const;

export function OnPaper() {
  const { id, units } = useShared();
  const [paper, setPaper] = useState<"letter" | "A4">(units === "in" ? "letter" : "A4");
  const [type, setType] = useState<"normal" | "large">("normal");
  const [colour, setColour] = useState<"yes" | "no">("yes");
  const address = (part: string) =>
    `/api/colourings/${id}/plan.pdf?${new URLSearchParams({ paper, type, colour, part }).toString()}`;
  return (
    <Box sx={{ display: "grid", gap: 1 }}>
      <Typography variant="caption">
        The picture with its pads, the cut list, every step with the card as it looks then, masks to cut.
      </Typography>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <Select label="Paper" value={paper} options={PAPERS} minWidth={100} onChoose={setPaper} />
        <Select label="Letters" value={type} options={TYPES} minWidth={110} onChoose={setType} />
        <Select label="Printed" value={colour} options={COLOURS} minWidth={150} onChoose={setColour} />
      </Box>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        {PARTS.map(([part, said]) => (
          <Button
            key={part}
            component="a"
            href={address(part)}
            target="_blank"
            rel="noopener"
            variant={part === "all" ? "contained" : "outlined"}
          >
            {said}
          </Button>
        ))}
      </Box>
    </Box>
  );
}
