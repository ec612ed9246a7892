/** Whole colourings from the pads at hand, one mood after another: point at one to see it, press to wear it. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useInfiniteQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { freshKey, useAct } from "../../../api/acts";
import { api, data, type EditKind, type Proposal, type Schemas } from "../../../api/client";
import { keys } from "../../../api/keys";
import { Busy } from "../../../parts/Busy";
import { Chips } from "../../../parts/Chips";
import { Choices } from "../../../parts/Choices";
import { Select } from "../../../parts/Select";
import { Trouble } from "../../../parts/Trouble";
import { capital } from "../../../parts/words";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";
import { placeOf } from "../paths";
import { keptWords, OwnWords, type Words } from "./OwnWords";
import { PictureColours, type Taken } from "./PictureColours";
import { Strips } from "./Strips";

type Mood = Schemas["WishesRequest"]["mood"];

const MOODS: Mood[] = ["named", "vivid", "muted", "neighbours", "opposites", "accent", "one hue", "card"];
const PADS = [60, 6, 8, 10, 14];
const TINTED = 85;
// L* of a card below which a white ground makes a difference
const GROUNDS = { needed: null, always: true, never: false } as const;
type Ground = keyof typeof GROUNDS;

export function Proposals({ onClose }: { onClose: () => void }) {
  const { id, state, change, painter } = useShared();
  const [stays, setStays] = useState<string[]>([]);
  const [most, setMost] = useState(PADS[0] ?? 60);
  const [like, setLike] = useState<Taken[]>([]);
  const [ground, setGround] = useState<Ground>("needed");
  const [words, setWords] = useState(keptWords);
  const dark = (state.stock_colour.lab[0] ?? 100) < TINTED;
  const wishes = {
    white_ground: dark ? GROUNDS[ground] : null,
    words,
    keep: stays,
    most_pads: most,
    like: like.map((t) => t.colour.lab as number[]),
  };
  const found = useProposals(id, state.layout_key + state.stock, wishes);
  // what else lies on the panel is never coloured anew
  const inked = state.elements.filter((e) => e.rungs.length > 0 && e.thing === "image");
  const look = (p: Proposal | null) => {
    if (p) void painter.try(p.edits as { kind: EditKind; values: Record<string, unknown> }[]);
    else painter.letGo();
  };
  const wear = (p: Proposal) => {
    painter.letGo();
    change("several", { edits: p.edits });
    onClose();
  };
  return (
    <Paper
      variant="card"
      component="section"
      aria-labelledby="proposals-title"
      onKeyDown={(e) => e.key === "Escape" && onClose()}
      onPointerLeave={() => look(null)}
      sx={{ p: 1.5, display: "grid", gap: 1.25 }}
    >
      <Box sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
        <Typography id="proposals-title" variant="h2" sx={{ flex: 1 }}>
          Colourings from your pads
        </Typography>
        <Button variant="text" onClick={onClose}>
          Close
        </Button>
      </Box>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
        <Select
          label="Pads to pull"
          value={most}
          options={PADS.map((n) => [n, n === PADS[0] ? "as it takes" : `at most ${n}`] as const)}
          onChoose={setMost}
        />
        {dark && (
          <Choices
            label="White ground"
            value={ground}
            options={[
              ["needed", "White where needed"],
              ["always", "White under all"],
              ["never", "No white"],
            ]}
            onChoose={setGround}
          />
        )}
        <PictureColours taken={like} onTake={setLike} />
      </Box>
      <OwnWords
        elements={state.elements.filter((e) => e.thing === "image").map((e) => e.name)}
        words={words}
        onWords={setWords}
      />
      {inked.length > 0 && (
        <Chips
          label="What stays"
          said="Stays as it is:"
          names={inked.map((e) => e.name)}
          chosen={stays}
          onChoose={setStays}
        />
      )}
      <Box component="ol" aria-label="Proposals" sx={{ display: "grid", gap: 1 }}>
        {found.data?.pages.map((p, i) => (
          <One key={p.mood} proposal={p} first={i === 0} onLook={look} onWear={wear} />
        ))}
      </Box>
      <Coming found={found} />
    </Paper>
  );
}

interface Wishes {
  words: Words;
  white_ground: boolean | null;
  keep: string[];
  most_pads: number;
  like: number[][];
}

/** One mood after another, each unlike those before it: the first is there at once, the rest follow. */
function useProposals(id: number, ground: string, wishes: Wishes) {
  const found = useInfiniteQuery({
    queryKey: keys.proposals(id, ground, wishes),
    initialPageParam: 0,
    queryFn: ({ pageParam }) =>
      data(
        api.POST("/api/colourings/{id}/proposals", {
          params: { path: { id } },
          body: {
            mood: MOODS[pageParam] ?? "named",
            after: MOODS.slice(0, pageParam),
            ...wishes,
          },
        }),
      ),
    getNextPageParam: (_, pages) => (pages.length < MOODS.length ? pages.length : undefined),
    staleTime: Infinity,
    retry: false,
  });
  const { hasNextPage, isFetching, isError, fetchNextPage } = found;
  useEffect(() => {
    if (hasNextPage && !isFetching && !isError) void fetchNextPage();
  }, [hasNextPage, isFetching, isError, fetchNextPage]);
  return found;
}

