/**
 * The core sample of one element: card at the bottom, each pass in the order in
 * which it goes down. Left half of a slab: the ink alone on this card. Right
 * half: the colour here. Beside it the log of lightness, as a driller keeps one.
 */
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import type { Bed, Element, Finding, Rung } from "../../../api/client";
import { GONE } from "../../../parts/pads";
import { Severity } from "../../../parts/Severity";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";
import type { Stage } from "./commands";
import { CORE, LOG, Log, Slab } from "./Lengths";
import { type AskFor, RungEditor } from "./RungEditor";
import { formSentence } from "./shading";

export function CoreSample({
  element,
  stage,
  findings,
  askFor,
}: {
  element: Element;
  stage: Stage;
  findings: Finding[];
  askFor: AskFor;
}) {
  const card = element.card_colour;
  const lights = [card.lab[0] ?? 0, ...element.rungs.map((r) => r.lightness)];
  const rows = element.rungs.map((rung, i) => ({ rung, i })).reverse();
  return (
    <Paper
      variant="card"
      role="group"
      aria-label={`Core sample of ${element.name}`}
      sx={{ overflow: "hidden" }}
    >
      <Heads />
      {[...element.over].reverse().map((b) => (
        <Foreign key={`over-${b.pass_key || b.of}`} bed={b} over />
      ))}
      {rows.map(({ rung, i }) => (
        <Row
          key={rung.key}
          rung={rung}
          index={i}
          lights={lights}
          stage={stage}
          findings={findings.filter((f) => f.passes[0] === rung.key)}
          askFor={askFor}
        />
      ))}
      {[...element.below].reverse().map((b) => (
        <Foreign key={`below-${b.pass_key}`} bed={b} />
      ))}
      <Box sx={{ display: "flex", alignItems: "center", minHeight: 40 }}>
        <svg width={CORE} height="40" aria-hidden="true" style={{ flex: "none", alignSelf: "stretch" }}>
          <rect x="8" y="0" width={CORE - 16} height="40" fill={card.hex} />
          <path d={`M8 0V40M${CORE - 8} 0V40`} stroke={greys.edge} />
        </svg>
        <Log lights={lights} at={0} height={40} />
        <Typography variant="body2" sx={{ px: 1.5 }}>
          {element.card}, bare
        </Typography>
      </Box>
    </Paper>
  );
}

function Heads() {
  return (
    <Box
      aria-hidden="true"
      sx={{
        display: "flex",
        fontSize: 12,
        color: greys.quiet,
        borderBottom: `1px solid ${greys.line}`,
        py: 0.4,
      }}
    >
      <Box sx={{ width: CORE, display: "flex", justifyContent: "space-around", px: 1 }}>
        <span>alone</span>
        <span>here</span>
      </Box>
      <Box sx={{ width: LOG, display: "flex", justifyContent: "space-between", px: 1 }}>
        <span>dark</span>
        <span>light</span>
      </Box>
      <Box sx={{ px: 1.5 }}>pass, from the last at the top to the first at the bottom</Box>
    </Box>
  );
}

interface RowProps {
  rung: Rung;
  index: number;
  lights: number[];
  stage: Stage;
  findings: Finding[];
  askFor: AskFor;
}

