/** What the build is made of: name, card, how sheets are aligned, how many. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import { useAct } from "../../../api/acts";
import { api, pictureUrl } from "../../../api/client";
import { useStocks } from "../../../api/hooks";
import { keys } from "../../../api/keys";
import { contents, size } from "../../../parts/lengths";
import { StockChoice } from "../../../parts/StockChoice";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";
import { useHead } from "../useBuild";

const REGISTERS = [
  { key: "jig", label: "In the corner of a jig, or on pegs" },
  { key: "marks", label: "On the printed marks" },
  { key: "eye", label: "By eye, to the layer below" },
];

export function Component() {
  const { id, state, queue, set, units, change, pictureShown } = useShared();
  const head = useHead(queue);
  const stocks = useStocks();
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "1fr", md: "1fr 420px" },
        gap: 4,
        p: { xs: 2, sm: 3 },
        maxWidth: 1240,
        width: "100%",
        mx: "auto",
      }}
    >
      <Box sx={{ display: "grid", gap: 3, alignContent: "start" }}>
        <Part title="Name">
          <Name key={state.name} />
        </Part>
        <Part title="Set">
          <Typography>
            <Link to={`/sets/${set.id}`}>{set.name}</Link>. {contents(set)}. Its image is{" "}
            {size(set.width_mm, set.height_mm, units)}: cut the panel to that, or a little larger and trim it
            at the end.
          </Typography>
        </Part>
        <Part title="Card">
          <StockChoice
            stocks={stocks.data ?? []}
            chosen={state.stock}
            onChoose={(stock) => stock !== state.stock && change("set_stock", { stock })}
          />
        </Part>
        <Part title="How the sheets are aligned">
          <RadioGroup
            aria-label="How the sheets are aligned"
            value={state.register}
            onChange={(_, register) => change("set_register", { register })}
          >
            {REGISTERS.map((r) => (
              <FormControlLabel key={r.key} value={r.key} control={<Radio size="small" />} label={r.label} />
            ))}
          </RadioGroup>
        </Part>
        <Part title="How many cards">
          <Cards key={state.cards} />
        </Part>
        <Box>
          <Button component="a" href={`/api/colourings/${id}/file`} variant="outlined">
            Keep this build as a file
          </Button>
        </Box>
      </Box>
      <Box>
        <img
          src={pictureUrl(id, (head ?? state).picture_key, 800)}
          alt="The predicted panel on this card"
          onLoad={pictureShown}
          style={{ width: "100%", display: "block", boxShadow: "0 1px 3px rgba(0,0,0,.35)" }}
        />
        <Typography variant="caption" component="p" sx={{ color: greys.quiet }}>
          The same passes look different on every card; choose one and see.
        </Typography>
      </Box>
    </Box>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box component="section">
      <Typography variant="h3" component="h2" sx={{ mb: 1 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}

function Name() {
  const { state, reload } = useShared();
  const [name, setName] = useState(state.name);
  const rename = useAct(
    (wanted: string) =>
      api.PATCH("/api/builds/{id}", { params: { path: { id: state.build_id } }, body: { name: wanted } }),
    {
      changes: [keys.builds, keys.build(state.build_id)],
      then: reload,
      otherwise: "That name could not be kept.",
    },
  );
  const keep = () => {
    const wanted = name.trim();
    if (!wanted || wanted === state.name) return setName(state.name);
    rename.mutate(wanted);
  };
  return (
    <TextField
      fullWidth
      label="Name of this build"
      value={name}
      onChange={(e) => setName(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => e.key === "Enter" && keep()}
      slotProps={{ htmlInput: { maxLength: 200 } }}
    />
  );
}

function Cards() {
  const { state, change } = useShared();
  const [count, setCount] = useState(String(state.cards));
  const wanted = Number(count);
  const wrong = !Number.isInteger(wanted) || wanted < 1 || wanted > 200;
  const keep = () => {
    if (!wrong && wanted !== state.cards) change("set_cards", { cards: wanted });
  };
  return (
    <Box>
      <TextField
        label="Cards"
        value={count}
        error={wrong}
        helperText={wrong ? "A whole number from 1 to 200." : undefined}
        onChange={(e) => setCount(e.target.value)}
        onBlur={keep}
        onKeyDown={(e) => e.key === "Enter" && keep()}
        sx={{ width: 140 }}
        slotProps={{ htmlInput: { inputMode: "numeric" } }}
      />
      {state.cards > 1 && (
        <Typography variant="caption" component="p">
          The order is worked out for one card. Make one whole, look at it, then the rest.
        </Typography>
      )}
    </Box>
  );
}
