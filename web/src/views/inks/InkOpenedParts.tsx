/** The parts of an ink opened: its dabs on every card, its ladder, what is alike, where it is used. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { type Ink, type Opened } from "../../api/client";
import { Chip, Dab } from "../../parts/Dab";
import { coatsSaid } from "../../parts/words";
import { greys } from "../../theme/theme";

export function OnCards({ cards }: { cards: Opened["cards"] }) {
  return (
    <Box>
      <Box sx={{ display: "grid", gap: 1, gridTemplateColumns: "repeat(auto-fill, minmax(98px, 1fr))" }}>
        {cards.map((c) => {
          const count = c.measured.filter(Boolean).length;
          return (
            <Box key={c.stock}>
              <Dab
                dabs={c.dabs}
                card={c.card}
                width={98}
                title={`${c.name}: one, two and three coats, ${count} of them measured`}
              />
              <Typography variant="caption" component="div">
                {c.name}
              </Typography>
              <Typography variant="caption" component="div" sx={{ color: greys.quiet }}>
                {count === 3 ? "measured" : count ? `${count} of 3 measured` : "predicted"}
              </Typography>
            </Box>
          );
        })}
      </Box>
      <Typography variant="caption" sx={{ color: greys.quiet }}>
        Outer edge one coat, then two, then three.
        {cards.some((c) => c.dabs.some((d) => !d.in_gamut))
          ? " A screen cannot show it quite this strong everywhere."
          : ""}
      </Typography>
    </Box>
  );
}

/** The family from light to deep: each pad at its lightness. */
export function Ladder({
  kin,
  own,
  card,
  onOpen,
}: {
  kin: Ink[];
  own: string;
  card: string;
  onOpen: (key: string) => void;
}) {
  return (
    <Box component="section" aria-label="Its family">
      <Typography variant="h3">Its family, light to deep</Typography>
      <Box sx={{ display: "flex", mt: 0.5, gap: 0.5, overflowX: "auto" }}>
        {kin.map((k) => (
          <Box
            key={k.key}
            component="button"
            type="button"
            aria-current={k.key === own ? "true" : undefined}
            onClick={() => onOpen(k.key)}
            sx={{
              border: `2px solid ${k.key === own ? greys.ink : "transparent"}`,
              borderRadius: 1,
              p: 0.5,
              bgcolor: "transparent",
              cursor: "pointer",
              font: "inherit",
              fontSize: 12,
              textAlign: "left",
              width: 84,
              flex: "none",
            }}
          >
            <Dab dabs={k.dabs} card={card} width={70} />
            <Box sx={{ lineHeight: 1.2 }}>{k.name}</Box>
            <Box sx={{ color: greys.quiet }}>L* {Math.round(k.lightness)}</Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}

export function Alike({
  title,
  none,
  found,
  card,
  onOpen,
}: {
  title: string;
  none: string;
  found: Opened["stands_in"];
  card: string;
  onOpen: (key: string) => void;
}) {
  if (!found.length && !none) return null;
  return (
    <Box component="section" aria-label={title}>
      <Typography variant="h3">{title}</Typography>
      {!found.length && <Typography variant="body2">{none}</Typography>}
      <Box component="ul">
        {found.slice(0, 4).map((f) => (
          <Box
            component="li"
            key={f.ink}
            sx={{ display: "grid", gridTemplateColumns: "36px 1fr", gap: 1, alignItems: "center", py: 0.25 }}
          >
            <Chip colour={f.hex} card={card} />
            <Typography variant="body2">
              <Box
                component="button"
                type="button"
                onClick={() => onOpen(f.ink)}
                sx={{
                  border: 0,
                  p: 0,
                  bgcolor: "transparent",
                  font: "inherit",
                  fontWeight: 620,
                  cursor: "pointer",
                  textDecoration: "underline",
                  minHeight: 24,
                }}
              >
                {f.name}
              </Box>
              , {title.startsWith("It") ? `${coatsSaid(f.coats)} of this` : coatsSaid(f.coats)}: {f.words} (
              {f.de00.toFixed(1)})
            </Typography>
          </Box>
        ))}
      </Box>
    </Box>
  );
}

export function UsedIn({ used, ink }: { used: Opened["used"]; ink: string }) {
  return (
    <Box component="section" aria-label="Where it is used">
      <Typography variant="h3">Where it is used</Typography>
      {!used.length && <Typography variant="body2">In no build so far.</Typography>}
      {used.map((u) => (
        <Typography key={u.id} variant="body2">
          <Link to={`/builds/${u.id}/strata?element=${encodeURIComponent(u.elements[0] ?? "")}`}>
            {u.name}
          </Link>
          : {u.elements.join(", ")}.{" "}
          <Link
            to={`/builds/${u.id}/strata?element=${encodeURIComponent(u.elements[0] ?? "")}&standin=${ink}`}
          >
            Stand-in
          </Link>
        </Typography>
      ))}
    </Box>
  );
}
