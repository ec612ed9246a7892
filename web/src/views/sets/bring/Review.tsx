/** What was read, to be confirmed: size, kind, order, right way up; over the photograph where there is one. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Choices } from "../../../parts/Choices";
import type { Import } from "../../../api/client";
import { useSession } from "../../../api/hooks";
import { LengthField } from "../../../parts/LengthField";
import { counted } from "../../../parts/words";
import { sheetGrey } from "../../../parts/SetPreview";
import { greys } from "../../../theme/theme";
import { ByWhatIsThere } from "./ByWhatIsThere";
import { arranged, type Choice, choicesOf, type LaidSheet, ownColour } from "./arranged";
import { KINDS } from "./BringIn";
import type { useSteps } from "./Follow";
import { OnPhoto } from "./OnPhoto";
import { doubtfulOf } from "./OnPhotoParts";
import { SheetOrder } from "./SheetOrder";

type Draft = NonNullable<Import["draft"]>;

export function Review({
  item,
  draft,
  steps,
  chosen,
  onChoose,
}: {
  item: Import;
  draft: Draft;
  steps: ReturnType<typeof useSteps>;
  chosen: number;
  onChoose: (index: number) => void;
}) {
  const photographed = item.source === "photograph";
  const units = useSession().data?.units ?? "in";
  const [onPhoto, setOnPhoto] = useState(photographed);
  const sheet = item.sheets[chosen];
  const change = (make: (choices: Choice[]) => Choice[]) => {
    // as it lies on the screen: it is there at once, and what is sent next counts from it
    const choices = make(choicesOf(item));
    const sheets = choices.map(({ corners, ...rest }) => (corners ? { ...rest, corners } : rest));
    // what is read otherwise is known when the answer is there
    const read = choices.some((c) => c.corners || c.level !== undefined || c.also || c.apart);
    steps.again({ sheets }, read ? undefined : arranged(item, choices));
  };
  const changeOne = (at: number, values: (choice: Choice) => Partial<Choice>) =>
    change((choices) => choices.map((c, i) => (i === at ? { ...c, ...values(c) } : c)));
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "1fr", md: "250px minmax(0, 1fr) 290px" },
        gap: 3,
        p: { xs: 2, sm: 3 },
        alignItems: "start",
      }}
    >
      <SheetOrder
        item={item}
        draft={draft}
        chosen={chosen}
        onChoose={onChoose}
        onChange={change}
        onChangeOne={changeOne}
        onMore={(at, file) => steps.more(at, file)}
      />
      <Box>
        {photographed && sheet?.photo && (
          <Choices
            apart
            label="What is shown"
            value={onPhoto ? "photo" : "stack"}
            options={[
              ["photo", "On the photograph"],
              ["stack", "Sheets on each other"],
            ]}
            onChoose={(key) => setOnPhoto(key === "photo")}
            sx={{ mb: 1 }}
          />
        )}
        {onPhoto && sheet?.photo ? (
          <OnPhoto
            key={`${chosen}:${JSON.stringify([sheet.corners, sheet.level, item.options.width_mm])}`}
            sheet={sheet}
            units={units}
            busy={steps.busy}
            onCorners={(corners) => changeOne(chosen, () => ({ corners }))}
            onLevel={(level) => changeOne(chosen, () => ({ level }))}
            onRetouches={(retouches) => changeOne(chosen, () => ({ retouches }))}
            onFit={(points, then) => steps.fit(chosen, points, then)}
            onMeasured={(points, apart) => steps.again({ measured: { sheet: chosen, points, apart } })}
            onDrop={(index) =>
              changeOne(chosen, (c) => ({
                dropped: c.dropped.includes(index)
                  ? c.dropped.filter((d) => d !== index)
                  : [...c.dropped, index],
              }))
            }
          />
        ) : (
          <Laid draft={draft} chosen={chosen} />
        )}
      </Box>
      <Particulars item={item} draft={draft} steps={steps} />
    </Box>
  );
}

function Laid({ draft, chosen }: { draft: Draft; chosen: number }) {
  return (
    <svg
      viewBox={`0 0 ${draft.width_mm} ${draft.height_mm}`}
      role="img"
      aria-label="The sheets on top of each other"
      style={{
        width: "100%",
        maxHeight: "76dvh",
        display: "block",
        background: greys.field,
        boxShadow: "0 1px 3px rgba(0,0,0,.35)",
      }}
    >
      {draft.sheets.map((s: LaidSheet, i) => (
        <g
          key={s.number}
          transform={s.transform}
          fill={ownColour(s.name) ?? sheetGrey(i, draft.sheets.length)}
          fillOpacity={i === chosen ? 0.95 : 0.5}
        >
          {s.groups.map((g) => (
            <path
              key={g.element}
              d={g.outline}
              stroke={i === chosen ? greys.ink : "none"}
              strokeWidth={0.25}
            />
          ))}
          <path d={s.marks} fill={greys.ink} fillOpacity={1} />
        </g>
      ))}
    </svg>
  );
}

function Particulars({
  item,
  draft,
  steps,
}: {
  item: Import;
  draft: Draft;
  steps: ReturnType<typeof useSteps>;
}) {
  const units = useSession().data?.units ?? "in";
  const [name, setName] = useState(item.options.name ?? "");
  const [kind, setKind] = useState(item.options.kind ?? "stencil");
  const [sides, setSides] = useState({ width: draft.width_mm, height: draft.height_mm });
  const photographed = item.source === "photograph";
  const { width, height } = sides;
  const sized =
    Math.abs(width - draft.width_mm) > 0.02 || (photographed && Math.abs(height - draft.height_mm) > 0.02);
  const read = () =>
    steps.again({ options: { width_mm: width, ...(photographed ? { height_mm: height } : {}) } });
  const doubtful = item.sheets.reduce(
    (sum, s) => sum + doubtfulOf(s).filter((i) => !s.dropped.includes(i)).length,
    0,
  );
  const openings = draft.sheets.reduce((sum, s) => sum + s.openings, 0);
  return (
    <Paper
      variant="card"
      component="section"
      aria-label="Particulars"
      sx={{
        p: 2,
        display: "grid",
        gap: 1.5,
      }}
    >
      <Typography variant="h2" component="h1">
        Is this right?
      </Typography>
      <Typography variant="body2">
        {counted(draft.sheets.length, "sheet")}, {counted(openings, "opening")},{" "}
        {counted(draft.elements.length, "part")} proposed.
      </Typography>
      <TextField
        label="Name of the set"
        value={name}
        onChange={(e) => setName(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 200 } }}
      />
      <TextField select label="Kind" value={kind} onChange={(e) => setKind(e.target.value as typeof kind)}>
        {KINDS.map((k) => (
          <MenuItem key={k} value={k}>
            {k}
          </MenuItem>
        ))}
      </TextField>
      {item.guessed && (
        <Typography variant="body2" sx={{ fontWeight: 600 }}>
          The size was guessed.{!item.sheets.some((s) => s.by_ruler) && " Measure one sheet with a ruler."}
        </Typography>
      )}
      <Box sx={{ display: "flex", gap: 1 }}>
        <LengthField
          label="Width"
          mm={width}
          units={units}
          low={5}
          disabled={item.source === "bundle"}
          onSet={(v) => setSides({ ...sides, width: v })}
        />
        <LengthField
          label="Height"
          mm={photographed ? height : draft.height_mm}
          units={units}
          low={5}
          disabled={!photographed}
          onSet={(v) => setSides({ ...sides, height: v })}
        />
      </Box>
      {photographed && (
        <ByWhatIsThere item={item} units={units} onSize={(options) => steps.again({ options })} />
      )}
      {item.source === "drawing" && item.files === 1 && (
        <>
          <TextField
            select
            label="A sheet for each"
            value={item.options.by ?? "layer"}
            onChange={(e) => steps.again({ options: { by: e.target.value as "layer" | "colour" } })}
          >
            <MenuItem value="layer">layer</MenuItem>
            <MenuItem value="colour">colour</MenuItem>
          </TextField>
          <FormControlLabel
            control={
              <Switch
                checked={item.options.visible ?? false}
                onChange={(e) => steps.again({ options: { visible: e.target.checked } })}
              />
            }
            label="Only what is seen: later sheets cut out of earlier ones"
          />
        </>
      )}
      {sized && (
        <Button variant="contained" onClick={read}>
          Read it at this size
        </Button>
      )}
      <Button
        variant={sized ? "outlined" : "contained"}
        disabled={sized || steps.busy}
        onClick={() => steps.keep({ name: name.trim(), kind })}
      >
        {doubtful > 0 ? `Keep it, ${doubtful} doubtful too` : "Keep it"}
      </Button>
      <Button variant="text" onClick={() => steps.letGo()}>
        Let it go
      </Button>
      {/* below: five sheets may have much to say, and what is pressed next stays in sight */}
      {item.left_out.map((sentence) => (
        <Typography key={sentence} variant="body2" sx={{ borderLeft: `3px solid ${greys.ink}`, pl: 1 }}>
          {sentence}
        </Typography>
      ))}
    </Paper>
  );
}
