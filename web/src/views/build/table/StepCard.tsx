/** What to hold, what to do, what to tick, what to wait for. */
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import type { Laid, Rung, State, Step } from "../../../api/client";
import { Dab } from "../../../parts/Dab";
import { minutes } from "../../../parts/lengths";
import { greys, signal } from "../../../theme/theme";
import { formSentence } from "../strata/shading";
import { toTick } from "./ticks";
import type { TableHandle } from "./useTable";

interface Props {
  state: State;
  set: Laid;
  at: number;
  rung: Rung | undefined;
  rungs: Map<string, Rung>;
  table: TableHandle;
}

const NOT_HERE: Record<string, string> = {
  dry: "has run dry",
  "wished for": "is only wished for",
  away: "is put away",
};
const BIG = { fontSize: 22, lineHeight: 1.35 };

export function StepCard({ state, set, at, rung, rungs, table }: Props) {
  const step = state.sequence.steps[at];
  const next = state.sequence.steps[at + 1];
  if (!step) {
    return (
      <Box sx={{ alignSelf: "center" }}>
        <Typography variant="h1" component="h2" sx={{ fontSize: 40 }}>
          That is the whole picture.
        </Typography>
        <Typography sx={{ ...BIG, mt: 2 }}>Let it dry through before you trim and mount it.</Typography>
      </Box>
    );
  }
  return (
    <Box aria-live="polite" sx={{ display: "grid", gap: 2, alignContent: "start", overflowY: "auto" }}>
      <Typography variant="h1" component="h2" sx={{ fontSize: { xs: 28, md: 36 } }}>
        {headline(step, rung)}
      </Typography>
      {rung && (
        <Box sx={{ display: "flex", gap: 2.5, alignItems: "center", flexWrap: "wrap" }}>
          <Dab
            dabs={[rung.alone]}
            card={state.stock_colour.hex}
            width={132}
            title={`${rung.ink_name} on ${state.stock_name}`}
          />
          <Box sx={BIG}>
            <div>
              {rung.coats > 1 ? `${rung.coats} coats` : "One coat"}, {rung.hand} hand
            </div>
            <div>
              {rung.brush_label}, {formSentence(rung.form)}
            </div>
            {rung.place && <div>The pad: {rung.place}</div>}
            {NOT_HERE[rung.state] && <strong>The pad {NOT_HERE[rung.state]}.</strong>}
          </Box>
        </Box>
      )}
      {step.kind === "place" && (
        <Pads
          steps={state.sequence.steps}
          at={at}
          rungs={rungs}
          card={state.stock_colour.hex}
          noun={set.nouns.one}
        />
      )}
      {step.kind === "wait" && <Timer step={step} table={table} />}
      {step.reasons[0] && <Typography sx={{ fontSize: 20, lineHeight: 1.4 }}>{step.reasons[0]}</Typography>}
      <Ticks step={step} rung={rung} set={set} state={state} table={table} />
      {rung && (
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

/** The pads this sheet wants, in the order in which they are taken up. */
function Pads({
  steps,
  at,
  rungs,
  card,
  noun,
}: {
  steps: Step[];
  at: number;
  rungs: Map<string, Rung>;
  card: string;
  noun: string;
}) {
  const rest = steps.slice(at + 1);
  const end = rest.findIndex((s) => s.kind === "place");
  const passes = rest
    .slice(0, end < 0 ? undefined : end)
    .flatMap((s) => (s.pass_key ? [rungs.get(s.pass_key)] : []));
  const pads = [...new Map(passes.flatMap((r) => (r ? [[r.ink, r] as const] : []))).values()];
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

function headline(step: Step, rung: Rung | undefined): string {
  return rung ? `${rung.ink_name} on the ${rung.element}` : step.sentence;
}

function Ticks({
  step,
  rung,
  set,
  state,
  table,
}: {
  step: Step;
  rung: Rung | undefined;
  set: Laid;
  state: State;
  table: TableHandle;
}) {
  const names = toTick(step, rung, set, state);
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

function Timer({ step, table }: { step: Step; table: TableHandle }) {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 500);
    return () => clearInterval(timer);
  }, []);
  const started = table.waitStarted ?? now;
  const left = Math.max(0, step.minutes * 60 - (now - started) / 1000);
  const mm = Math.floor(left / 60);
  const ss = String(Math.floor(left % 60)).padStart(2, "0");
  return (
    <Box>
      <Typography role="timer" sx={{ fontSize: 72, lineHeight: 1, fontWeight: 640 }}>
        {mm}:{ss}
      </Typography>
      <Typography sx={{ fontSize: 20 }}>
        {left > 0
          ? `of ${minutes(step.minutes)}${step.heated_minutes ? `; about ${minutes(step.heated_minutes)} with a heat tool` : ""}`
          : "The time is up. Touch a corner of scrap to be sure."}
      </Typography>
    </Box>
  );
}
