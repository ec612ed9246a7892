/** An ink opened: its dabs on every card in the house, its ladder, where it is used, what can do its work. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link } from "react-router";
import { freshKey } from "../../api/acts";
import { api, data, type Ink, type Stock } from "../../api/client";
import { useOpened } from "../../api/hooks";
import { Busy } from "../../parts/Busy";
import { minutes } from "../../parts/lengths";
import { Trouble } from "../../parts/Trouble";
import { CLEANINGS, capital } from "../../parts/words";
import { greys } from "../../theme/theme";
import { cards, strengthSaid } from "../log/words";
import { AddSwatch } from "./AddSwatch";
import { EditInk } from "./EditInk";
import { recipesFor } from "./Gaps";
import { Swatches } from "./Swatches";
import { useDrawerAct } from "./drawerAct";
import { OnCards, Ladder, Alike, UsedIn } from "./InkOpenedParts";

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

/** What made cards say of it, and the way to take that off. */
function Learned({ ink }: { ink: Ink }) {
  const takeOff = useDrawerAct(
    () =>
      data(
        api.PATCH("/api/inks/{id}", {
          params: { path: { id: ink.id } },
          body: { learned: null, edit_key: freshKey() },
        }),
      ),
    {
      said: () => `${ink.name} is predicted by its swatches alone.`,
      otherwise: "It could not be taken off.",
    },
  );
  const { strength, cards: count } = ink.learned ?? { strength: 1, cards: 0 };
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "baseline", flexWrap: "wrap", mt: 0.5 }}>
      <Typography variant="body2">
        In your hands {strengthSaid(strength)} ({cards(count)} photographed).{" "}
        <Link to="/log/learn">What was learned</Link>
      </Typography>
      <Button variant="text" disabled={takeOff.isPending} onClick={() => takeOff.mutate()}>
        Take it off
      </Button>
    </Box>
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
        {ink.place ? ` ${capital(ink.place)}.` : ""}
      </Typography>
      {ink.notes && (
        <Typography
          variant="body2"
          sx={{ mt: 0.75, pl: 1, borderLeft: `3px solid ${greys.line}`, whiteSpace: "pre-line" }}
        >
          {ink.notes}
        </Typography>
      )}
      {ink.learned && <Learned ink={ink} />}
      {ink.estimated && (
        <Typography variant="body2" sx={{ fontWeight: 600, mt: 0.5 }}>
          How well it hides is an estimate from its kind: one reading on black card replaces it.
        </Typography>
      )}
      {ink.remarks.map((said) => (
        <Typography key={said} variant="body2" sx={{ fontWeight: 600, mt: 0.5 }}>
          {said}
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
