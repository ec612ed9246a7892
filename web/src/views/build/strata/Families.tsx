/** Families of pads for an element, or for several at once: light, mid and deep fall where they belong. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import MenuItem from "@mui/material/MenuItem";
import Paper from "@mui/material/Paper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type KeyboardEvent, useState } from "react";
import { freshKey } from "../../../api/acts";
import type { EditKind, Ink } from "../../../api/client";
import { useInks } from "../../../api/hooks";
import { Choices } from "../../../parts/Choices";
import { Dab } from "../../../parts/Dab";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";

const STRENGTHS = [
  ["even", "Evenly spread"],
  ["next", "Lightest, next"],
  ["deepest", "Lightest, deepest"],
  ["mid", "Mid, deepest"],
] as const;
type Strength = (typeof STRENGTHS)[number][0];

interface Family {
  name: string;
  line: string;
  pads: Ink[];
}

const AT_HAND = ["full", "low"];

/** The pads that can be inked with, by family, each from light to deep. */
function familiesOf(inks: Ink[]): Family[] {
  const found = new Map<string, Family>();
  for (const ink of inks) {
    if (!AT_HAND.includes(ink.state)) continue;
    const name = ink.family ? `${ink.line} ${ink.family}` : ink.name;
    const known = found.get(name) ?? { name, line: ink.line, pads: [] };
    found.set(name, { ...known, pads: [...known.pads, ink].sort((a, b) => b.lightness - a.lightness) });
  }
  const hue = (f: Family) => ((f.pads[0]?.hue ?? 0) + 340) % 360;
  const grey = (f: Family) => (f.pads.every((p) => p.chroma < 12) ? 1 : 0);
  return [...found.values()].sort((a, b) => grey(a) - grey(b) || hue(a) - hue(b));
}

export function Families({ element, onClose }: { element: string; onClose: () => void }) {
  const { state, change, painter } = useShared();
  const [chosen, setChosen] = useState<string[]>([element]);
  const [strength, setStrength] = useState<Strength>("even");
  const [line, setLine] = useState("");
  const inks = useInks(state.stock);
  const families = familiesOf(inks.data ?? []);
  const values = (f: Family, pass: string) => ({
    elements: chosen,
    pads: f.pads.map((p) => p.key),
    strength,
    pass,
    ...(line ? { line } : {}),
  });
  const look = (f: Family | null) => {
    if (f && chosen.length)
      void painter.try([{ kind: "wear_family" as EditKind, values: values(f, "try-") }]);
    else painter.letGo();
  };
  const wear = (f: Family) => {
    painter.letGo();
    change("wear_family", values(f, `${freshKey()}-`));
  };
  const toggle = (name: string) =>
    setChosen(chosen.includes(name) ? chosen.filter((n) => n !== name) : [...chosen, name]);
  return (
    <Paper
      variant="card"
      component="section"
      aria-labelledby="families-title"
      onKeyDown={(e) => (e.key === "Escape" ? onClose() : walk(e))}
      onPointerLeave={() => look(null)}
      sx={{ p: 1.5, display: "grid", gap: 1.25 }}
    >
      <Box sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
        <Typography id="families-title" variant="h2" sx={{ flex: 1 }}>
          A family for {chosen.length === 1 ? chosen[0] : `${chosen.length} elements`}
        </Typography>
        <Button variant="text" onClick={onClose}>
          Close
        </Button>
      </Box>
      <Box role="group" aria-label="Elements to dress" sx={{ display: "flex", gap: 0.5, flexWrap: "wrap" }}>
        {state.elements
          .filter((e) => e.kind !== "free")
          .map((e) => (
            <Button
              key={e.name}
              variant={chosen.includes(e.name) ? "contained" : "outlined"}
              aria-pressed={chosen.includes(e.name)}
              onClick={() => toggle(e.name)}
              sx={{ minHeight: 28, px: 1, fontSize: 13 }}
            >
              {e.name}
            </Button>
          ))}
      </Box>
      <Choices apart label="Strength" value={strength} options={STRENGTHS} onChoose={setStrength} />
      <TextField
        select
        label="Ink of the lines"
        value={line}
        onChange={(e) => setLine(e.target.value)}
        sx={{ maxWidth: 260 }}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      >
        <MenuItem value="">the family's deepest</MenuItem>
        {[...(inks.data ?? [])]
          .filter((i) => AT_HAND.includes(i.state) && i.lightness < 50)
          .sort((a, b) => a.lightness - b.lightness)
          .map((i) => (
            <MenuItem key={i.key} value={i.key}>
              {i.name}
            </MenuItem>
          ))}
      </TextField>
      <Box component="ul" aria-label="Families" sx={{ display: "grid", gap: 0.25 }}>
        {families.map((f) => (
          <Box component="li" key={f.name} sx={{ listStyle: "none" }}>
            <ButtonBase
              data-family={f.name}
              disabled={chosen.length === 0}
              onClick={() => wear(f)}
              onPointerEnter={() => look(f)}
              onFocus={(e) => e.target.matches(":focus-visible") && look(f)}
              sx={{
                display: "flex",
                gap: 1,
                width: "100%",
                justifyContent: "start",
                p: 0.5,
                borderRadius: 1,
                "&:hover, &:focus-visible": { bgcolor: greys.white },
              }}
            >
              <Box sx={{ display: "flex", width: 212, flex: "none" }}>
                {f.pads.slice(0, 4).map((p) => (
                  <Dab key={p.key} dabs={p.dabs.slice(0, 1)} card={state.stock_colour.hex} width={52} />
                ))}
              </Box>
              <Typography component="span" sx={{ fontWeight: 560 }}>
                {f.name}
              </Typography>
              <Typography component="span" variant="caption" sx={{ color: greys.quiet }}>
                {f.pads.length === 1 ? "one pad, by coats and hand" : `${f.pads.length} pads`}
              </Typography>
            </ButtonBase>
          </Box>
        ))}
      </Box>
      <SwapLine inks={inks.data ?? []} />
    </Paper>
  );
}

