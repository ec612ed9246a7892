/** The sheets as they came in: put in order, named, turned the right way up. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { Import } from "../../../api/client";
import { greys } from "../../../theme/theme";
import { Unseen } from "../../../parts/Unseen";
import { counted } from "../../../parts/words";
import { type Choice, choicesOf, type LaidSheet, ownColour, putTogether } from "./arranged";
import { Photographs } from "./Photographs";

interface Props {
  item: Import;
  draft: NonNullable<Import["draft"]>;
  chosen: number;
  onChoose: (index: number) => void;
  onChange: (make: (choices: Choice[]) => Choice[]) => void;
  onChangeOne: (at: number, values: (choice: Choice) => Partial<Choice>) => void;
  /** One more photograph of a sheet. */
  onMore: (at: number, file: File) => void;
}

const moved = <T,>(list: T[], from: number, by: number): T[] => {
  const copy = [...list];
  const [item] = copy.splice(from, 1);
  if (item !== undefined) copy.splice(from + by, 0, item);
  return copy;
};

export function SheetOrder({ item, draft, chosen, onChoose, onChange, onChangeOne, onMore }: Props) {
  const several = item.source !== "bundle" && item.sheets.length === draft.sheets.length;
  const choices = choicesOf(item);
  const together = (index: number) => item.sheets[index]?.together.length ?? 0;
  const said = (sheet: LaidSheet, i: number) =>
    [
      counted(sheet.openings, "opening"),
      sheet.marks && "with marks",
      several && together(i) > 0 && counted(together(i) + 1, "photograph"),
    ]
      .filter(Boolean)
      .join(", ");
  const shift = (index: number, by: number) => {
    onChoose(index + by);
    onChange((now) => moved(now, index, by));
  };
  return (
    <Box
      component="ol"
      aria-label="Sheets in the order of use"
      sx={{
        display: "grid",
        gap: 1,
        maxHeight: { md: "82dvh" },
        overflow: "auto",
      }}
    >
      {draft.sheets.map((sheet: LaidSheet, i) => (
        <Box
          component="li"
          key={sheet.number}
          sx={{
            bgcolor: greys.sheet,
            border: `2px solid ${i === chosen ? greys.ink : greys.line}`,
            borderRadius: 1,
            p: 1,
            display: "grid",
            gap: 0.75,
          }}
        >
          <ButtonBase
            aria-pressed={i === chosen}
            onClick={() => onChoose(i)}
            sx={{
              display: "grid",
              gridTemplateColumns: "64px 1fr",
              gap: 1,
              textAlign: "left",
              alignItems: "center",
            }}
          >
            <svg
              viewBox={`0 0 ${draft.width_mm} ${draft.height_mm}`}
              width={64}
              aria-hidden="true"
              style={{ background: greys.field, display: "block" }}
            >
              <g transform={sheet.transform}>
                {sheet.groups.map((g) => (
                  <path key={g.element} d={g.outline} fill={ownColour(sheet.name) ?? "#3a3a3a"} />
                ))}
                <path d={sheet.marks} fill={greys.ink} />
              </g>
            </svg>
            <Box>
              <Typography sx={{ fontWeight: 640, overflowWrap: "anywhere" }}>
                <Unseen>Show sheet</Unseen> {i + 1}. {sheet.name}
              </Typography>
              <Typography variant="caption">{said(sheet, i)}</Typography>
            </Box>
          </ButtonBase>
          {i === chosen && several && (
            <>
              <TextField
                key={choices[i]?.title}
                label="Name of this sheet"
                sx={{ mt: 0.75 }}
                defaultValue={choices[i]?.title}
                onBlur={(e) =>
                  e.target.value.trim() &&
                  e.target.value !== choices[i]?.title &&
                  onChangeOne(i, () => ({ title: e.target.value.trim() }))
                }
              />
              <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>
                <Button variant="outlined" disabled={i === 0} onClick={() => shift(i, -1)}>
                  Earlier
                </Button>
                <Button
                  variant="outlined"
                  disabled={i === draft.sheets.length - 1}
                  onClick={() => shift(i, 1)}
                >
                  Later
                </Button>
                <Button
                  variant="outlined"
                  onClick={() => onChangeOne(i, (c) => ({ turn: ((c.turn + 90) % 360) as Choice["turn"] }))}
                >
                  Quarter turn
                </Button>
                <Button
                  variant={choices[i]?.mirrored ? "contained" : "outlined"}
                  aria-pressed={choices[i]?.mirrored ?? false}
                  onClick={() => onChangeOne(i, (c) => ({ mirrored: !c.mirrored }))}
                >
                  Mirror
                </Button>
              </Box>
              {item.source === "photograph" && (
                <Photographs
                  item={item}
                  chosen={i}
                  onSame={(as) => {
                    onChoose(as > i ? as - 1 : as);
                    onChange((now) => putTogether(now, i, as));
                  }}
                  onApart={() => onChangeOne(i, () => ({ apart: true }))}
                  onMore={(file) => onMore(i, file)}
                />
              )}
            </>
          )}
        </Box>
      ))}
    </Box>
  );
}
