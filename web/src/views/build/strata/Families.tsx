/** Families of pads for an element, or for several at once: light, mid and deep fall where they belong. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { freshKey } from "../../../api/acts";
import type { EditKind, Ink } from "../../../api/client";
import { useInks } from "../../../api/hooks";
import { Chips } from "../../../parts/Chips";
import { Choices } from "../../../parts/Choices";
import { Dab } from "../../../parts/Dab";
import { AT_HAND } from "../../../parts/pads";
import { Select } from "../../../parts/Select";
import { walk } from "../../../parts/walk";
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
  return (
    <Paper
      variant="card"
      component="section"
      aria-labelledby="families-title"
      onKeyDown={(e) => (e.key === "Escape" ? onClose() : walk(e, "[data-family]"))}
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
      <Chips
        label="Elements to dress"
        names={state.elements.filter((e) => e.kind !== "free").map((e) => e.name)}
        chosen={chosen}
        onChoose={setChosen}
      />
      <Choices apart label="Strength" value={strength} options={STRENGTHS} onChoose={setStrength} />
      <Select
        label="Ink of the lines"
        value={line}
        none="the family's deepest"
        options={[...(inks.data ?? [])]
          .filter((i) => AT_HAND.includes(i.state) && i.lightness < 50)
          .sort((a, b) => a.lightness - b.lightness)
          .map((i) => [i.key, i.name] as const)}
        onChoose={setLine}
        width={260}
      />
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
  const named = (all: string[]) => all.map((l) => [l, l] as const);
  const pads = inks.filter((i) => i.line === to && AT_HAND.includes(i.state)).map((i) => i.key);
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
      <Select label="A whole line" value={from} options={named(worn)} onChoose={setFrom} minWidth={150} />
      <Select
        label="for another"
        value={to}
        options={named(lines.filter((l) => l !== from))}
        onChoose={setTo}
        minWidth={150}
      />
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
