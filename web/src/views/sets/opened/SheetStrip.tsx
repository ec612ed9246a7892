/** The sheets side by side: taken off the stack, put in order, called, turned, used again. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { LayerSet, Sheet } from "../../../api/client";
import { useSession } from "../../../api/hooks";
import { FigureField } from "../../../parts/FigureField";
import { LengthField } from "../../../parts/LengthField";
import { greys } from "../../../theme/theme";
import type { SetEdits } from "./useSetEdits";

interface Props {
  set: LayerSet;
  shown: number[];
  onShown: (numbers: number[]) => void;
  edits: SetEdits;
}

export function SheetStrip({ set, shown, onShown, edits }: Props) {
  const [open, setOpen] = useState<number | null>(null);
  const all = set.sheets.map((s) => s.number);
  const toggle = (n: number) =>
    onShown(shown.includes(n) ? shown.filter((s) => s !== n) : [...shown, n].sort((a, b) => a - b));
  const noun = set.nouns.one;
  return (
    <Box component="section" aria-label="The sheets">
      <Box sx={{ display: "flex", gap: 1, mb: 0.5 }}>
        <Button variant="text" onClick={() => onShown(all)} disabled={shown.length === all.length}>
          All on the stack
        </Button>
      </Box>
      <Box component="ol" sx={{ display: "grid", gap: 1 }}>
        {set.sheets.map((sheet, i) => (
          <Box
            component="li"
            key={sheet.number}
            sx={{
              bgcolor: greys.sheet,
              border: `2px solid ${shown.includes(sheet.number) ? greys.ink : greys.line}`,
              borderRadius: 1,
              p: 0.75,
              opacity: shown.includes(sheet.number) ? 1 : 0.7,
            }}
          >
            <Box sx={{ display: "grid", gridTemplateColumns: "72px 1fr", gap: 1 }}>
              <ButtonBase
                aria-pressed={shown.includes(sheet.number)}
                aria-label={`${noun} ${sheet.number} on the stack`}
                onClick={() => toggle(sheet.number)}
                onDoubleClick={() => onShown([sheet.number])}
                sx={{ display: "block", overflow: "hidden", borderRadius: 0.5 }}
              >
                <Thumb set={set} sheet={sheet} />
              </ButtonBase>
              <Box sx={{ minWidth: 0 }}>
                <Typography variant="body2" sx={{ fontWeight: 640, overflowWrap: "anywhere" }}>
                  {sheet.number}. {sheet.name}
                </Typography>
                <Typography variant="caption" sx={{ display: "block" }}>
                  {sheet.openings} {sheet.openings === 1 ? set.nouns.shape : set.nouns.shapes}
                  {notes(sheet, noun)}
                </Typography>
                <Box sx={{ display: "flex", flexWrap: "wrap" }}>
                  <Button variant="text" sx={{ px: 0.5 }} onClick={() => onShown([sheet.number])}>
                    Only this
                  </Button>
                  <Button
                    variant="text"
                    sx={{ px: 0.5 }}
                    aria-expanded={open === sheet.number}
                    onClick={() => setOpen(open === sheet.number ? null : sheet.number)}
                  >
                    Change
                  </Button>
                </Box>
              </Box>
            </Box>
            {open === sheet.number && <Change set={set} sheet={sheet} index={i} edits={edits} noun={noun} />}
          </Box>
        ))}
      </Box>
    </Box>
  );
}

const notes = (sheet: Sheet, noun: string) =>
  [
    sheet.seat && `${noun} ${sheet.seat.of} used again`,
    sheet.seat && sheet.seat.strength < 1 && "not inked afresh, paler",
    sheet.copies > 1 && `cut ${sheet.copies} times`,
    sheet.loose && "set on at the end",
  ]
    .filter(Boolean)
    .map((n) => `, ${n}`)
    .join("");

function Thumb({ set, sheet }: { set: LayerSet; sheet: Sheet }) {
  return (
    <svg
      viewBox={`0 0 ${set.width_mm} ${set.height_mm}`}
      width={72}
      aria-hidden="true"
      style={{ display: "block", background: greys.field }}
    >
      {sheet.groups.map((g) => (
        <path key={g.element} d={g.outline} fill="#3a3a3a" />
      ))}
      <path d={sheet.marks} fill={greys.ink} />
    </svg>
  );
}

function Change({
  set,
  sheet,
  index,
  edits,
  noun,
}: {
  set: LayerSet;
  sheet: Sheet;
  index: number;
  edits: SetEdits;
  noun: string;
}) {
  const order = (by: number) => {
    const numbers = set.sheets.map((s) => s.number);
    const [moved] = numbers.splice(index, 1);
    if (moved !== undefined) numbers.splice(index + by, 0, moved);
    void edits.edit("order", { sheets: numbers });
  };
  const place = (values: Record<string, unknown>) =>
    void (sheet.seat
      ? edits.edit("change_seat", { sheet: sheet.number, ...values })
      : edits.edit("place", { sheet: sheet.number, ...values }));
  return (
    <Box sx={{ display: "grid", gap: 1, mt: 1 }}>
      <TextField
        label="Name"
        defaultValue={sheet.name}
        onBlur={(e) =>
          e.target.value.trim() &&
          e.target.value.trim() !== sheet.name &&
          void edits.edit("call_sheet", { sheet: sheet.number, to: e.target.value })
        }
      />
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>
        <Button variant="outlined" disabled={index === 0} onClick={() => order(-1)}>
          Earlier
        </Button>
        <Button variant="outlined" disabled={index === set.sheets.length - 1} onClick={() => order(1)}>
          Later
        </Button>
        <Button variant="outlined" onClick={() => place({ turn: ((sheet.seat?.turn ?? 0) + 90) % 360 })}>
          Turn a quarter
        </Button>
        <Button variant="outlined" onClick={() => place({ mirrored: !(sheet.seat?.mirrored ?? false) })}>
          Mirror
        </Button>
      </Box>
      {sheet.seat ? (
        <SeatForm sheet={sheet} edits={edits} stamp={set.kind === "stamp set"} />
      ) : (
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>
          <Button
            variant="outlined"
            onClick={() =>
              void edits.edit("add_seat", {
                of: sheet.number,
                dx: 5,
                ...(set.kind === "stamp set" ? { strength: 0.55 } : {}),
              })
            }
          >
            {set.kind === "stamp set" ? "Stamp it again without inking" : `Use this ${noun} again elsewhere`}
          </Button>
          {sheet.marks && (
            <Button variant="outlined" onClick={() => void edits.edit("from_marks", { sheet: sheet.number })}>
              Marks take ink after all
            </Button>
          )}
        </Box>
      )}
      {set.kind === "die-cut" && (
        <FigureField
          label="Cut how many times"
          value={sheet.copies}
          low={1}
          high={20}
          whole
          onSet={(copies) => void edits.edit("piece", { sheet: sheet.number, copies })}
        />
      )}
      {set.kind !== "stencil" && (
        <FormControlLabel
          control={
            <Switch
              checked={sheet.loose}
              onChange={(e) => void edits.edit("piece", { sheet: sheet.number, loose: e.target.checked })}
            />
          }
          label="Made apart and set on at the end"
        />
      )}
      {set.sheets.length > 1 && (
        <Box>
          <Button variant="text" onClick={() => void edits.edit("remove_sheet", { sheet: sheet.number })}>
            Take it out of the set
          </Button>
        </Box>
      )}
    </Box>
  );
}

function SeatForm({ sheet, edits, stamp }: { sheet: Sheet; edits: SetEdits; stamp: boolean }) {
  const seat = sheet.seat;
  const units = useSession().data?.units ?? "in";
  if (!seat) return null;
  const shift = (label: string, field: "dx" | "dy") => (
    <LengthField
      label={label}
      mm={seat[field]}
      units={units}
      low={-500}
      high={500}
      onSet={(v) => void edits.edit("change_seat", { sheet: sheet.number, [field]: v })}
    />
  );
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1 }}>
      {shift("Right", "dx")}
      {shift("Down", "dy")}
      <FigureField
        label="Turned, °"
        value={seat.turn}
        low={-360}
        high={360}
        onSet={(turn) => void edits.edit("change_seat", { sheet: sheet.number, turn })}
      />
      {stamp && (
        <FigureField
          label="Ink left, %"
          value={Math.round(seat.strength * 100)}
          low={10}
          high={100}
          onSet={(v) => void edits.edit("change_seat", { sheet: sheet.number, strength: v / 100 })}
        />
      )}
    </Box>
  );
}
