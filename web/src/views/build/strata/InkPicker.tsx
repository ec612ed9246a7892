/** The drawer, opened beside the picture and never over it: every ink as it would look in this place. */
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, data, type Ink } from "../../../api/client";
import { useInks } from "../../../api/hooks";
import { keys } from "../../../api/keys";
import { Busy } from "../../../parts/Busy";
import { Dab } from "../../../parts/Dab";
import { walk } from "../../../parts/walk";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";

export interface Asked {
  title: string;
  passKey?: string;
  current?: string;
  ground?: string;
  recipes?: string;
  onChoose: (ink: string) => void;
  /** An ink pointed at, to be seen in place; null when it is left. */
  onLook?: (ink: string | null) => void;
}

export function InkPicker({ asked, onClose }: { asked: Asked | null; onClose: () => void }) {
  const { state, id } = useShared();
  const [words, setWords] = useState("");
  const inks = useInks(state.stock);
  const key = asked?.passKey;
  const tries = useQuery({
    queryKey: keys.tryouts(id, state.picture_key, key ?? ""),
    queryFn: () =>
      data(
        api.GET("/api/colourings/{id}/passes/{key}/tryouts", { params: { path: { id, key: key ?? "" } } }),
      ),
    enabled: key !== undefined,
  });
  const here = new Map(tries.data?.map((t) => [t.ink, t]));
  const wanted = words.trim().toLowerCase();
  const found = (inks.data ?? []).filter((i) =>
    `${i.name} ${i.family} ${i.line} ${i.chemistry}`.toLowerCase().includes(wanted),
  );
  const families = grouped(
    found,
    inks.data?.find((i) => i.key === asked?.current),
  );
  if (!asked) return null;
  return (
    <Paper
      variant="card"
      component="section"
      aria-labelledby="picker-title"
      onKeyDown={(e) => {
        if (e.key === "Escape") onClose();
        else walk(e, "[data-ink]");
      }}
      onPointerLeave={() => asked.onLook?.(null)}
      sx={{ p: 1.5, display: "grid", gap: 1 }}
    >
      <Box sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
        <Typography id="picker-title" variant="h2" sx={{ flex: 1 }}>
          {asked.title}
        </Typography>
        <Button variant="text" onClick={onClose}>
          Close the drawer
        </Button>
      </Box>
      <TextField
        fullWidth
        autoFocus
        label="Find by name, family or line"
        value={words}
        onChange={(e) => setWords(e.target.value)}
      />
      <Typography variant="caption" sx={{ color: greys.quiet }}>
        {key
          ? "The card behind each dab is what lies there now; the dab is this ink in that place. Point at one to see it in the picture."
          : `Dabs of one, two and three coats on ${state.stock_name}. Point at one to see it in the picture.`}
      </Typography>
      {asked.recipes && (
        <Typography variant="body2">
          <Link to={asked.recipes}>Not in the drawer? Find a recipe for the colour.</Link>
        </Typography>
      )}
      {inks.isPending && <Busy what="Opening the drawer" />}
      {inks.data && found.length === 0 && (
        <Typography sx={{ my: 2 }}>No pad in the drawer answers to “{words}”.</Typography>
      )}
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2, rowGap: 1 }}>
        {[...families].map(([family, members]) => (
          <Box key={family}>
            <Typography variant="caption" sx={{ fontWeight: 640 }}>
              {family}
            </Typography>
            <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "flex-start", gap: 0.5, mt: 0.25 }}>
              {members
                .sort((a, b) => b.lightness - a.lightness)
                .map((ink) => {
                  const own = here.get(ink.key);
                  return (
                    <ButtonBase
                      key={ink.key}
                      data-ink={ink.key}
                      onClick={() => asked.onChoose(ink.key)}
                      onPointerEnter={() => asked.onLook?.(ink.key)}
                      onFocus={(e) => e.target.matches(":focus-visible") && asked.onLook?.(ink.key)}
                      aria-current={ink.key === asked.current ? "true" : undefined}
                      sx={{
                        display: "block",
                        textAlign: "left",
                        p: 0.5,
                        width: 92,
                        borderRadius: 1,
                        border: `2px solid ${ink.key === asked.current ? greys.ink : "transparent"}`,
                        "&:hover": { bgcolor: greys.white },
                      }}
                    >
                      <Dab
                        dabs={own ? [own.here] : ink.dabs}
                        card={(own && asked.ground) ?? state.stock_colour.hex}
                        width={80}
                      />
                      <Typography variant="caption" component="div" sx={{ mt: 0.25 }}>
                        {ink.name}
                      </Typography>
                      {own && (
                        <Typography variant="caption" component="div" sx={{ color: greys.quiet }}>
                          {stepWord(own.change)}
                        </Typography>
                      )}
                    </ButtonBase>
                  );
                })}
            </Box>
          </Box>
        ))}
      </Box>
    </Paper>
  );
}

function stepWord(change: number): string {
  const figure = change.toFixed(0);
  if (change < 2) return "nothing to see";
  if (change < 4) return `step ${figure}, small`;
  if (change > 30) return `step ${figure}, large`;
  return `step ${figure}`;
}

/** The pass's own family first, then by hue; greys, white and black last. */
function familyRank(ink: Ink, own: Ink | undefined): number {
  if (own && ink.line === own.line && ink.family === own.family) return -1;
  return ink.chroma < 12 ? 400 : ((ink.hue + 340) % 360) + (ink.opaque ? 0.5 : 0);
}

function grouped(inks: Ink[], own: Ink | undefined): Map<string, Ink[]> {
  const found = new Map<string, Ink[]>();
  for (const ink of [...inks].sort((a, b) => familyRank(a, own) - familyRank(b, own))) {
    const family = `${ink.line} · ${ink.family}`;
    found.set(family, [...(found.get(family) ?? []), ink]);
  }
  return found;
}
