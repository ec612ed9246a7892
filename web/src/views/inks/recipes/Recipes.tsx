/** What makes this colour on this card from the pads in the drawer? */
import Box from "@mui/material/Box";
import Chip from "@mui/material/Chip";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import type { Recipe, Wanted } from "../../../api/client";
import { useDrawer } from "../../../api/hooks";
import { Busy } from "../../../parts/Busy";
import { Trouble } from "../../../parts/Trouble";
import { greys } from "../../../theme/theme";
import { Answer } from "./Answer";
import { type Place, UseInBuild } from "./UseInBuild";
import { useLatest } from "./useLatest";
import { type Target, WantedColour } from "./WantedColour";

/** The wanted colour that an address carries, as L*, a*, b* with commas. */
function fromAddress(text: string | null): Target {
  const lab = (text ?? "").split(",").map(Number);
  const [l = 58, a = -28, b = 22] = lab.length === 3 && lab.every(Number.isFinite) ? lab : [];
  return { lab: [l, a, b] };
}

export function Component() {
  const [params, setParams] = useSearchParams();
  const { inks, stocks, stock } = useDrawer(params.get("card") ?? undefined);
  const [target, setTarget] = useState<Target>(() => fromAddress(params.get("lab")));
  const [limits, setLimits] = useState({ pads: 3, coats: 3, chemistry: "", line: "" });
  const [without, setWithout] = useState<string[]>(() => params.getAll("without"));
  const wanted: Wanted | null = stock
    ? {
        stock,
        ...target,
        max_pads: limits.pads,
        max_coats: limits.coats,
        keep: 9,
        without,
        ...(limits.chemistry ? { chemistry: limits.chemistry as NonNullable<Wanted["chemistry"]> } : {}),
        ...(limits.line ? { line: limits.line } : {}),
      }
    : null;
  const { answer, trouble } = useLatest(inks.data?.length ? wanted : null);
  const [laid, setLaid] = useState<Recipe | null>(null);
  const place: Place = {
    build: Number(params.get("build")) || null,
    element: params.get("element"),
    sheet: Number(params.get("sheet")) || null,
    pass: params.get("pass"),
  };
  useEffect(() => {
    document.title = "Recipes · Anastrata";
  }, []);
  if (inks.isPending || stocks.isPending) return <Busy what="Opening the drawer" />;
  if (inks.error) return <Trouble alone error={inks.error} again={() => void inks.refetch()} />;
  const card = stocks.data?.find((s) => s.key === stock);
  const lines = [...new Set(inks.data.map((i) => i.line))].filter(Boolean).sort();
  const kinds = [...new Set(inks.data.map((i) => i.chemistry))].sort();
  const choose = (
    label: string,
    value: string | number,
    options: [string | number, string][],
    onChange: (value: string) => void,
  ) => (
    <TextField
      select
      label={label}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      sx={{ minWidth: 150 }}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      {options.map(([v, text]) => (
        <MenuItem key={v} value={v}>
          {text}
        </MenuItem>
      ))}
    </TextField>
  );
  return (
    <Box
      sx={{
        p: { xs: 2, sm: 3 },
        display: "grid",
        gap: 2.5,
        gridTemplateColumns: { xs: "1fr", md: "330px minmax(0, 1fr)" },
        alignItems: "start",
      }}
    >
      <WantedColour shown={answer?.wanted} inks={inks.data} onWant={setTarget} />
      <Box sx={{ display: "grid", gap: 2 }}>
        <Box>
          <Typography variant="h1">What makes this colour?</Typography>
          <Typography variant="body2">
            {inks.data.length
              ? `From ${answer?.inks ?? inks.data.length} pads on ${card?.name ?? "this card"}, each laid dry over dry in up to ${answer?.coats ?? 3} coats.`
              : "The drawer is empty. Add the pads you own first."}
          </Typography>
        </Box>
        <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap" }}>
          {choose(
            "Card",
            stock ?? "",
            (stocks.data ?? []).map((s) => [s.key, s.name]),
            (v) =>
              setParams(
                (old) => {
                  const fresh = new URLSearchParams(old);
                  fresh.set("card", v);
                  return fresh;
                },
                { replace: true },
              ),
          )}
          {choose(
            "At most",
            limits.pads,
            [
              [1, "one pad"],
              [2, "two pads"],
              [3, "three pads"],
            ],
            (v) => setLimits({ ...limits, pads: Number(v) }),
          )}
          {choose(
            "Coats a pass",
            limits.coats,
            [
              [1, "one"],
              [2, "up to two"],
              [3, "up to three"],
            ],
            (v) => setLimits({ ...limits, coats: Number(v) }),
          )}
          {choose(
            "Kind of ink",
            limits.chemistry,
            [["", "any"], ...kinds.map((k): [string, string] => [k, k])],
            (v) => setLimits({ ...limits, chemistry: v }),
          )}
          {choose("Line", limits.line, [["", "any"], ...lines.map((l): [string, string] => [l, l])], (v) =>
            setLimits({ ...limits, line: v }),
          )}
        </Box>
        {without.length > 0 && (
          <Box sx={{ display: "flex", gap: 0.75, flexWrap: "wrap", alignItems: "center" }}>
            <Typography variant="body2">Without</Typography>
            {without.map((k) => (
              <Chip
                key={k}
                label={inks.data.find((i) => i.key === k)?.name ?? k}
                onDelete={() => setWithout(without.filter((w) => w !== k))}
                sx={{ borderRadius: 1, bgcolor: greys.bench }}
              />
            ))}
          </Box>
        )}
        {trouble && (
          <Typography role="alert" sx={{ fontWeight: 600 }}>
            {trouble}
          </Typography>
        )}
        {answer && !trouble && (
          <Box
            component="ol"
            aria-label="Recipes"
            sx={{
              display: "grid",
              gap: 1,
              gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 400px), 1fr))",
            }}
          >
            {answer.recipes.map((r) => (
              <Answer
                key={r.passes.map((p) => `${p.ink}${p.coats}`).join()}
                recipe={r}
                wanted={answer.wanted.hex}
                card={card?.hex ?? greys.white}
                stock={stock ?? ""}
                place={place}
                onUse={() => setLaid(r)}
                onWithout={(k) => setWithout([...without, k])}
              />
            ))}
          </Box>
        )}
        <Typography variant="caption">
          A prediction from measured swatches. Try it on a scrap of the same card.
        </Typography>
        {laid && <UseInBuild recipe={laid} stock={stock ?? ""} place={place} onClose={() => setLaid(null)} />}
      </Box>
    </Box>
  );
}
