/** All that is drying, each by its own clock, and heard when it is dry. */
import Box from "@mui/material/Box";
import { useEffect, useRef } from "react";
import { greys, signal } from "../../../theme/theme";
import { type Clock, shown, useSeconds } from "./clocks";
import { ring } from "./manner";

export function Clocks({ clocks, cards, sound }: { clocks: Clock[]; cards: number; sound: boolean }) {
  const now = useSeconds();
  // what lies on one place is dry when the last of it is
  const own = cards > 1 ? clocks.map(byCard) : clocks;
  const last = new Map(own.map((c) => [`${c.card} ${c.what}`, c]));
  for (const c of own)
    if (c.dry > (last.get(`${c.card} ${c.what}`)?.dry ?? 0)) last.set(`${c.card} ${c.what}`, c);
  const wet = [...last.values()].filter((c) => c.dry > now).sort((a, b) => a.dry - b.dry);
  const before = useRef<Set<string> | null>(null);
  const names = wet.map((c) => c.name);
  const told = names.join("|");
  useEffect(() => {
    const left = [...(before.current ?? [])].filter((name) => !told.split("|").includes(name));
    before.current = new Set(told ? told.split("|") : []);
    const dried = clocks.find((c) => left.includes(c.name));
    // what is taken back has no clock any more
    if (sound && dried) ring(`${dried.what} is dry.`);
  }, [told, clocks, sound]);
  if (!wet.length) return null;
  return (
    <Box
      component="ul"
      aria-label="Drying"
      sx={{ display: "flex", gap: 1, px: 2, py: 1, bgcolor: greys.bench, overflowX: "auto", flexShrink: 0 }}
    >
      {wet.slice(0, 8).map((clock) => (
        <Box
          component="li"
          key={`${clock.name}-${clock.dry}`}
          sx={{
            fontSize: 20,
            px: 1.25,
            py: 0.25,
            bgcolor: greys.white,
            borderLeft: `5px solid ${signal}`,
            display: "flex",
            gap: 1,
            whiteSpace: "nowrap",
          }}
        >
          <span>{clock.what}</span>
          <strong>{shown(clock.dry - now)}</strong>
        </Box>
      ))}
    </Box>
  );
}

/** Of several cards, each is dry when all of it is. */
function byCard(clock: Clock): Clock {
  return clock.card ? { ...clock, what: `Card ${clock.card}` } : clock;
}

/** The cards as they lie in the rack: which one is worked on, which are done, which are out. */
export function Rack({
  cards,
  now,
}: {
  cards: { number: number; spoilt: boolean; left: number; laid: number }[];
  now: number;
}) {
  if (cards.length < 2) return null;
  return (
    <Box
      component="ol"
      aria-label="The cards"
      sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, px: 2, py: 1, bgcolor: greys.sheet }}
    >
      {cards.map((card) => {
        const word = card.spoilt ? "spoilt" : card.left ? `${card.left} passes to come` : "finished";
        const here = card.number === now;
        return (
          <Box
            component="li"
            key={card.number}
            aria-current={here || undefined}
            aria-label={`Card ${card.number}: ${word}`}
            sx={{
              width: 40,
              height: 52,
              display: "grid",
              placeItems: "center",
              fontSize: 20,
              fontWeight: here ? 700 : 500,
              border: `${here ? 3 : 1}px solid ${here ? signal : greys.ink}`,
              bgcolor: card.spoilt ? greys.line : card.left ? greys.white : greys.ink,
              color: card.spoilt ? greys.quiet : card.left ? greys.ink : greys.white,
              textDecoration: card.spoilt ? "line-through" : "none",
              // how far it is, from the foot up
              backgroundImage:
                !card.spoilt && card.left && card.laid
                  ? `linear-gradient(to top, ${greys.line} ${(100 * card.laid) / (card.laid + card.left)}%, transparent 0)`
                  : "none",
            }}
          >
            {card.number}
          </Box>
        );
      })}
    </Box>
  );
}