function Row({ rung, index, lights, stage, findings, askFor }: RowProps) {
  const { set } = useShared();
  const sheet = set.sheets.find((s) => s.number === rung.sheet);
  const chosen = stage.rung?.key === rung.key;
  const height = chosen ? (rung.form.kind === "all" ? 216 : 262) : 42 + 10 * rung.thickness;
  return (
    <Box
      data-pass={rung.key}
      onClick={() => stage.choose(rung.key)}
      sx={{
        display: "flex",
        minHeight: height,
        cursor: "pointer",
        bgcolor: chosen ? greys.white : "transparent",
        "&:hover": { bgcolor: greys.field },
      }}
    >
      <Slab rung={rung} index={index} height={height} />
      <Log lights={lights} at={index + 1} height={height} />
      <Box sx={{ flex: 1, minWidth: 0, px: 1.5, py: 0.5, alignSelf: "center" }}>
        <Box sx={{ display: "flex", gap: 1, alignItems: "baseline", flexWrap: "wrap" }}>
          <ButtonBase
            aria-pressed={chosen}
            onClick={() => stage.choose(rung.key)}
            sx={{ font: "inherit", fontWeight: 640, fontSize: 15 }}
          >
            {rung.ink_name}
          </ButtonBase>
          <Typography variant="caption">
            {rung.role}
            {sheet && sheet.kind !== "free" && sheet.kind !== "words" && sheet.kind !== "card"
              ? ` · ${sheet.nouns.one} ${sheet.called}`
              : ""}
          </Typography>
          {GONE[rung.state] && (
            <Box
              component="button"
              type="button"
              title="What can stand in for it?"
              onClick={(e) => {
                e.stopPropagation();
                stage.choose(rung.key);
                stage.standIn();
              }}
              sx={{
                border: `1px solid ${greys.ink}`,
                borderRadius: 1,
                bgcolor: greys.white,
                font: "inherit",
                fontSize: 12,
                fontWeight: 640,
                px: 0.75,
                minHeight: 24,
                cursor: "pointer",
                color: greys.ink,
              }}
            >
              {GONE[rung.state]}: stand-in?
            </Box>
          )}
          {findings.map((f) => (
            <Severity key={f.key} level={f.severity} word={false} />
          ))}
          <Box sx={{ flex: 1 }} />
          <Step rung={rung} />
        </Box>
        {chosen ? (
          <RungEditor rung={rung} stage={stage} askFor={askFor} />
        ) : (
          <Typography variant="caption" component="div" noWrap sx={{ color: greys.quiet }}>
            {rung.medium !== "ink" ? `${rung.medium_label}, ` : ""}
            {rung.coats > 1 ? `${rung.coats} coats` : "1 coat"}, {rung.hand} hand, {formSentence(rung.form)}
            {rung.generation > 1 ? `, print ${rung.generation} of one inking` : ""}
            {rung.wet ? ", on damp ink" : ""}
            {rung.masks.length > 0 ? `, ${rung.masks.join(" and ")} on` : ""}
          </Typography>
        )}
      </Box>
    </Box>
  );
}

/** What of others lies there: a thin bed below, or what covers this one. */
function Foreign({ bed, over }: { bed: Bed; over?: boolean }) {
  const share = bed.share < 0.95 ? `, on ${Math.round(bed.share * 100)} % of it` : "";
  return (
    <Box sx={{ display: "flex", alignItems: "center", minHeight: 24, bgcolor: greys.bench }}>
      <svg width={CORE} height="24" aria-hidden="true" style={{ flex: "none" }}>
        <rect x="8" y="0" width={CORE - 16} height="24" fill={bed.colour.hex} />
        <path d={`M8 0V24M${CORE - 8} 0V24`} stroke={greys.edge} />
        <path d={`M8 ${over ? 23.5 : 0.5}H${CORE - 8}`} stroke={greys.white} strokeDasharray="3 3" />
      </svg>
      <Box sx={{ width: LOG, flex: "none" }} />
      <Typography variant="caption" sx={{ px: 1.5, color: greys.quiet }}>
        {over ? "Over it: " : "Under it: "}
        {bed.name}, {bed.of}
        {share}
      </Typography>
    </Box>
  );
}

/** How far this pass moves from the one below, in figures a maker can use. */
function Step({ rung }: { rung: Rung }) {
  if (rung.lightness_step === null || rung.step === null) {
    return (
      <Typography variant="caption" sx={{ color: greys.quiet }}>
        L* {Math.round(rung.lightness)}
        <About margin={rung.margin} />
      </Typography>
    );
  }
  const way = rung.lightness_step < 0 ? "darker" : "lighter";
  return (
    <Typography
      variant="caption"
      sx={{ whiteSpace: "nowrap" }}
      title={`CIEDE2000 ${rung.step.toFixed(1)} from what is under it`}
    >
      L* {Math.round(rung.lightness)} · {Math.abs(Math.round(rung.lightness_step))} {way}
      <About margin={rung.margin} />
    </Typography>
  );
}

/** How far the predicted colour may be off; said where it matters. */
function About({ margin }: { margin: number }) {
  if (margin < 2) return null;
  return (
    <Box
      component="span"
      sx={{ color: greys.quiet }}
      title={`Nine times in ten the true colour lies within about ${margin.toFixed(0)} (CIEDE2000) of the one shown`}
    >
      {` · about ${margin.toFixed(0)}`}
    </Box>
  );
}
