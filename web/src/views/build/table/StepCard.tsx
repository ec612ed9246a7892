/** What to hold, what to do, what to tick, what to wait for. */
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Inked, Laid, State, TableStep } from "../../../api/client";
import { Dab } from "../../../parts/Dab";
import { minutes } from "../../../parts/lengths";
import { greys, signal } from "../../../theme/theme";
import { placeOf } from "../paths";
import { formSentence } from "../strata/shading";
import { TheEnd } from "./TheEnd";
import { type Clock, dryAt, shown, useSeconds } from "./clocks";
import { toTick } from "./ticks";
import type { TableHandle } from "./useTable";

interface Props {
  state: State;
  set: Laid;
  table: TableHandle;
  clocks: Clock[];
}

const NOT_HERE: Record<string, string> = {
  dry: "has run dry",
  "wished for": "is only wished for",
  away: "is put away",
};
const OFF_CARD = ["prep", "wipe", "clean"];
// done beside the cards
const BIG = { fontSize: 22, lineHeight: 1.35 };

export function StepCard({ state, set, table, clocks }: Props) {
  const { steps, at, step } = table;
  const next = steps[at + 1];
  const several = (table.table?.cards.length ?? 1) > 1;
  const onCard = step && step.card > 0 && !OFF_CARD.includes(step.kind);
  if (!step && steps.length > 0)
    return (
      <TheEnd
        table={table}
        finish={placeOf(state.build_id, state.id, "finish")}
        card={state.stock_colour.hex}
      />
    );
  if (!step) return <NothingYet />;
  return (
    <Box aria-live="polite" sx={{ display: "grid", gap: 2, alignContent: "start", overflowY: "auto" }}>
      <Typography variant="h1" component="h2" sx={{ fontSize: { xs: 28, md: 36 } }}>
        {headline(step)}
      </Typography>
      {((several && onCard) || step.who > 1) && (
        <Typography sx={{ fontSize: 22, fontWeight: 600 }}>
          {[several && onCard ? `Card ${step.card}` : "", step.who > 1 ? "for the second pair of hands" : ""]
            .filter(Boolean)
            .join(", ")}
        </Typography>
      )}
      {step.inked && <Hold inked={step.inked} state={state} />}
      {step.kind === "place" && (
        <Pads steps={steps} at={at} card={state.stock_colour.hex} noun={set.nouns.one} />
      )}
      {step.kind === "wait" && <Timer step={step} clocks={clocks} />}
      {step.reasons[0] && <Typography sx={{ fontSize: 20, lineHeight: 1.4 }}>{step.reasons[0]}</Typography>}
      <Ticks step={step} set={set} state={state} table={table} />
      {step.inked && (
        <Typography sx={{ fontSize: 20, color: greys.quiet }}>
          Dab on scrap first. It dries a little lighter than it looks wet.
        </Typography>
      )}
      {step.caution && (
        <Typography sx={{ fontSize: 20, fontWeight: 600, borderLeft: `5px solid ${signal}`, pl: 1.5 }}>
          {step.caution}
        </Typography>
      )}
      {next && <Typography sx={{ fontSize: 20, color: greys.quiet }}>Then: {next.sentence}</Typography>}
    </Box>
  );
}

function NothingYet() {
  return (
    <Box sx={{ alignSelf: "center" }}>
      <Typography variant="h1" component="h2" sx={{ fontSize: 40 }}>
        Nothing to do yet.
      </Typography>
      <Typography sx={{ ...BIG, mt: 2 }}>
        Give the elements their inks first; the steps follow by themselves.
      </Typography>
    </Box>
  );
}

/** What to take in hand for a pass. */
function Hold({ inked, state }: { inked: Inked; state: State }) {
  return (
    <Box sx={{ display: "flex", gap: 2.5, alignItems: "center", flexWrap: "wrap" }}>
      <Dab
        dabs={[inked.alone]}
        card={state.stock_colour.hex}
        width={132}
        title={`${inked.ink_name} on ${state.stock_name}`}
      />
      <Box sx={BIG}>
        <div>
          {inked.coats > 1 ? `${inked.coats} coats` : "One coat"}, {inked.hand} hand
        </div>
        <div>
          {inked.brush_label}, {formSentence(inked.form)}
        </div>
        {inked.place && <div>The pad: {inked.place}</div>}
        {NOT_HERE[inked.state] && <strong>The pad {NOT_HERE[inked.state]}.</strong>}
      </Box>
    </Box>
  );
}

