/** An ink opened: its dabs on every card in the house, its ladder, where it is used, what can do its work. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Ink, type Opened, type Stock } from "../../api/client";
import { useOpened } from "../../api/hooks";
import { Busy } from "../../parts/Busy";
import { Chip, Dab } from "../../parts/Dab";
import { minutes } from "../../parts/lengths";
import { Trouble } from "../../parts/Trouble";
import { CLEANINGS, coatsSaid } from "../../parts/words";
import { greys } from "../../theme/theme";
import { AddSwatch } from "./AddSwatch";
import { EditInk } from "./EditInk";
import { recipesFor } from "./Gaps";
import { Swatches } from "./Swatches";
import { useDrawerAct } from "./drawerAct";

interface Props {
  ink: Ink;
  stocks: Stock[];
  stock: string;
  onClose: () => void;
  onOpen: (key: string) => void;
}

export function InkOpened({ ink, stocks, stock, onClose, onOpen }: Props) {
  const opened = useOpened(ink.id, stock || undefined);
  const [editing, setEditing] = useState(false);
  const [measuring, setMeasuring] = useState(false);
  const card = stocks.find((s) => s.key === stock)?.hex ?? "#f2f2f2";
  return (
    <Paper
      variant="card"
      component="aside"
      aria-label={ink.name}
      sx={{
        p: 2,
        display: "grid",
        gap: 1.75,
        alignContent: "start",
        maxHeight: { md: "calc(100dvh - 168px)" },
        overflowY: "auto",
      }}
    >
      <Head ink={ink} onClose={onClose} onEdit={() => setEditing(true)} />
      {opened.error && <Trouble error={opened.error} again={() => void opened.refetch()} />}
      {opened.isPending && <Busy what="Getting the pad out" />}
      {opened.data && (
        <>
          <OnCards cards={opened.data.cards} />
          {opened.data.family.length > 1 && (
            <Ladder kin={opened.data.family} own={ink.key} card={card} onOpen={onOpen} />
          )}
          <Alike
            title="Can stand in for it"
            none="No pad at hand comes near it."
            found={opened.data.stands_in}
            card={card}
            onOpen={onOpen}
          />
          <Alike
            title="It can stand in for"
            none=""
            found={opened.data.stands_for}
            card={card}
            onOpen={onOpen}
          />
          <UsedIn used={opened.data.used} ink={ink.key} />
          <Swatches ink={ink} stocks={stocks} onMeasure={() => setMeasuring(true)} />
          <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
            <Button
              variant="outlined"
              component={Link}
              to={`${recipesFor(stock, ink.dabs[0]?.lab ?? [50, 0, 0])}&without=${ink.key}`}
            >
              Mix it from others
            </Button>
            <PutAway ink={ink} onDone={onClose} />
          </Box>
        </>
      )}
      <EditInk key={`${ink.id}${editing}`} ink={ink} open={editing} onClose={() => setEditing(false)} />
      <AddSwatch ink={ink} stocks={stocks} open={measuring} onClose={() => setMeasuring(false)} />
    </Paper>
  );
}

function Head({ ink, onClose, onEdit }: { ink: Ink; onClose: () => void; onEdit: () => void }) {
  const away = ink.state === "dry" || ink.state === "wished for";
  return (
    <Box>
      <Box sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          {ink.name}
        </Typography>
        <Button variant="text" onClick={onEdit}>
          Change
        </Button>
        <Button variant="text" onClick={onClose} aria-label="Close the pad">
          Close
        </Button>
      </Box>
      <Typography variant="body2">
        {[ink.line, ink.family, ink.depth ? `depth ${ink.depth}` : ""].filter(Boolean).join(" · ")}
      </Typography>
      <Typography variant="body2">
        {ink.chemistry} on a {ink.pad === "bottle" ? "bottle's dauber" : `${ink.pad} pad`},{" "}
        {ink.opaque ? "hides what is under it" : "translucent"}, {ink.character}
      </Typography>
      <Typography variant="body2">
        Dry in {minutes(ink.dry_minutes)}, comes off with {CLEANINGS[ink.cleaning]}.
      </Typography>
      <Typography variant="body2" sx={{ fontWeight: away ? 640 : 400 }}>
        {away
          ? ink.state === "dry"
            ? "It has run dry."
            : "Wished for, not in the drawer."
          : `The pad is ${ink.state}.`}
        {ink.place ? ` ${ink.place[0]?.toUpperCase()}${ink.place.slice(1)}.` : ""}
      </Typography>
      {ink.notes && (
        <Typography
          variant="body2"
          sx={{ mt: 0.75, pl: 1, borderLeft: `3px solid ${greys.line}`, whiteSpace: "pre-line" }}
        >
          {ink.notes}
        </Typography>
      )}
      {ink.estimated && (
        <Typography variant="body2" sx={{ fontWeight: 600, mt: 0.5 }}>
          How well it hides is an estimate from its kind: one reading on black card replaces it.
        </Typography>
      )}
    </Box>
  );
}

function OnCards({ cards }: { cards: Opened["cards"] }) {
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
function Ladder({
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

function Alike({
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
      <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
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

function UsedIn({ used, ink }: { used: Opened["used"]; ink: string }) {
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

function PutAway({ ink, onDone }: { ink: Ink; onDone: () => void }) {
  const putAway = useDrawerAct(() => api.DELETE("/api/inks/{id}", { params: { path: { id: ink.id } } }), {
    said: () => `${ink.name} is put away. Builds that use it keep it.`,
    back: "Bring it back",
    then: onDone,
    otherwise: "That pad could not be put away.",
  });
  return (
    <Button variant="text" disabled={putAway.isPending} onClick={() => putAway.mutate()}>
      Put this ink away
    </Button>
  );
}
