/** The thing that is chosen: where it lies, and what it is. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Thing } from "../../../api/client";
import { LengthField } from "../../../parts/LengthField";
import { useShared } from "../context";
import { CardPart, LiesOn } from "./CardPart";
import { MaskPart } from "./MaskPart";
import { SetPart } from "./SetPart";
import { whatItIs } from "./words";

export function Inspector({ thing }: { thing: Thing }) {
  const { units, change } = useShared();
  const move = (values: Record<string, unknown>) => change("move_thing", { thing: thing.key, ...values });
  const apart = !thing.shape?.of;
  const at = thing.place;
  return (
    <Paper
      variant="card"
      sx={{ p: 1.5, display: "grid", gap: 1.5 }}
      role="group"
      aria-label={`${thing.name}, chosen`}
    >
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
        <Name key={thing.name} thing={thing} />
        <Typography variant="caption">{whatItIs(thing)}</Typography>
      </Box>
      {at && (
        <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
          <LengthField
            label={apart ? "Across" : "Moved right"}
            mm={at.x}
            units={units}
            onSet={(x) => move({ x })}
          />
          <LengthField
            label={apart ? "Down" : "Moved down"}
            mm={at.y}
            units={units}
            onSet={(y) => move({ y })}
          />
          {thing.kind !== "note" && <Turn key={at.turn} turn={at.turn} onSet={(turn) => move({ turn })} />}
          {thing.kind !== "note" && (
            <Button
              variant={at.mirrored ? "contained" : "outlined"}
              aria-pressed={at.mirrored}
              onClick={() => move({ mirrored: !at.mirrored })}
            >
              Turned over
            </Button>
          )}
        </Box>
      )}
      <Layers thing={thing} />
      {thing.kind === "set" && <SetPart thing={thing} />}
      {thing.kind === "mask" && <MaskPart thing={thing} />}
      {thing.kind === "words" && <WordsPart key={thing.words?.text} thing={thing} />}
      {(thing.kind === "piece" || thing.kind === "words" || thing.kind === "set") && (
        <CardPart thing={thing} />
      )}
      {thing.kind !== "mask" && thing.kind !== "note" && <LiesOn thing={thing} />}
      {thing.kind === "mask" && <LiesOn thing={thing} />}
    </Paper>
  );
}

function Name({ thing }: { thing: Thing }) {
  const { change } = useShared();
  const [name, setName] = useState(thing.name);
  const keep = () => {
    const wanted = name.trim();
    if (wanted && wanted !== thing.name) change("rename_thing", { thing: thing.key, name: wanted });
    else setName(thing.name);
  };
  return (
    <TextField
      label="Name"
      value={name}
      onChange={(e) => setName(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => e.key === "Enter" && keep()}
      sx={{ flex: "1 1 180px" }}
      slotProps={{ htmlInput: { maxLength: 56 } }}
    />
  );
}

function Turn({ turn, onSet }: { turn: number; onSet: (turn: number) => void }) {
  const [typed, setTyped] = useState(String(Math.round(turn * 10) / 10));
  const value = Number(typed.replace(",", "."));
  const keep = () => {
    if (Number.isFinite(value) && value !== turn && Math.abs(value) <= 360) onSet(value);
  };
  return (
    <TextField
      label="Turned, °"
      value={typed}
      error={!Number.isFinite(value)}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => e.key === "Enter" && keep()}
      sx={{ width: 92 }}
    />
  );
}

function Layers({ thing }: { thing: Thing }) {
  const { set, change } = useShared();
  const at = set.things.findIndex((t) => t.key === thing.key);
  return (
    <Box sx={{ display: "flex", gap: 0.75, flexWrap: "wrap" }}>
      <Button
        variant="outlined"
        disabled={at === set.things.length - 1}
        onClick={() => change("raise_thing", { thing: thing.key, by: 1 })}
      >
        Forward
      </Button>
      <Button
        variant="outlined"
        disabled={at <= 0}
        onClick={() => change("raise_thing", { thing: thing.key, by: -1 })}
      >
        Back
      </Button>
      <Button variant="outlined" onClick={() => change("copy_thing", { thing: thing.key })}>
        Once more
      </Button>
      <Button variant="text" onClick={() => change("remove_thing", { thing: thing.key })}>
        Take it off
      </Button>
    </Box>
  );
}

function WordsPart({ thing }: { thing: Thing }) {
  const { units, change } = useShared();
  const [text, setText] = useState(thing.words?.text ?? "");
  const set = (words: Record<string, unknown>) => change("set_thing", { thing: thing.key, words });
  return (
    <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
      <TextField
        label="Words"
        multiline
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => text.trim() && text !== thing.words?.text && set({ text })}
        sx={{ flex: "1 1 180px" }}
        slotProps={{ htmlInput: { maxLength: 120 } }}
      />
      <LengthField
        label="Height"
        mm={thing.words?.size ?? 7}
        units={units}
        low={1.5}
        high={80}
        onSet={(size) => set({ size })}
      />
    </Box>
  );
}