type Found = ReturnType<typeof useProposals>;

function Coming({ found }: { found: Found }) {
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  if (found.isPending) return <Busy what="Trying your pads" />;
  return found.hasNextPage ? <Busy what="Trying others" /> : null;
}

interface OneProps {
  proposal: Proposal;
  first: boolean;
  onLook: (p: Proposal | null) => void;
  onWear: (p: Proposal) => void;
}

function One({ proposal, first, onLook, onWear }: OneProps) {
  const [why, setWhy] = useState(false);
  const keep = useKept(proposal);
  return (
    <Paper
      component="li"
      variant="slip"
      aria-label={proposal.called}
      onPointerEnter={() => onLook(proposal)}
      onFocus={(e) => e.target.matches(":focus-visible") && onLook(proposal)}
      sx={{ p: 1, display: "grid", gap: 0.75, listStyle: "none" }}
    >
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
        <Typography variant="h3" sx={{ flex: 1, "&::first-letter": { textTransform: "uppercase" } }}>
          {proposal.called}
        </Typography>
        <Button variant="text" aria-expanded={why} onClick={() => setWhy(!why)}>
          Why
        </Button>
        <Button variant="outlined" disabled={keep.isPending} onClick={() => keep.mutate()}>
          Beside this one
        </Button>
        <Button
          variant={first ? "contained" : "outlined"}
          onClick={() => onWear(proposal)}
          aria-label={`Wear it: ${proposal.called}`}
        >
          Wear it
        </Button>
      </Box>
      <Strips worn={proposal.worn} />
      {why && <Why proposal={proposal} />}
    </Paper>
  );
}

function Why({ proposal }: { proposal: Proposal }) {
  return (
    <Box sx={{ fontSize: 14 }}>
      <Box component="ul" aria-label="Reasons" sx={{ display: "grid", gap: 0.25 }}>
        {proposal.worn.map((w) => (
          <li key={w.element}>
            <b>{w.element}</b>: {w.ladder} ({w.pads.map((p) => p.name).join(", ")}); {w.reason}.
          </li>
        ))}
      </Box>
      <Typography variant="caption" component="p" sx={{ m: 0, mt: 0.5, color: greys.quiet }}>
        {proposal.figures.map((f) => `${f.name} ${f.value}`).join(" · ")}. Score {proposal.cost}, less is
        better: no better one can be made of the best {proposal.exact_among} ladders of each element.
      </Typography>
    </Box>
  );
}

/** As a colouring of its own beside the one on the screen. */
function useKept(proposal: Proposal) {
  const { id, state } = useShared();
  const navigate = useNavigate();
  return useAct(
    async () => {
      const made = await data(
        api.POST("/api/builds/{id}/colourings", {
          params: { path: { id: state.build_id } },
          body: { copy: id, name: capital(proposal.called) },
        }),
      );
      await data(
        api.POST("/api/colourings/{id}/edits", {
          params: { path: { id: made.id } },
          body: {
            kind: "several",
            values: { edits: proposal.edits },
            edit_key: freshKey(),
            revision: made.revision,
          },
        }),
      );
      return made;
    },
    {
      changes: [keys.colourings, keys.builds, keys.build(state.build_id)],
      then: (made) => navigate(placeOf(state.build_id, made.id, "strata")),
      otherwise: "That colouring could not be begun.",
    },
  );
}
