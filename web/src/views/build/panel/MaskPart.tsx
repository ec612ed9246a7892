/** A mask: what it does, from what it is cut, from which pass to which it is on, and its cut line. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { Rung, Thing } from "../../../api/client";
import { Choices } from "../../../parts/Choices";
import { LengthField } from "../../../parts/LengthField";
import { length } from "../../../parts/lengths";
import { useShared } from "../context";
import { shapeWord } from "./words";

export function MaskPart({ thing }: { thing: Thing }) {
  const { id, units, change } = useShared();
  const wear = (values: Record<string, unknown>) => change("set_thing", { thing: thing.key, wear: values });
  return (
    <Box sx={{ display: "grid", gap: 1.25 }}>
      <Choices
        label="What it does"
        value={thing.wear?.way ?? "window"}
        options={[
          ["window", "Ink only inside"],
          ["cover", "No ink inside"],
        ]}
        onChoose={(way) => wear({ way })}
      />
      <Figures thing={thing} />
      <Worn thing={thing} onWear={wear} />
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap" }}>
        <Typography variant="caption">
          {shapeWord(thing.shape?.kind)}; {length(thing.cut_mm ?? 0, units)} to cut.
        </Typography>
        <Button component="a" href={`/api/colourings/${id}/cut/${thing.key}`} variant="text">
          Cut line as SVG
        </Button>
      </Box>
      <Typography variant="caption">Craft knife: cut away from the hand, and cap it.</Typography>
    </Box>
  );
}

function Figures({ thing }: { thing: Thing }) {
  const { set, units, change } = useShared();
  const shape = thing.shape;
  const put = (values: Record<string, unknown>) => change("set_thing", { thing: thing.key, shape: values });
  if (!shape) return null;
  if (shape.of) {
    const elements = [
      ...new Set(
        set.sheets.filter((s) => s.thing === shape.of).flatMap((s) => s.groups.map((g) => g.element)),
      ),
    ];
    return (
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <TextField
          select
          label="Cut from"
          value={shape.elements ?? []}
          onChange={(e) => put({ elements: e.target.value })}
          sx={{ minWidth: 180, maxWidth: 260 }}
          slotProps={{
            select: {
              multiple: true,
              displayEmpty: true,
              renderValue: (v) => ((v as string[]).length ? (v as string[]).join(", ") : "all of it"),
            },
            inputLabel: { shrink: true },
          }}
        >
          {elements.map((e) => (
            <MenuItem key={e} value={e}>
              {e}
            </MenuItem>
          ))}
        </TextField>
        <LengthField
          label="Allowance"
          mm={shape.allowance ?? 0}
          units="mm"
          low={-5}
          high={20}
          onSet={(allowance) => put({ allowance })}
        />
      </Box>
    );
  }
  if (shape.kind === "outline") return null;
  const tall = shape.kind !== "round" && !["straight", "wavy", "torn"].includes(shape.kind);
  return (
    <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
      <LengthField
        label="Wide"
        mm={shape.width ?? 40}
        units={units}
        low={0.5}
        high={800}
        onSet={(width) => put({ width })}
      />
      {tall && (
        <LengthField
          label="High"
          mm={shape.height ?? 40}
          units={units}
          low={0.5}
          high={800}
          onSet={(height) => put({ height })}
        />
      )}
      {["wavy", "torn"].includes(shape.kind) && (
        <Button variant="outlined" onClick={() => put({ seed: ((shape.seed ?? 1) + 1) % 1000 })}>
          Another edge
        </Button>
      )}
    </Box>
  );
}

/** From one pass to another, in the order in which the plan lays them. */
function Worn({ thing, onWear }: { thing: Thing; onWear: (values: Record<string, unknown>) => void }) {
  const { state } = useShared();
  const passes = state.elements.flatMap((e) => e.rungs).sort((a, b) => a.place_in_plan - b.place_in_plan);
  const said = (r: Rung) => `${r.place_in_plan}. ${r.ink_name} on ${r.element}`;
  const wear = thing.wear;
  const end = (label: string, name: "since" | "until", open: string) => (
    <TextField
      select
      label={label}
      value={passes.some((p) => p.key === wear?.[name]) ? wear?.[name] : ""}
      onChange={(e) => onWear({ [name]: e.target.value })}
      sx={{ flex: "1 1 190px", maxWidth: 280 }}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      <MenuItem value="">{open}</MenuItem>
      {passes.map((p) => (
        <MenuItem key={p.key} value={p.key}>
          {said(p)}
        </MenuItem>
      ))}
    </TextField>
  );
  return (
    <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
      {end("On from", "since", "the first pass")}
      {end("Until after", "until", "the last pass")}
      <Button
        variant={wear?.off ? "contained" : "outlined"}
        aria-pressed={wear?.off ?? false}
        onClick={() => onWear({ off: !wear?.off })}
      >
        {wear?.off ? "Laid aside: lay it on" : "Lay it aside"}
      </Button>
    </Box>
  );
}
