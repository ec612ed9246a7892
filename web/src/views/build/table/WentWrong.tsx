/** It went wrong: what, where, and then the ways on, each with the colour that comes of it. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useAct } from "../../../api/acts";
import { api, data, type Inked, Refusal, type TableStep, type Wrong } from "../../../api/client";
import { Choices } from "../../../parts/Choices";
import { Dab } from "../../../parts/Dab";
import { aloneWrong, type Known } from "./alone";
import { BIG, Label, PadChoice } from "./big";
import type { TableHandle } from "./useTable";

const WAYS = [
  ["forgot", "I forgot to ink it"],
  ["slipped", "The sheet slipped"],
  ["pale", "It came out too pale"],
  ["pad", "It was the wrong pad"],
  ["smudged", "It is smudged"],
  ["spoilt", "The card is spoilt"],
] as const;
type What = (typeof WAYS)[number][0];
type Asked = { what: What; card: number; pass?: string; ink?: string; dx?: number; dy?: number };

/** Passes that lie on the card, the last one first. */
function laid(steps: TableStep[], card: number): Inked[] {
  const found = steps.filter((s) => s.kind === "ink" && s.card === card && s.done.length).map((s) => s.inked);
  return found.filter((i): i is Inked => i !== null).reverse();
}

interface Props {
  id: number;
  table: TableHandle;
  /** Colour of the card, for the dabs. */
  card: string;
  onDone: () => void;
}

export function WentWrong({ id, table, card: stock, onDone }: Props) {
  const { steps, at, log } = table;
  const last = steps
    .slice(0, at)
    .filter((s) => s.kind === "ink" && s.done.length)
    .at(-1);
  const [card, setCard] = useState(String(last?.card ?? 1));
  const [what, setWhat] = useState<What | null>(null);
  const passes = laid(steps, Number(card));
  const [pass, setPass] = useState(last?.pass_key ?? "");
  const [ink, setInk] = useState("");
  const [by, setBy] = useState({ dx: 0, dy: 0 });
  const ask = useAct(
    (asked: Asked) =>
      data(api.POST("/api/colourings/{id}/table/wrong", { params: { path: { id } }, body: asked })),
    { ownTrouble: true },
  );
  const [alone, setAlone] = useState<Wrong | null>(null);
  const found = alone ?? (ask.data as Wrong | undefined);
  if (found)
    return (
      <Found
        found={found}
        unseen={alone !== null}
        stock={stock}
        onTake={(events) => {
          log.happen(...events);
          onDone();
        }}
      />
    );
  const cards = (table.table?.cards ?? []).filter((c) => !c.spoilt);
  const moved = what === "slipped" || what === "smudged";
  const key = passes.some((p) => p.key === pass) ? pass : (passes[0]?.key ?? "");
  const others = (table.table?.pull.pads ?? []).filter(
    (p) => p.ink !== passes.find((q) => q.key === key)?.ink,
  );
  const said: Asked | null = what && {
    what,
    card: Number(card),
    ...(what === "spoilt" ? {} : { pass: key }),
    ...(what === "pad" ? { ink } : {}),
    ...(moved ? by : {}),
  };
  const offerAlone = (asked: Asked) =>
    setAlone(aloneWrong(table.table?.ways ?? [], asked.what, knownAt(table, asked), cards.length));
  const paler = passes.find((p) => p.key === key)?.paler;
  const ready =
    what !== null &&
    (what === "spoilt" || Boolean(key)) &&
    (what !== "pad" || Boolean(ink)) &&
    (!moved || by.dx !== 0 || by.dy !== 0) &&
    (what !== "pale" || Boolean(paler));
  return (
    <>
      {table.offline && (
        <Typography role="status" sx={{ fontSize: 20 }}>
          The house computer is out of reach just now. Tell it all the same: you go on at once, and it plans
          the rest anew when it is back.
        </Typography>
      )}
      {cards.length > 1 && (
        <Choices
          apart
          label="Which card"
          value={card}
          options={cards.map((c) => [String(c.number), `Card ${c.number}`] as const)}
          onChoose={setCard}
          button={{ minHeight: 64, fontSize: 20 }}
        />
      )}
      <Choices
        apart
        label="What went wrong"
        value={what ?? ("" as What)}
        options={passes.length ? WAYS : WAYS.filter(([k]) => k === "spoilt")}
        onChoose={setWhat}
        button={{ minHeight: 64, fontSize: 20 }}
      />
      {what && what !== "spoilt" && (
        <>
          <Label>Which pass</Label>
          <Box sx={{ maxHeight: 210, overflowY: "auto" }}>
            <Choices
              apart
              label="Which pass"
              value={key}
              options={passes.map((p) => [p.key, `${p.ink_name} on ${p.element}`] as const)}
              onChoose={setPass}
              button={{ minHeight: 64, fontSize: 20 }}
            />
          </Box>
        </>
      )}
      {what === "pad" && (
        <>
          <Label>Which pad it was</Label>
          <PadChoice pads={others} value={ink} onChoose={setInk} />
        </>
      )}
      {moved && <By by={by} onMove={setBy} />}
      {what === "pale" && key && !paler && (
        <Typography role="status" sx={{ fontSize: 20 }}>
          One light coat cannot be laid paler: lay it once more.
        </Typography>
      )}
      {ask.error && (
        <Typography role="alert" sx={{ fontSize: 20, fontWeight: 600 }}>
          {ask.error.message}
        </Typography>
      )}
      <Button
        variant="contained"
        disabled={!ready || ask.isPending}
        sx={{ minHeight: 72, fontSize: 22 }}
        onClick={() =>
          said &&
          (table.offline
            ? offerAlone(said)
            : ask.mutate(said, {
                // the network went before anything was told of it
                onError: (e) => e instanceof Refusal && e.status === 0 && offerAlone(said),
              }))
        }
      >
        {ask.isPending ? "Looking at it" : "What now?"}
      </Button>
    </>
  );
}

