/** Swatch cards: choose pads and coats, print, ink by hand; the photograph is read. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { useAct } from "../../../api/acts";
import { api, data, type Ink, type Stock, type SwatchCard } from "../../../api/client";
import { useInks, useStocks, useSwatchCards } from "../../../api/hooks";
import { keys } from "../../../api/keys";
import { askAgain } from "../../../parts/askAgain";
import { Busy } from "../../../parts/Busy";
import { Chip } from "../../../parts/Dab";
import { Trouble } from "../../../parts/Trouble";
import { sentenceOf } from "../../../parts/words";
import { greys } from "../../../theme/theme";

const MOST = 48;

export function Component() {
  const cards = useSwatchCards();
  const inks = useInks();
  const stocks = useStocks();
  useEffect(() => {
    document.title = "Swatch cards · Anastrata";
  }, []);
  const error = cards.error ?? inks.error ?? stocks.error;
  if (error) return <Trouble alone error={error} again={() => askAgain(cards, inks, stocks)} />;
  if (!cards.data || !inks.data || !stocks.data) return <Busy what="Cutting cards" />;
  return (
    <Box sx={{ p: { xs: 2, sm: 3 }, maxWidth: 1240, width: "100%", mx: "auto", display: "grid", gap: 2.5 }}>
      <Box>
        <Typography variant="h1">Swatch cards</Typography>
        <Typography sx={{ maxWidth: 720 }}>
          Print a card on the stock that the swatches are for, fill each box with its pad, let it dry, and
          photograph it. The marks straighten it, the bare card and the pads that are known already take the
          light out of it.
        </Typography>
      </Box>
      {cards.data.length > 0 && <Made cards={cards.data} />}
      <Fresh inks={inks.data} stocks={stocks.data} />
    </Box>
  );
}

function Made({ cards }: { cards: SwatchCard[] }) {
  return (
    <Box
      component="ul"
      aria-label="Cards made"
      sx={{
        display: "grid",
        gap: 1.5,
        gridTemplateColumns: "repeat(auto-fill, minmax(260px, 1fr))",
      }}
    >
      {cards.map((c) => {
        const kept = c.fields.filter((f) => f.kept).length;
        return (
          <Paper
            variant="card"
            component="li"
            key={c.id}
            sx={{
              p: 1.5,
              display: "flex",
              gap: 1.5,
            }}
          >
            <Sketch card={c} width={62} />
            <Box>
              <Typography variant="h3">
                <Link to={`/inks/swatch-cards/${c.id}`}>
                  {c.title} {c.number}
                </Link>
              </Typography>
              <Typography variant="caption" component="div">
                {c.fields.length} {c.fields.length === 1 ? "field" : "fields"} on {c.stock_name}, {c.paper}
              </Typography>
              <Typography variant="caption" component="div" sx={{ color: greys.quiet }}>
                {kept ? `${kept} kept` : c.light ? "read, nothing kept yet" : "to print and photograph"}
              </Typography>
            </Box>
          </Paper>
        );
      })}
    </Box>
  );
}

/** The card in small: marks, and fields in the colours that were read, or are expected. */
export function Sketch({ card, width }: { card: SwatchCard; width: number }) {
  const [w = 210, h = 297] = card.size;
  return (
    <svg
      width={width}
      height={(width * h) / w}
      viewBox={`0 0 ${w} ${h}`}
      aria-hidden="true"
      style={{ flex: "none" }}
    >
      <rect width={w} height={h} fill={card.card} stroke={greys.edge} />
      {[
        [11, 11],
        [w - 25, 11],
        [11, h - 25],
        [w - 25, h - 25],
      ].map(([x, y]) => (
        <rect key={`${x}${y}`} x={x} y={y} width="14" height="14" fill="#1a1a1a" />
      ))}
      {card.fields.map((f, i) => {
        const [x = 0, y = 0, fw = 0, fh = 0] = f.box;
        return (
          <rect
            key={i}
            x={x}
            y={y}
            width={fw}
            height={fh}
            fill={f.read ? f.read.colour.hex : "none"}
            stroke={greys.edge}
            strokeWidth="1.500"
          />
        );
      })}
    </svg>
  );
}