/** A whole line for another: vivid for muted, by what each pad does. */
function SwapLine({ inks }: { inks: Ink[] }) {
  const { state, change } = useShared();
  const used = new Set(state.elements.flatMap((e) => e.rungs.map((r) => r.ink)));
  const lines = [...new Set(inks.filter((i) => AT_HAND.includes(i.state) && i.line).map((i) => i.line))];
  const worn = [...new Set(inks.filter((i) => used.has(i.key) && i.line).map((i) => i.line))];
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  if (worn.length === 0 || lines.length < 2) return null;
  const field = (label: string, value: string, options: string[], set: (v: string) => void) => (
    <TextField
      select
      label={label}
      value={value}
      onChange={(e) => set(e.target.value)}
      sx={{ minWidth: 150 }}
    >
      {options.map((l) => (
        <MenuItem key={l} value={l}>
          {l}
        </MenuItem>
      ))}
    </TextField>
  );
  const pads = inks.filter((i) => i.line === to && AT_HAND.includes(i.state)).map((i) => i.key);
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
      {field("A whole line", from, worn, setFrom)}
      {field(
        "for another",
        to,
        lines.filter((l) => l !== from),
        setTo,
      )}
      <Button
        variant="outlined"
        disabled={!from || !to}
        onClick={() => change("swap_line", { line: from, to, pads })}
      >
        Swap it
      </Button>
    </Box>
  );
}

/** Arrow keys walk from family to family, the picture following. */
function walk(event: KeyboardEvent<HTMLElement>) {
  const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (
    !by ||
    !(event.target instanceof HTMLElement) ||
    event.target.closest("[role=combobox], [role=listbox]")
  )
    return;
  const all = [...event.currentTarget.querySelectorAll<HTMLElement>("[data-family]")];
  const at = all.findIndex((d) => d === document.activeElement);
  const next = all[at < 0 ? 0 : Math.max(0, Math.min(all.length - 1, at + by))];
  if (!next) return;
  event.preventDefault();
  next.focus();
}
