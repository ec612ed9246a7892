/** The first look at the whole card: its format, its card, what lies on it, how it is made. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type ReactNode, useMemo, useState } from "react";
import { Link } from "react-router";
import { useAct } from "../../../api/acts";
import { api } from "../../../api/client";
import { useStocks } from "../../../api/hooks";
import { keys } from "../../../api/keys";
import { Choices } from "../../../parts/Choices";
import { size } from "../../../parts/lengths";
import { PartByPart } from "../../../parts/PartByPart";
import { PanelPicture } from "../../../parts/PanelPicture";
import { StockChoice } from "../../../parts/StockChoice";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";
import { Desk } from "../Desk";
import { whatItIs } from "../panel/words";
import { placeOf } from "../paths";
import { useHead } from "../useBuild";
import { PanelFormat } from "./PanelFormat";

const REGISTERS = [
  { key: "jig", label: "In the corner of a jig, or on pegs" },
  { key: "marks", label: "On the printed marks" },
  { key: "eye", label: "By eye, to the layer below" },
];

const SIDES = [
  ["135", "lower left"],
  ["45", "lower right"],
  ["225", "upper left"],
  ["315", "upper right"],
] as const;

export function Component() {
  const { id, state, queue, set, painter, units, change, pictureShown } = useShared();
  const head = useHead(queue);
  const stocks = useStocks();
  const inked = useMemo(
    () => new Set(state.elements.filter((e) => e.rungs.length > 0).map((e) => e.name)),
    [state.elements],
  );
  const toPanel = placeOf(state.build_id, id, "panel");
  return (
    <Desk
      picture={
        <PanelPicture
          painter={painter}
          picture={(head ?? state).picture_key}
          alt={`The predicted panel of ${state.name} on ${state.stock_name}`}
          set={set}
          inked={inked}
          onShown={pictureShown}
        />
      }
      below={
        <Typography variant="caption" component="p" sx={{ m: 0, color: greys.quiet, textAlign: "center" }}>
          {size(set.width_mm, set.height_mm, units)} of {state.stock_name}. Point at another card to see the
          same passes on it.
        </Typography>
      }
    >
      <Box sx={{ display: "grid", gap: 2.25, p: { xs: 0.5, md: 1 } }}>
        <PartByPart>
          <Name key={state.name} />
          <Part title="Format">
            <PanelFormat />
          </Part>
          <Part title="Card">
            <StockChoice
              stocks={stocks.data ?? []}
              chosen={state.stock}
              onChoose={(stock) => stock !== state.stock && change("set_stock", { stock })}
              onLook={(stock) =>
                stock && stock !== state.stock
                  ? void painter.try([{ kind: "set_stock", values: { stock } }])
                  : painter.letGo()
              }
            />
          </Part>
          <Part title="On the panel">
            {set.things.length === 0 && (
              <Typography>Nothing yet: lay on a set, or ink the bare panel.</Typography>
            )}
            <Box component="ul" sx={{ display: "grid", gap: 0.25, mb: 1 }}>
              {[...set.things].reverse().map((t) => (
                <Box component="li" key={t.key} sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
                  <Link to={`${toPanel}?thing=${t.key}`} style={{ minHeight: 24 }}>
                    {t.name}
                  </Link>
                  <Typography variant="caption" component="span" sx={{ color: greys.quiet }}>
                    {whatItIs(t)}
                  </Typography>
                </Box>
              ))}
            </Box>
            <Button component={Link} to={toPanel} variant="outlined">
              Lay things on, and push them about
            </Button>
          </Part>
          <Part title="Shadows fall to the">
            <Choices
              label="The side to which shadows fall"
              value={String(Math.round(state.light)) as "135"}
              options={SIDES as unknown as readonly (readonly ["135", string])[]}
              onChoose={(angle) => change("set_light", { angle: Number(angle) })}
              apart
              button={{ px: 1 }}
            />
          </Part>
          <Part title="How the sheets are aligned">
            <RadioGroup
              aria-label="How the sheets are aligned"
              value={state.register}
              onChange={(_, register) => change("set_register", { register })}
            >
              {REGISTERS.map((r) => (
                <FormControlLabel
                  key={r.key}
                  value={r.key}
                  control={<Radio size="small" />}
                  label={r.label}
                />
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
        </PartByPart>
      </Box>
    </Desk>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box component="section">
      <Typography variant="h3" component="h2" sx={{ mb: 0.75 }}>
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