/** The pads this sheet wants, in the order in which they are taken up. */
function Pads({ steps, at, card, noun }: { steps: TableStep[]; at: number; card: string; noun: string }) {
  const rest = steps.slice(at + 1);
  const end = rest.findIndex((s) => s.kind === "place");
  const passes = rest.slice(0, end < 0 ? undefined : end).flatMap((s) => (s.inked ? [s.inked] : []));
  const pads = [...new Map(passes.map((r) => [r.ink, r] as const)).values()];
  return (
    <Box>
      <Typography sx={{ fontSize: 20, mb: 1 }}>Pads for this {noun}:</Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2 }}>
        {pads.map((r) => (
          <Box
            key={r.ink}
            sx={{ display: "flex", alignItems: "center", gap: 1.25, fontSize: 20, minWidth: 200 }}
          >
            <Dab dabs={[r.alone]} card={card} width={74} />
            <span>
              {r.ink_name}
              {(r.place || NOT_HERE[r.state]) && (
                <Box component="span" sx={{ display: "block", color: greys.quiet }}>
                  {NOT_HERE[r.state] ?? r.place}
                </Box>
              )}
            </span>
          </Box>
        ))}
      </Box>
    </Box>
  );
}

export function headline(step: TableStep): string {
  return step.inked ? `${step.inked.ink_name} on the ${step.inked.element}` : step.sentence;
}

function Ticks({
  step,
  set,
  state,
  table,
}: {
  step: TableStep;
  set: Laid;
  state: State;
  table: TableHandle;
}) {
  const names = toTick(step, set, state);
  if (names.length === 0) return null;
  return (
    <Box
      component="ul"
      aria-label="To tick off"
      sx={{
        display: "grid",
        gap: 1,
        gridTemplateColumns: "repeat(auto-fill, minmax(220px, 1fr))",
      }}
    >
      {names.map((name) => {
        const ticked = table.ticks.includes(name);
        return (
          <li key={name}>
            <ButtonBase
              role="checkbox"
              aria-checked={ticked}
              onClick={() => table.tick(name)}
              sx={{
                width: "100%",
                minHeight: 64,
                justifyContent: "flex-start",
                gap: 1.5,
                px: 2,
                fontSize: 21,
                borderRadius: 1,
                border: `2px solid ${greys.ink}`,
                bgcolor: ticked ? greys.ink : greys.white,
                color: ticked ? greys.white : greys.ink,
                textAlign: "left",
              }}
            >
              <svg width="26" height="26" viewBox="0 0 26 26" aria-hidden="true">
                <rect
                  x="2"
                  y="2"
                  width="22"
                  height="22"
                  rx="3"
                  fill="none"
                  stroke="currentColor"
                  strokeWidth="2.500"
                />
                {ticked && <path d="m7 13 4.500 5L20 8" fill="none" stroke="currentColor" strokeWidth="3" />}
              </svg>
              {name}
            </ButtonBase>
          </li>
        );
      })}
    </Box>
  );
}

/** Until what it is for is dry: by the clock of that thing, which may have begun long before the wait. */
function Timer({ step, clocks }: { step: TableStep; clocks: Clock[] }) {
  const [begun] = useState(() => Date.now() / 1000);
  const now = useSeconds();
  const left = (dryAt(step, clocks) ?? begun + step.minutes * 60) - now;
  return (
    <Box>
      <Typography role="timer" sx={{ fontSize: 72, lineHeight: 1, fontWeight: 640 }}>
        {shown(left)}
      </Typography>
      <Typography sx={{ fontSize: 20 }}>
        {left > 0
          ? `by the clock of what is wet${step.heated_minutes ? `; about ${minutes(step.heated_minutes)} with a heat tool` : ""}`
          : "The time is up. Touch a corner of scrap to be sure."}
      </Typography>
    </Box>
  );
}
