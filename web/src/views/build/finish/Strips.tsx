/** Strips for words: how large, of which card, with a shadow or on foam. */
import Button from "@mui/material/Button";
import type { FinishValues } from "../../../api/client";
import { LengthField } from "../../../parts/LengthField";
import type { Units } from "../../../parts/lengths";
import { Select } from "../../../parts/Select";
import { Row } from "./Row";
import { EIGHTH, swapped } from "./words";

export const FOAMS = [
  [0, "none"],
  [1, "1 mm"],
  [2, "2 mm"],
  [3, "3 mm"],
] as const;
const MOST_STRIPS = 6;

interface StripsProps {
  finish: FinishValues;
  named: readonly (readonly [string, string])[];
  units: Units;
  onChange: (finish: FinishValues) => void;
}

export function Strips({ finish, named, units, onChange }: StripsProps) {
  const set = (strips: FinishValues["strips"]) => onChange({ ...finish, strips });
  return (
    <>
      {finish.strips.map((strip, n) => {
        const now = (values: Partial<typeof strip>) =>
          set(swapped(finish.strips, n, { ...strip, ...values }));
        return (
          // strips have no name but their place
          <Row
            key={n}
            label="Strip for words"
            off={{
              label: `Without strip ${n + 1}`,
              press: () => set(finish.strips.filter((_, k) => k !== n)),
            }}
          >
            <LengthField
              label="Long"
              mm={strip.width}
              units={units}
              low={5}
              high={500}
              onSet={(width) => now({ width })}
            />
            <LengthField
              label="High"
              mm={strip.height}
              units={units}
              low={3}
              high={500}
              onSet={(height) => now({ height })}
            />
            <Select
              label="Card of the strip"
              value={strip.stock}
              options={named}
              minWidth={140}
              onChoose={(stock) => now({ stock })}
            />
            <Select
              label="Its shadow"
              value={strip.shadow}
              options={named}
              none="none"
              minWidth={130}
              onChoose={(shadow) => now({ shadow })}
            />
            <Select
              label="Foam"
              value={strip.foam as 0}
              options={FOAMS}
              minWidth={90}
              onChoose={(foam) => now({ foam })}
            />
          </Row>
        );
      })}
      <Row>
        <Button
          variant="outlined"
          disabled={finish.strips.length >= MOST_STRIPS}
          onClick={() =>
            set([
              ...finish.strips,
              {
                width: Math.round(finish.width * 0.5),
                height: 4 * EIGHTH,
                stock: finish.base,
                shadow: "",
                edge: EIGHTH / 2,
                foam: 0,
                x: null,
                y: null,
              },
            ])
          }
        >
          Add a strip for words
        </Button>
      </Row>
    </>
  );
}
