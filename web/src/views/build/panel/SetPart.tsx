/** A set on the panel: which of its sheets are used; the other half of a cut; shadows and lights for all its shapes. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useState } from "react";
import type { Thing } from "../../../api/client";
import { useShared } from "../context";

const MOST = 8;
// sheets listed at once; more fold away

export function SetPart({ thing }: { thing: Thing }) {
  const { change } = useShared();
  const [all, setAll] = useState(false);
  const shown = all ? thing.all_sheets : thing.all_sheets.slice(0, MOST);
  const toggle = (number: number) => {
    const used = thing.sheets.includes(number)
      ? thing.sheets.filter((n) => n !== number)
      : [...thing.sheets, number];
    if (used.length) change("set_thing", { thing: thing.key, sheets: used });
  };
  const counter = () =>
    change("add_thing", {
      thing: {
        kind: "set",
        name: `other half of ${thing.name}`.slice(0, 54),
        source: thing.source,
        place: thing.place,
        sheets: thing.sheets.slice(0, 1),
        counter: true,
      },
    });
  return (
    <Box>
      {!thing.counter && (
        <Box
          role="group"
          aria-label="Sheets that are used"
          sx={{ display: "flex", flexWrap: "wrap", columnGap: 1 }}
        >
          {shown.map((s) => (
            <FormControlLabel
              key={s.number}
              label={`${s.number} ${s.name}`}
              sx={{ m: 0, "& .MuiFormControlLabel-label": { fontSize: 14 } }}
              control={
                <Checkbox
                  size="small"
                  checked={thing.sheets.includes(s.number)}
                  disabled={thing.sheets.length === 1 && thing.sheets.includes(s.number)}
                  onChange={() => toggle(s.number)}
                />
              }
            />
          ))}
          {thing.all_sheets.length > MOST && (
            <Button variant="text" onClick={() => setAll(!all)}>
              {all ? "Fewer" : `All ${thing.all_sheets.length}`}
            </Button>
          )}
        </Box>
      )}
      {!thing.counter && thing.set_kind === "stencil" && (
        <Button
          variant="text"
          title="What is open in one half of the cut is covered in the other"
          onClick={counter}
        >
          The other half of a cut
        </Button>
      )}
    </Box>
  );
}
