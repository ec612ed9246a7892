/** A set opened: its sheets side by side and on top of each other, with their measures where they are. */
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useParams } from "react-router";
import type { Group, LayerSet } from "../../api/client";
import { useSession, useSet } from "../../api/hooks";
import { Busy } from "../../parts/Busy";
import { length, size } from "../../parts/lengths";
import { sheetGrey } from "../../parts/SetPreview";
import { Trouble } from "../../parts/Trouble";
import { greys } from "../../theme/theme";

export function Component() {
  const set = useSet(Number(useParams().setId));
  if (set.isPending) return <Busy what="Laying out the sheets" />;
  if (set.error) return <Trouble error={set.error} again={() => void set.refetch()} />;
  return <Opened set={set.data} />;
}

function Opened({ set }: { set: LayerSet }) {
  const units = useSession().data?.units ?? "in";
  const [shown, setShown] = useState<number[]>(set.sheets.map((s) => s.number));
  const [pointed, setPointed] = useState<Group | null>(null);
  const toggle = (n: number) => setShown(shown.includes(n) ? shown.filter((s) => s !== n) : [...shown, n].sort());
  return (
    <Box sx={{ p: { xs: 2, sm: 3 }, display: "grid", gridTemplateColumns: { xs: "1fr", md: "minmax(340px, 480px) 1fr" }, gap: 3, alignItems: "start" }}>
      <Box sx={{ display: "grid", gap: 1 }}>
        <Typography variant="h1">{set.name}</Typography>
        <Typography>A {set.kind} of {set.sheet_count} sheets, {set.opening_count} openings, {size(set.width_mm, set.height_mm, units)}</Typography>
        <Stacked set={set} shown={shown} pointed={pointed} onPoint={setPointed} />
        <Measures set={set} group={pointed} />
        {set.left_out.map((sentence) => <Typography key={sentence} variant="body2" sx={{ fontWeight: 600 }}>{sentence}</Typography>)}
      </Box>
      <Box>
        <Typography variant="h2">The sheets</Typography>
        <Typography variant="body2" sx={{ mb: 1.5 }}>Press a sheet to take it off the stack or put it back. Point at openings to see what they are.</Typography>
        <Box sx={{ display: "grid", gap: 1.5, gridTemplateColumns: "repeat(auto-fill, minmax(180px, 1fr))" }}>
          {set.sheets.map((sheet, i) => (
            <Box key={sheet.number} sx={{ opacity: shown.includes(sheet.number) ? 1 : 0.55 }}>
              <ButtonBase aria-pressed={shown.includes(sheet.number)} aria-label={`Sheet ${sheet.number}, ${sheet.name}`} onClick={() => toggle(sheet.number)} sx={{ display: "block", width: "100%", border: `2px solid ${shown.includes(sheet.number) ? greys.ink : greys.line}`, borderRadius: 1, overflow: "hidden" }}>
                <svg viewBox={`0 0 ${set.width_mm} ${set.height_mm}`} width="100%" style={{ display: "block", background: "#fafafa" }} aria-hidden="true">
                  {sheet.groups.map((g) => <path key={g.element} d={g.outline} fill={g.element === pointed?.element ? greys.ink : sheetGrey(Math.max(1, i), set.sheets.length)} onPointerEnter={() => setPointed(g)} />)}
                  <path d={sheet.marks} fill={greys.ink} />
                </svg>
              </ButtonBase>
              <Typography variant="body2" sx={{ fontWeight: 640, mt: 0.5 }}>{sheet.number}. {sheet.name}</Typography>
              <Typography variant="caption">{sheet.openings} openings: {sheet.groups.map((g) => g.element).join(", ")}</Typography>
            </Box>
          ))}
        </Box>
      </Box>
    </Box>
  );
}

interface StackedProps {
  set: LayerSet;
  shown: number[];
  pointed: Group | null;
  onPoint: (group: Group | null) => void;
}

function Stacked({ set, shown, pointed, onPoint }: StackedProps) {
  return (
    <svg viewBox={`0 0 ${set.width_mm} ${set.height_mm}`} role="img" aria-label={`Sheets ${shown.join(", ")} on top of each other`} style={{ width: "100%", maxHeight: "66dvh", display: "block", background: "#fafafa", boxShadow: "0 1px 3px rgba(0,0,0,.35)" }}>
      {set.sheets.map((sheet, i) => shown.includes(sheet.number) && (
        <g key={sheet.number} fill={sheetGrey(i, set.sheets.length)} fillOpacity={0.82}>
          {sheet.groups.map((g) => <path key={g.element} d={g.outline} onPointerEnter={() => onPoint(g)} stroke={pointed?.element === g.element ? greys.ink : "none"} strokeWidth="0.600" />)}
          <path d={sheet.marks} fill={greys.ink} fillOpacity={1} />
        </g>
      ))}
    </svg>
  );
}

function Measures({ set, group }: { set: LayerSet; group: Group | null }) {
  const units = useSession().data?.units ?? "in";
  if (!group) return <Typography variant="body2" sx={{ minHeight: 66 }}>Point at an opening: its element, its area and the brush that fits are shown here.</Typography>;
  const under = set.overlaps.filter((o) => o.over.element === group.element && o.over.sheet === group.sheet).map((o) => `${o.under.element} (sheet ${o.under.sheet})`);
  return (
    <Box sx={{ minHeight: 66 }} aria-live="polite">
      <Typography sx={{ fontWeight: 640 }}>{group.element}, sheet {group.sheet}</Typography>
      <Typography variant="body2">
        {group.openings} openings, {Math.round(group.area_mm2)} mm² in all, typically {length(group.width_mm, units === "in" ? "mm" : units)} wide: {group.brush}.
      </Typography>
      {under.length > 0 && <Typography variant="body2">Lies over {[...new Set(under)].join(", ")}.</Typography>}
    </Box>
  );
}
