/** One recipe: its core, its difference in words, its effort and cautions, and where it goes next. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useNavigate } from "react-router";
import { useAct } from "../../../api/acts";
import { api, data, type Recipe } from "../../../api/client";
import { keys } from "../../../api/keys";
import { minutes } from "../../../parts/lengths";
import { capital } from "../../../parts/words";
import { greys } from "../../../theme/theme";
import type { Place } from "./UseInBuild";

const COUNT = ["", "one pad", "two pads", "three pads"];

interface Props {
  recipe: Recipe;
  wanted: string;
  card: string;
  stock: string;
  place: Place;
  onUse: () => void;
  onWithout: (ink: string) => void;
}

export function Answer({ recipe, wanted, card, stock, place, onUse, onWithout }: Props) {
  const navigate = useNavigate();
  const swatch = useAct(
    () => {
      // each pad by itself as well: where the mix comes out wrong, that tells which pad it was
      const fields = [
        ...(recipe.passes.length > 1 ? [recipe.passes] : []),
        ...recipe.passes.map((p) => [p]),
      ].map((passes) => ({ passes: passes.map((p) => ({ ink: p.ink, coats: p.coats })) }));
      return data(
        api.POST("/api/swatch-cards", { body: { stock, paper: "A4", title: "Test swatch", fields } }),
      );
    },
    {
      changes: [keys.swatchCards],
      then: (made) => navigate(`/inks/swatch-cards/${made.id}`),
      otherwise: "That swatch could not be laid out.",
    },
  );
  return (
    <Paper
      variant="card"
      component="li"
      sx={{
        p: 1.5,
        display: "grid",
        gridTemplateColumns: "88px 1fr",
        gap: 1.5,
      }}
    >
      <Core recipe={recipe} wanted={wanted} card={card} />
      <Box sx={{ minWidth: 0 }}>
        <Typography sx={{ fontWeight: 640 }}>
          {capital(recipe.words)}{" "}
          <Box component="span" sx={{ fontWeight: 400, color: greys.quiet }}>
            ({recipe.de00.toFixed(1)})
          </Box>
        </Typography>
        <Box component="ol">
          {recipe.passes.map((p, i) => (
            <Box component="li" key={p.ink} sx={{ display: "flex", alignItems: "baseline", gap: 0.5 }}>
              <Typography variant="body2" sx={{ flex: 1 }}>
                {i ? "then " : ""}
                <strong>{p.name}</strong>, {p.coats} {p.coats === 1 ? "coat" : "coats"}
              </Typography>
              <Box
                component="button"
                type="button"
                onClick={() => onWithout(p.ink)}
                aria-label={`Without ${p.name}`}
                title="Leave this pad out"
                sx={{
                  border: 0,
                  background: "none",
                  cursor: "pointer",
                  font: "inherit",
                  fontSize: 13,
                  textDecoration: "underline",
                  color: greys.ink,
                  minHeight: 24,
                }}
              >
                without
              </Box>
            </Box>
          ))}
        </Box>
        <Typography variant="caption" sx={{ display: "block", color: greys.quiet }}>
          {COUNT[recipe.pads]}, {recipe.coats} {recipe.coats === 1 ? "coat" : "coats"}
          {recipe.wait_minutes > 0 ? `, ${minutes(recipe.wait_minutes)} to dry in between` : ""}
        </Typography>
        {recipe.cautions.map((c) => (
          <Typography
            key={c}
            variant="caption"
            sx={{ display: "block", borderLeft: `3px solid ${greys.ink}`, pl: 0.75, mt: 0.5 }}
          >
            {c}
          </Typography>
        ))}
        <Box sx={{ display: "flex", gap: 0.5, flexWrap: "wrap", mt: 0.5 }}>
          <Button variant="outlined" onClick={onUse}>
            {place.element ? `Use it on ${place.element}` : "Use in a build"}
          </Button>
          <Button variant="text" disabled={swatch.isPending} onClick={() => swatch.mutate()}>
            Print a test swatch
          </Button>
        </Box>
      </Box>
    </Paper>
  );
}

/** A core: the card at the foot, each pass as a layer, and the wanted colour beside the top. */
function Core({ recipe, wanted, card }: { recipe: Recipe; wanted: string; card: string }) {
  const layers = recipe.passes.map((p) => p.after.hex);
  const height = 70 / layers.length;
  return (
    <svg
      viewBox="0 0 88 96"
      width={88}
      height={96}
      role="img"
      aria-label="The wanted colour beside the predicted one, and the layers beneath"
    >
      <rect x="0" y="0" width="44" height="86" rx="2" fill={wanted} />
      {layers.map((hex, i) => (
        <rect
          key={i}
          x="44"
          y={(layers.length - 1 - i) * height}
          width="44"
          height={height + 16}
          fill={hex}
        />
      ))}
      <rect x="0" y="86" width="88" height="10" fill={card} stroke={greys.edge} strokeWidth="0.500" />
    </svg>
  );
}
