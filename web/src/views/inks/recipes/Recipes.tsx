/** What makes this colour on this card from the pads in the drawer? */
import Box from "@mui/material/Box";
import Chip from "@mui/material/Chip";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import type { Recipe, Wanted } from "../../../api/client";
import { useInks, useStocks } from "../../../api/hooks";
import { Busy } from "../../../parts/Busy";
import { minutes } from "../../../parts/lengths";
import { Trouble } from "../../../parts/Trouble";
import { greys } from "../../../theme/theme";
import { useLatest } from "./useLatest";
import { type Target, WantedColour } from "./WantedColour";

const COUNT = ["", "one pad", "two pads", "three pads"];

export function Component() {
  const stocks = useStocks();
  const [params, setParams] = useSearchParams();
  const stock = params.get("card") ?? stocks.data?.[0]?.key;
  const inks = useInks(stock);
  const [target, setTarget] = useState<Target>({ lab: [58, -28, 22] });
  const [limits, setLimits] = useState({ pads: 3, coats: 3, chemistry: "", line: "" });
  const [without, setWithout] = useState<string[]>([]);
  const wanted: Wanted | null = stock
    ? { stock, ...target, max_pads: limits.pads, max_coats: limits.coats, keep: 9, without, ...(limits.chemistry ? { chemistry: limits.chemistry as NonNullable<Wanted["chemistry"]> } : {}), ...(limits.line ? { line: limits.line } : {}) }
    : null;
  const { answer, trouble } = useLatest(inks.data?.length ? wanted : null);
  useEffect(() => {
    document.title = "Recipes · Anastrata";
  }, []);
  if (inks.isPending || stocks.isPending) return <Busy what="Opening the drawer" />;
  if (inks.error) return <Trouble error={inks.error} again={() => void inks.refetch()} />;
  const card = stocks.data?.find((s) => s.key === stock);
  const lines = [...new Set(inks.data.map((i) => i.line))].filter(Boolean).sort();
  const kinds = [...new Set(inks.data.map((i) => i.chemistry))].sort();
  const choose = (label: string, value: string | number, options: [string | number, string][], onChange: (value: string) => void) => (
    <TextField select label={label} value={value} onChange={(e) => onChange(e.target.value)} sx={{ minWidth: 150 }}>
      {options.map(([v, text]) => <MenuItem key={v} value={v}>{text}</MenuItem>)}
    </TextField>
  );
  return (
    <Box sx={{ p: { xs: 2, sm: 3 }, display: "grid", gap: 2.5, gridTemplateColumns: { xs: "1fr", md: "330px minmax(0, 1fr)" }, alignItems: "start" }}>
      <WantedColour shown={answer?.wanted} inks={inks.data} onWant={setTarget} />
      <Box sx={{ display: "grid", gap: 2 }}>
        <Box>
          <Typography variant="h1">What makes this colour?</Typography>
          <Typography variant="body2">{inks.data.length ? `From ${answer?.inks ?? inks.data.length} pads on ${card?.name ?? "this card"}, each laid dry over dry in up to ${answer?.coats ?? 3} coats.` : "The drawer is empty. Add the pads you own first."}</Typography>
        </Box>
        <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap" }}>
          {choose("Card", stock ?? "", (stocks.data ?? []).map((s) => [s.key, s.name]), (v) => setParams({ card: v }, { replace: true }))}
          {choose("At most", limits.pads, [[1, "one pad"], [2, "two pads"], [3, "three pads"]], (v) => setLimits({ ...limits, pads: Number(v) }))}
          {choose("Coats a pass", limits.coats, [[1, "one"], [2, "up to two"], [3, "up to three"]], (v) => setLimits({ ...limits, coats: Number(v) }))}
          {choose("Kind of ink", limits.chemistry, [["", "any"], ...kinds.map((k): [string, string] => [k, k])], (v) => setLimits({ ...limits, chemistry: v }))}
          {choose("Line", limits.line, [["", "any"], ...lines.map((l): [string, string] => [l, l])], (v) => setLimits({ ...limits, line: v }))}
        </Box>
        {without.length > 0 && (
          <Box sx={{ display: "flex", gap: 0.75, flexWrap: "wrap", alignItems: "center" }}>
            <Typography variant="body2">Without</Typography>
            {without.map((k) => <Chip key={k} label={inks.data.find((i) => i.key === k)?.name ?? k} onDelete={() => setWithout(without.filter((w) => w !== k))} sx={{ borderRadius: 1, bgcolor: greys.bench }} />)}
          </Box>
        )}
        {trouble && <Typography role="alert" sx={{ fontWeight: 600 }}>{trouble}</Typography>}
        {answer && !trouble && (
          <Box component="ol" aria-label="Recipes" sx={{ listStyle: "none", p: 0, m: 0, display: "grid", gap: 1, gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 400px), 1fr))" }}>
            {answer.recipes.map((r) => <Answer key={r.passes.map((p) => `${p.ink}${p.coats}`).join()} recipe={r} wanted={answer.wanted.hex} card={card?.hex ?? "#fff"} onWithout={(k) => setWithout([...without, k])} />)}
          </Box>
        )}
        <Typography variant="caption">A prediction from measured swatches. Try it on a scrap of the same card.</Typography>
      </Box>
    </Box>
  );
}

