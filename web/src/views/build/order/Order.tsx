/** The order of work with its reasons and times, sheet by sheet, and a picture of any moment in it. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link } from "react-router";
import type { Laid, Rung, Step } from "../../../api/client";
import { Chip } from "../../../parts/Dab";
import { minutes } from "../../../parts/lengths";
import { Overlays } from "../../../parts/Overlays";
import { PanelPicture } from "../../../parts/PanelPicture";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";
import { Desk } from "../Desk";
import { TimeLine } from "./TimeLine";

const capital = (word: string) => word.replace(/^./, (c) => c.toUpperCase());

/** What a seat is called: the part of a set, and of which where it is not the first. */
function titleOf(set: Laid, number: number | null): string {
  const sheet = set.sheets.find((s) => s.number === number);
  if (!sheet) return "First";
  if (sheet.kind === "free") return "The bare panel";
  if (sheet.kind === "words" || sheet.kind === "card") return sheet.name;
  const first = set.things.find((t) => t.kind === "set");
  const of = first?.key === sheet.thing ? "" : ` of ${set.things.find((t) => t.key === sheet.thing)?.name}`;
  return `${capital(sheet.nouns.one)} ${sheet.called}${of}: ${sheet.name}`;
}

interface Numbered extends Step {
  number: number;
}

/** Steps gathered under the sheet that is seated: each seat begins a new gathering. */
function bySeat(steps: Step[]): Numbered[][] {
  const gathered: Numbered[][] = [];
  steps.forEach((step, i) => {
    if (step.kind === "place" || gathered.length === 0) gathered.push([]);
    gathered[gathered.length - 1]?.push({ ...step, number: i });
  });
  return gathered;
}

export function Component() {
  const { state, set, painter } = useShared();
  const { sequence } = state;
  const [chosen, setChosen] = useState(sequence.steps.length - 1);
  const rungs = new Map(state.elements.flatMap((e) => e.rungs.map((r) => [r.key, r])));
  const at = Math.min(chosen, sequence.steps.length - 1);
  const step = sequence.steps[at];
  if (!step) return <Empty />;
  const after = step.done_before + (step.kind === "ink" ? 1 : 0);
  const rung = step.pass_key ? rungs.get(step.pass_key) : undefined;
  const marked = rung
    ? set.sheets.flatMap((s) => s.groups).find((g) => g.element === rung.element && g.sheet === rung.sheet)
    : undefined;
  return (
    <Desk
      columns="minmax(320px, 460px) minmax(0, 1fr)"
      above={<Totals />}
      picture={
        <PanelPicture
          painter={painter}
          picture={state.picture_key}
          after={after}
          alt={`The panel after step ${at + 1}: ${step.sentence}`}
          set={set}
          marked={marked ?? null}
        >
          <Overlays step={step} set={set} />
        </PanelPicture>
      }
      below={
        <Typography variant="caption" component="p" sx={{ m: 0, textAlign: "center" }}>
          After step {at + 1}: {step.sentence}
        </Typography>
      }
    >
      <TimeLine steps={sequence.steps} rungs={rungs} at={at} onPick={setChosen} />
      {bySeat(sequence.steps).map((steps) => (
        <Paper variant="card" component="section" key={steps[0]?.number}>
          <Typography variant="h3" component="h2" sx={{ px: 2, pt: 1.25, pb: 0.5 }}>
            {steps[0]?.kind === "place" ? titleOf(set, steps[0].sheet) : "First"}
          </Typography>
          <Box component="ol">
            {steps.map((s) => (
              <Row
                key={s.number}
                step={s}
                rung={s.pass_key ? rungs.get(s.pass_key) : undefined}
                card={state.stock_colour.hex}
                chosen={s.number === at}
                onChoose={() => setChosen(s.number)}
              />
            ))}
          </Box>
        </Paper>
      ))}
    </Desk>
  );
}

function Totals() {
  const { sequence, cards } = useShared().state;
  const parts = [
    `${sequence.placements} placements`,
    `${sequence.masks} masks`,
    `${sequence.cleanings} cleanings`,
    `${minutes(sequence.waiting)} of waiting`,
  ];
  return (
    <Box sx={{ width: "100%" }}>
      <Typography variant="h2">
        {minutes(sequence.minutes)}
        {cards > 1 ? " for one card" : ""}
      </Typography>
      <Typography variant="body2">{parts.join(", ")}</Typography>
    </Box>
  );
}

interface RowProps {
  step: Numbered;
  rung: Rung | undefined;
  card: string;
  chosen: boolean;
  onChoose: () => void;
}

function Row({ step, rung, card, chosen, onChoose }: RowProps) {
  return (
    <Box component="li" sx={{ borderTop: `1px solid ${greys.ground}` }}>
      <ButtonBase
        onClick={onChoose}
        aria-pressed={chosen}
        sx={{
          width: "100%",
          display: "grid",
          gridTemplateColumns: "28px 62px 36px 1fr auto",
          columnGap: 1,
          alignItems: "center",
          textAlign: "left",
          px: 2,
          py: 0.75,
          bgcolor: chosen ? greys.white : "transparent",
          font: "inherit",
        }}
      >
        <Typography variant="caption" sx={{ color: greys.quiet }}>
          {step.number + 1}
        </Typography>
        <Typography variant="body2" sx={{ fontWeight: 640 }}>
          {step.word}
        </Typography>
        {rung ? <Chip colour={rung.alone.hex} card={card} /> : <span />}
        <Box sx={{ minWidth: 0 }}>
          <Typography variant="body2">{step.sentence}</Typography>
          {step.reasons.map((reason) => (
            <Typography key={reason} variant="caption" component="div" sx={{ color: greys.quiet }}>
              {reason}
            </Typography>
          ))}
          {step.caution && (
            <Typography variant="caption" component="div" sx={{ fontWeight: 600 }}>
              {step.caution}
            </Typography>
          )}
          {chosen && step.how && (
            <Typography variant="caption" component="div">
              How the time is found: {step.how}
            </Typography>
          )}
        </Box>
        <Typography variant="body2" sx={{ whiteSpace: "nowrap" }}>
          {minutes(step.minutes)}
        </Typography>
      </ButtonBase>
    </Box>
  );
}

function Empty() {
  const { id } = useShared();
  return (
    <Box sx={{ p: 4, maxWidth: 520 }}>
      <Typography variant="h1">No pass to put in order yet</Typography>
      <Typography sx={{ my: 2 }}>
        Give the elements their inks first. The order then follows by itself: which sheet when, what to mask,
        what to clean, what to wait for, and why.
      </Typography>
      <Button component={Link} to={`/builds/${id}/strata`} variant="contained">
        Give inks
      </Button>
    </Box>
  );
}
