/** How thick and heavy the card gets, piece by piece, and at which of the maker's own rates it goes. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useAct } from "../../../api/acts";
import { api, data, type Finish, type Rate } from "../../../api/client";
import { keys } from "../../../api/keys";
import { greys } from "../../../theme/theme";

export function Post({ found }: { found: Finish }) {
  const [open, setOpen] = useState(false);
  return (
    <Box>
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, gap: 2 }}>
        <Sum
          title={`${found.thickness.total.toFixed(1)} mm thick`}
          sum={found.thickness}
          unit="mm"
          places={2}
        />
        <Sum
          title={`${found.weight.total.toFixed(0)} g with its envelope`}
          sum={found.weight}
          unit="g"
          places={1}
        />
      </Box>
      <Typography sx={{ mt: 1 }}>
        {found.envelope
          ? `Goes into an envelope of ${found.envelope.label}.`
          : "None of the usual envelopes is large enough: make one, or take a box."}
      </Typography>
      <Box component="ul" aria-label="Rates" sx={{ mt: 0.5 }}>
        {found.rates.map((rate) => (
          <Box component="li" key={rate.name} sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
            <Typography variant="body2" sx={{ fontWeight: rate.cheapest ? 640 : 400 }}>
              {rate.name}
              {rate.price && `, ${rate.price}`}
            </Typography>
            <Typography variant="caption" sx={{ color: greys.quiet }}>
              {rate.against.length
                ? `no: ${rate.against.join("; ")}`
                : rate.cheapest
                  ? "goes at this rate"
                  : "goes as well"}
            </Typography>
          </Box>
        ))}
      </Box>
      <Typography variant="caption" component="p">
        {found.sample_rates && "These rates are invented. "}Check your postal service: stiff and uneven cards
        may cost more. Gems and thread are not weighed.
      </Typography>
      <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? "Close" : "My own rates"}
      </Button>
      {open && <Rates onDone={() => setOpen(false)} />}
    </Box>
  );
}

interface SumProps {
  title: string;
  sum: Finish["weight"];
  unit: string;
  places: number;
}

function Sum({ title, sum, unit, places }: SumProps) {
  return (
    <Box>
      <Typography variant="h3" component="h3">
        {title}
      </Typography>
      {sum.parts.map((part) => (
        <Typography
          key={part.name}
          variant="caption"
          component="div"
          sx={{ display: "flex", justifyContent: "space-between", gap: 1 }}
        >
          <span>{part.name}</span>
          <span>
            {part.amount.toFixed(places)} {unit}
          </span>
        </Typography>
      ))}
    </Box>
  );
}

const FIELDS = [
  ["thick", "Most mm thick"],
  ["weight", "Most g"],
  ["long", "Most mm long"],
  ["wide", "Most mm wide"],
] as const;
const FRESH = { name: "", thick: "5", weight: "100", long: "240", wide: "165", price: "" };
type Typed = Record<keyof typeof FRESH, string>;

const typedOf = (rate: Rate): Typed => ({
  name: rate.name,
  price: rate.price,
  thick: String(rate.thick),
  weight: String(rate.weight),
  long: String(rate.long),
  wide: String(rate.wide),
});

/** A rate from what was typed; null where it is none. */
export function rateOf(typed: Typed): Rate | null {
  const figures = FIELDS.map(([name]) => [name, Number(typed[name].replace(",", "."))] as const);
  if (!typed.name.trim() || figures.some(([, v]) => !(v >= 0.1))) return null;
  return { name: typed.name.trim(), price: typed.price.trim(), ...Object.fromEntries(figures) } as Rate;
}

function Rates({ onDone }: { onDone: () => void }) {
  const own = useQuery({ queryKey: keys.rates, queryFn: () => data(api.GET("/api/postal-rates")) });
  const [typed, setTyped] = useState<Typed[] | null>(null);
  const save = useAct((rates: Rate[]) => data(api.PUT("/api/postal-rates", { body: { rates } })), {
    changes: [keys.rates, keys.finishes],
    then: onDone,
    otherwise: "Those rates could not be kept.",
  });
  if (!own.data) return null;
  const rows = typed ?? own.data.rates.map(typedOf);
  const good = rows.map(rateOf);
  const set = (n: number, values: Partial<Typed>) =>
    setTyped(rows.map((row, k) => (k === n ? { ...row, ...values } : row)));
  return (
    <Box
      component="form"
      aria-label="My own rates"
      onSubmit={(e) => {
        e.preventDefault();
        if (good.every((r) => r !== null)) save.mutate(good);
      }}
      sx={{ display: "grid", gap: 1, mt: 1 }}
    >
      <Typography variant="caption">In the order in which they are tried: the cheapest first.</Typography>
      {rows.map((row, n) => (
        // rates have no name but their place while they are typed
        <Box key={n} sx={{ display: "flex", gap: 0.75, flexWrap: "wrap" }}>
          <TextField
            label="Rate"
            value={row.name}
            onChange={(e) => set(n, { name: e.target.value })}
            sx={{ width: 190 }}
          />
          {FIELDS.map(([name, label]) => (
            <TextField
              key={name}
              label={label}
              value={row[name]}
              error={!(Number(row[name].replace(",", ".")) >= 0.1)}
              onChange={(e) => set(n, { [name]: e.target.value })}
              sx={{ width: 112 }}
            />
          ))}
          <TextField
            label="Price"
            value={row.price}
            onChange={(e) => set(n, { price: e.target.value })}
            sx={{ width: 90 }}
          />
          <Button
            variant="text"
            aria-label={`Take ${row.name || "this rate"} off`}
            onClick={() => setTyped(rows.filter((_, k) => k !== n))}
          >
            Take off
          </Button>
        </Box>
      ))}
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="outlined" disabled={rows.length >= 20} onClick={() => setTyped([...rows, FRESH])}>
          Another rate
        </Button>
        <Button type="submit" variant="contained" disabled={save.isPending || good.some((r) => r === null)}>
          Keep my rates
        </Button>
      </Box>
    </Box>
  );
}
