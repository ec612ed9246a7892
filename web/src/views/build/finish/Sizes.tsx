/** What the card is made of: its format and fold, mats, foam, stiffener, strips for words. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { Finish, FinishValues, Stock } from "../../../api/client";
import { LengthField } from "../../../parts/LengthField";
import type { Units } from "../../../parts/lengths";
import { Select } from "../../../parts/Select";
import { Row } from "./Row";
import { FOAMS, Strips } from "./Strips";
import { aloneOf, EIGHTH, formatOf, inFormat, swapped, withMat } from "./words";

interface Props {
  found: Finish;
  stocks: Stock[];
  units: Units;
  onChange: (finish: FinishValues) => void;
}

const FOLDS = [
  ["side", "folded at the side"],
  ["top", "folded at the top"],
  ["none", "not folded"],
] as const;
const WAYS = [
  ["panel", "the panel outwards"],
  ["card", "the card inwards"],
] as const;
const LAYERS = [
  ["no", "a panel on a base"],
  ["yes", "one layer: the panel is folded"],
] as const;
const MOST_MATS = 4;

export function Sizes({ found, stocks, units, onChange }: Props) {
  const { finish } = found;
  const named = stocks.map((s) => [s.key, s.name] as const);
  const format = formatOf(finish, found.formats);
  const set = (values: Partial<FinishValues>) => onChange({ ...finish, ...values });
  const other = stocks.find((s) => s.key !== finish.base)?.key ?? finish.base;
  return (
    <Box sx={{ display: "grid", gap: 1.5 }}>
      <Row>
        <Select
          label="Card"
          value={format?.key ?? ""}
          options={found.formats.map((f) => [f.key, f.label] as const)}
          none="its own size"
          minWidth={220}
          onChoose={(key) => {
            const wanted = found.formats.find((f) => f.key === key);
            if (wanted) onChange(inFormat(finish, wanted));
          }}
        />
        <LengthField
          label="Wide"
          mm={finish.width}
          units={units}
          low={40}
          high={500}
          onSet={(width) => set({ width })}
        />
        <LengthField
          label="High"
          mm={finish.height}
          units={units}
          low={40}
          high={500}
          onSet={(height) => set({ height })}
        />
        <Button
          variant="text"
          disabled={finish.width === finish.height}
          onClick={() => set({ width: finish.height, height: finish.width })}
        >
          Turn it
        </Button>
      </Row>
      <Row>
        <Select
          label="Fold"
          value={finish.fold}
          options={FOLDS}
          minWidth={170}
          onChoose={(fold) => set({ fold })}
        />
        <Select
          label="Made as"
          value={finish.alone ? "yes" : "no"}
          options={LAYERS}
          minWidth={220}
          onChoose={(v) => onChange(aloneOf(finish, v === "yes"))}
        />
        {!finish.alone && (
          <Select
            label="Base"
            value={finish.base}
            options={named}
            minWidth={150}
            onChoose={(base) => set({ base })}
          />
        )}
      </Row>
      {!finish.alone && (
        <>
          <Row>
            <Select
              label="Sizes are counted from"
              value={finish.way}
              options={WAYS}
              minWidth={200}
              onChoose={(way) => set({ way })}
            />
            {finish.way === "card" && (
              <LengthField
                label="Base shows"
                mm={finish.edge}
                units={units}
                low={0}
                high={60}
                onSet={(edge) => set({ edge })}
              />
            )}
            <LengthField
              label="More at the foot"
              mm={finish.foot}
              units={units}
              low={0}
              high={60}
              width={140}
              onSet={(foot) => set({ foot })}
            />
          </Row>
          {finish.mats.map((mat, n) => (
            // mats have no name but their place
            <Row
              key={n}
              label={finish.mats.length > 1 ? `Mat ${n + 1}, from the outside` : "Mat"}
              off={{
                label: `Without mat ${n + 1}`,
                press: () => set({ mats: finish.mats.filter((_, k) => k !== n) }),
              }}
            >
              <Select
                label="Card of the mat"
                value={mat.stock}
                options={named}
                minWidth={150}
                onChoose={(stock) => set({ mats: swapped(finish.mats, n, { ...mat, stock }) })}
              />
              <LengthField
                label="Shows"
                mm={mat.margin}
                units={units}
                low={0.5}
                high={60}
                onSet={(margin) => set({ mats: swapped(finish.mats, n, { ...mat, margin }) })}
              />
              <LengthField
                label="More at the foot"
                mm={mat.foot}
                units={units}
                low={0}
                high={60}
                width={140}
                onSet={(foot) => set({ mats: swapped(finish.mats, n, { ...mat, foot }) })}
              />
              <Button
                variant="text"
                aria-pressed={mat.rim > 0}
                onClick={() =>
                  set({ mats: swapped(finish.mats, n, { ...mat, rim: mat.rim ? 0 : 2 * EIGHTH }) })
                }
              >
                {mat.rim ? "Keep it whole" : "Cut out its middle"}
              </Button>
            </Row>
          ))}
          <Row>
            <Button
              variant="outlined"
              disabled={finish.mats.length >= MOST_MATS}
              onClick={() => onChange(withMat(finish, other))}
            >
              Add a mat
            </Button>
            <Select
              label="Foam under the panel"
              value={finish.foam as 0}
              options={FOAMS}
              minWidth={150}
              onChoose={(foam) => set({ foam })}
            />
            <Select
              label="Stiffener"
              value={finish.stiffener}
              options={named}
              none="none"
              minWidth={150}
              onChoose={(stiffener) => set({ stiffener })}
            />
          </Row>
        </>
      )}
      <Strips finish={finish} named={named} units={units} onChange={onChange} />
    </Box>
  );
}