function Fresh({ inks, stocks }: { inks: Ink[]; stocks: Stock[] }) {
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const asked = params.get("ink");
  const [stock, setStock] = useState(params.get("card") ?? stocks[0]?.key ?? "");
  const [paper, setPaper] = useState<"A4" | "letter">("A4");
  const [coats, setCoats] = useState("1");
  const [words, setWords] = useState("");
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set(asked ? [asked] : []));
  const wanted = words.trim().toLowerCase();
  const found = inks.filter(
    (i) => i.state !== "wished for" && `${i.name} ${i.line} ${i.family}`.toLowerCase().includes(wanted),
  );
  const each = coats === "all" ? [1, 2, 3] : [Number(coats)];
  const count = picked.size * each.length;
  const pick = (keys: string[], on: boolean) => {
    const fresh = new Set(picked);
    for (const k of keys)
      if (on) fresh.add(k);
      else fresh.delete(k);
    setPicked(fresh);
  };
  const make = useAct(
    (fields: { passes: { ink: string; coats: number }[] }[]) =>
      data(api.POST("/api/swatch-cards", { body: { stock, paper, fields } })),
    {
      changes: [keys.swatchCards],
      then: (made) => navigate(`/inks/swatch-cards/${made.id}`),
      ownTrouble: true,
    },
  );
  const busy = make.isPending;
  const trouble = make.error && sentenceOf(make.error, "That card could not be made.");
  const press = () => {
    const chosen = inks.filter((i) => picked.has(i.key));
    if (!busy) make.mutate(chosen.flatMap((i) => each.map((n) => ({ passes: [{ ink: i.key, coats: n }] }))));
  };
  return (
    <Paper
      variant="card"
      component="section"
      aria-label="A new card"
      sx={{
        p: 2,
        display: "grid",
        gap: 1.5,
      }}
    >
      <Typography variant="h2">A new card</Typography>
      <Box sx={{ display: "flex", gap: 1.25, flexWrap: "wrap", alignItems: "center" }}>
        <TextField
          select
          label="On"
          value={stock}
          onChange={(e) => setStock(e.target.value)}
          sx={{ minWidth: 160 }}
        >
          {stocks.map((s) => (
            <MenuItem key={s.key} value={s.key}>
              {s.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="Paper size"
          value={paper}
          onChange={(e) => setPaper(e.target.value as "A4")}
          sx={{ minWidth: 100 }}
        >
          <MenuItem value="A4">A4</MenuItem>
          <MenuItem value="letter">letter</MenuItem>
        </TextField>
        <TextField
          select
          label="Fields of each pad"
          value={coats}
          onChange={(e) => setCoats(e.target.value)}
          sx={{ minWidth: 210 }}
        >
          <MenuItem value="1">one coat</MenuItem>
          <MenuItem value="2">two coats</MenuItem>
          <MenuItem value="3">three coats</MenuItem>
          <MenuItem value="all">one, two and three coats</MenuItem>
        </TextField>
        <TextField
          label="Find a pad"
          value={words}
          onChange={(e) => setWords(e.target.value)}
          sx={{ width: 160 }}
        />
        <Button
          variant="text"
          onClick={() =>
            pick(
              found.map((i) => i.key),
              true,
            )
          }
        >
          Take all of these
        </Button>
        <Button variant="text" onClick={() => setPicked(new Set())}>
          None
        </Button>
        <Box sx={{ flex: 1 }} />
        <Typography role="status" sx={{ fontWeight: count > MOST ? 640 : 400 }}>
          {count} of {MOST} fields
        </Typography>
        <Button variant="contained" disabled={busy || !stock || count === 0 || count > MOST} onClick={press}>
          Make the card
        </Button>
      </Box>
      {trouble && (
        <Typography role="alert" sx={{ fontWeight: 600 }}>
          {trouble}
        </Typography>
      )}
      <Box
        role="group"
        aria-label="Pads for the card"
        sx={{
          display: "grid",
          gridTemplateColumns: "repeat(auto-fill, minmax(210px, 1fr))",
          gap: 0.5,
          maxHeight: 380,
          overflow: "auto",
        }}
      >
        {found.map((i) => (
          <Box
            component="label"
            key={i.key}
            sx={{
              display: "flex",
              alignItems: "center",
              gap: 0.75,
              cursor: "pointer",
              borderRadius: 1,
              bgcolor: picked.has(i.key) ? greys.white : "transparent",
              pr: 1,
            }}
          >
            <Checkbox size="small" checked={picked.has(i.key)} onChange={(_, on) => pick([i.key], on)} />
            <Chip colour={i.dabs[0]?.hex ?? "#999"} card="#f4f4f4" />
            <Typography variant="body2">
              {i.name}
              {i.swatches.some((s) => s.how === "screen colour" || s.how === "photograph")
                ? " (a guess so far)"
                : ""}
            </Typography>
          </Box>
        ))}
      </Box>
    </Paper>
  );
}