function Answer({ recipe, wanted, card, onWithout }: { recipe: Recipe; wanted: string; card: string; onWithout: (ink: string) => void }) {
  return (
    <Box component="li" sx={{ bgcolor: greys.sheet, border: `1px solid ${greys.line}`, borderRadius: 1, p: 1.5, display: "grid", gridTemplateColumns: "88px 1fr", gap: 1.5 }}>
      <Core recipe={recipe} wanted={wanted} card={card} />
      <Box sx={{ minWidth: 0 }}>
        <Typography sx={{ fontWeight: 640 }}>{recipe.words[0]?.toUpperCase()}{recipe.words.slice(1)} <Box component="span" sx={{ fontWeight: 400, color: greys.quiet }}>({recipe.de00.toFixed(1)})</Box></Typography>
        <Box component="ol" sx={{ listStyle: "none", m: 0, p: 0 }}>
          {recipe.passes.map((p, i) => (
            <Box component="li" key={p.ink} sx={{ display: "flex", alignItems: "baseline", gap: 0.5 }}>
              <Typography variant="body2" sx={{ flex: 1 }}>{i ? "then " : ""}<strong>{p.name}</strong>, {p.coats} {p.coats === 1 ? "coat" : "coats"}</Typography>
              <Box component="button" type="button" onClick={() => onWithout(p.ink)} aria-label={`Without ${p.name}`} title="Leave this pad out" sx={{ border: 0, background: "none", cursor: "pointer", fontSize: 13, textDecoration: "underline", color: greys.ink, minHeight: 24 }}>without</Box>
            </Box>
          ))}
        </Box>
        <Typography variant="caption" sx={{ display: "block", color: greys.quiet }}>{COUNT[recipe.pads]}, {recipe.coats} {recipe.coats === 1 ? "coat" : "coats"}{recipe.wait_minutes > 0 ? `, ${minutes(recipe.wait_minutes)} to dry in between` : ""}</Typography>
        {recipe.cautions.map((c) => <Typography key={c} variant="caption" sx={{ display: "block", borderLeft: `3px solid ${greys.ink}`, pl: 0.75, mt: 0.5 }}>{c}</Typography>)}
      </Box>
    </Box>
  );
}

/** A core: the card at the foot, each pass as a layer, and the wanted colour beside the top. */
function Core({ recipe, wanted, card }: { recipe: Recipe; wanted: string; card: string }) {
  const layers = recipe.passes.map((p) => p.after.hex);
  const height = 70 / layers.length;
  return (
    <svg viewBox="0 0 88 96" width={88} height={96} role="img" aria-label="The wanted colour beside the predicted one, and the layers beneath">
      <rect x="0" y="0" width="44" height="86" rx="2" fill={wanted} />
      {layers.map((hex, i) => <rect key={i} x="44" y={(layers.length - 1 - i) * height} width="44" height={height + 16} fill={hex} />)}
      <rect x="0" y="86" width="88" height="10" fill={card} stroke="#8a8a8a" strokeWidth="0.500" />
    </svg>
  );
}
