/** A photographed card over what was predicted of it: wiped from one to the other, and element by element. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { ElementFound, MadeCard, PhotographRead } from "../../api/client";
import { ColourPair } from "../../parts/ColourPair";
import { greys } from "../../theme/theme";
import { recordPicture, straight } from "./words";

type Found = NonNullable<PhotographRead["found"]>;

export function Against({ made, number, found }: { made: MadeCard; number: number; found: Found }) {
  const differ = found.elements.filter((e) => e.differs);
  return (
    <Box sx={{ display: "grid", gap: 1.25 }}>
      <Wipe made={made} number={number} />
      <Typography>
        {differ.length === 0
          ? "It came out as predicted, as far as a photograph can tell."
          : `${differ.length} of ${found.elements.length} parts came out otherwise than predicted.`}{" "}
        <Typography component="span" variant="caption" sx={{ color: greys.quiet }}>
          Outlines meet to about {Math.max(0.1, found.off_mm).toFixed(1)} mm; the light was told by{" "}
          {found.patches} places of bare card.
        </Typography>
      </Typography>
      <Box component="ul" sx={{ display: "grid", gap: 0.75 }}>
        {found.elements.map((element) => (
          <Part key={element.element} told={element} />
        ))}
      </Box>
    </Box>
  );
}

/** The photograph put straight over the prediction, its edge pushed from side to side. */
function Wipe({ made, number }: { made: MadeCard; number: number }) {
  const [share, setShare] = useState(50);
  const whole = { width: "100%", display: "block", aspectRatio: `1 / ${made.aspect}` } as const;
  return (
    <Box>
      <Box sx={{ position: "relative", bgcolor: greys.ground, lineHeight: 0 }}>
        <Box component="img" src={recordPicture(made.id)} alt="As predicted" sx={whole} />
        <Box
          component="img"
          src={straight(made.id, number)}
          alt="As photographed, put straight and evened"
          sx={{
            ...whole,
            position: "absolute",
            inset: 0,
            height: "100%",
            clipPath: `inset(0 0 0 ${share}%)`,
          }}
        />
        <Box
          aria-hidden="true"
          sx={{
            position: "absolute",
            top: 0,
            bottom: 0,
            left: `${share}%`,
            borderLeft: `2px solid ${greys.white}`,
            boxShadow: `-1px 0 0 ${greys.ink}`,
          }}
        />
        <Box
          component="input"
          type="range"
          min={0}
          max={100}
          value={share}
          aria-label="From predicted to photographed"
          onChange={(e) => setShare(Number((e.target as HTMLInputElement).value))}
          sx={{
            position: "absolute",
            inset: 0,
            width: "100%",
            height: "100%",
            opacity: 0,
            cursor: "ew-resize",
            touchAction: "pan-y",
            m: 0,
          }}
        />
      </Box>
      <Box sx={{ display: "flex", justifyContent: "space-between", mt: 0.5 }}>
        <Typography variant="caption">predicted</Typography>
        <Typography variant="caption">photographed</Typography>
      </Box>
    </Box>
  );
}

function Part({ told }: { told: ElementFound }) {
  return (
    <Box
      component="li"
      sx={{ display: "grid", gridTemplateColumns: "76px 1fr", gap: 1.25, alignItems: "center" }}
    >
      <ColourPair before={told.predicted.hex} after={told.found.hex} />
      <Box>
        <Typography sx={{ fontWeight: told.differs ? 640 : 400 }}>
          {told.element}: {told.differs ? `came out ${told.words}` : told.words}
        </Typography>
        {told.guess && <Typography variant="body2">{told.guess}</Typography>}
        <Typography variant="caption" sx={{ color: greys.quiet }}>
          {told.de00.toFixed(1)} apart (CIEDE2000), the photograph tells to about {told.margin.toFixed(1)}
          {told.share < 0.7 ? `; ${Math.round(100 * told.share)} % of it could be read` : ""}
        </Typography>
      </Box>
    </Box>
  );
}