const STEP_MM = 0.5;

/** By how much, by four big arrows: half a millimetre a press. */
function By({
  by,
  onMove,
}: {
  by: { dx: number; dy: number };
  onMove: (by: { dx: number; dy: number }) => void;
}) {
  const arrow = (label: string, sign: string, dx: number, dy: number) => (
    <Button
      variant="outlined"
      aria-label={label}
      sx={{ minWidth: 72, minHeight: 64, fontSize: 26 }}
      onClick={() => onMove({ dx: by.dx + dx * STEP_MM, dy: by.dy + dy * STEP_MM })}
    >
      {sign}
    </Button>
  );
  const words = [
    by.dx ? `${Math.abs(by.dx)} mm to the ${by.dx > 0 ? "right" : "left"}` : "",
    by.dy ? `${Math.abs(by.dy)} mm ${by.dy > 0 ? "down" : "up"}` : "",
  ].filter(Boolean);
  return (
    <>
      <Label>By how much</Label>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
        {arrow("Left", "←", -1, 0)}
        {arrow("Up", "↑", 0, -1)}
        {arrow("Down", "↓", 0, 1)}
        {arrow("Right", "→", 1, 0)}
        <Typography role="status" sx={{ fontSize: 20 }}>
          {words.join(", ") || "not yet"}
        </Typography>
      </Box>
    </>
  );
}

/** What fills the blanks of the ways on, from the steps as they stand here. */
function knownAt(table: TableHandle, asked: Asked): Known {
  const own = table.steps.filter((s) => s.kind === "ink" && s.card === asked.card);
  const laid = own.find((s) => s.inked?.key === asked.pass && s.done.length);
  const other = table.table?.pull.pads.find((p) => p.ink === asked.ink)?.name;
  const far = Math.hypot(asked.dx ?? 0, asked.dy ?? 0).toFixed(1);
  const mates = own.filter((s) => !s.done.length && s.element === laid?.element).map((s) => s.pass_key);
  return {
    events: {
      ...asked,
      meant: laid?.inked?.ink,
      hand: laid?.inked?.hand,
      paler: laid?.inked?.paler,
      done: laid?.done,
      mates,
    },
    words: {
      ink: laid?.inked?.ink_name ?? "It",
      element: laid?.inked?.element ?? "it",
      hand: laid?.inked?.hand ?? "",
      other: other ?? "Another pad",
      far,
      card: String(asked.card),
    },
  };
}

function Found({
  found,
  unseen,
  stock,
  onTake,
}: {
  found: Wrong;
  /** Nothing was reckoned: the house computer is out of reach. */
  unseen: boolean;
  stock: string;
  onTake: (events: { kind: string; body: Record<string, unknown> }[]) => void;
}) {
  return (
    <>
      <Typography role="status" sx={{ fontSize: 22, fontWeight: 600 }}>
        {found.sentence}
      </Typography>
      {unseen && (
        <Typography sx={{ fontSize: 20 }}>
          How it will look is reckoned when the house computer is back.
        </Typography>
      )}
      {found.meant && found.now && (
        <Box sx={{ display: "flex", gap: 3, fontSize: 20, textAlign: "center" }}>
          <Box>
            <Dab dabs={[found.meant]} card={stock} width={110} />
            <div>meant</div>
          </Box>
          <Box>
            <Dab dabs={[found.now]} card={stock} width={110} />
            <div>there now</div>
          </Box>
        </Box>
      )}
      {found.remedies.map((remedy, n) => (
        <Button
          key={remedy.key}
          variant={n === 0 ? "contained" : "outlined"}
          sx={{ ...BIG, gap: 2 }}
          onClick={() => onTake([...found.events, ...remedy.events])}
        >
          {remedy.colour && <Dab dabs={[remedy.colour]} card={stock} width={64} />}
          <span>
            {remedy.sentence}
            {remedy.words && (
              <Box component="span" sx={{ display: "block", fontWeight: 500 }}>
                {remedy.words}
              </Box>
            )}
          </span>
        </Button>
      ))}
    </>
  );
}
