/** The heart: the predicted panel, and the core sample of the element pointed at. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import type { Finding, Form, Group, Mend, Rung, State } from "../../../api/client";
import { PanelPicture, type Point } from "../../../parts/PanelPicture";
import { Scrubber } from "../../../parts/Scrubber";
import { greys } from "../../../theme/theme";
import { useShared } from "../context";
import { Desk } from "../Desk";
import { useHead } from "../useBuild";
import { CoreBox } from "./CoreBox";
import { CoreSample } from "./CoreSample";
import { InkPicker } from "./InkPicker";
import { Families } from "./Families";
import { Keys } from "./Keys";
import { OtherWays } from "./OtherWays";
import { Proposals } from "./Proposals";
import { Settle } from "./Settle";
import { formFromDrag, formSentence } from "./shading";
import { StandIns } from "./StandIns";
import { type Shown, useStage } from "./useStage";
import { LeftAlone, Warnings } from "./Warnings";

export function Component() {
  const shown = useStage();
  const { state, change } = useShared();
  const { element, stage } = shown;
  const own = state.findings.filter((f) => f.elements.includes(element?.name ?? "") && !f.left);
  const others = state.findings.filter((f) => !f.elements.includes(element?.name ?? "") && !f.left);
  const left = state.findings.filter((f) => f.left);
  const mend = (m: Mend) => change(m.kind, m.values);
  const leave = (f: Finding) => change(f.left ? "look_again" : "leave_finding", { finding: f.key });
  const [all, setAll] = useState(false);
  const picture = { picture: <Picture shown={shown} />, below: <Below shown={shown} /> };
  if (shown.asked) {
    // the drawer lies beside the picture, in the place of the core sample
    return (
      <Desk {...picture} columns={COLUMNS}>
        <InkPicker asked={shown.asked} onClose={shown.closeDrawer} />
      </Desk>
    );
  }
  if (shown.beside) {
    const close = () => shown.setBeside(null);
    return (
      <Desk {...picture} columns={COLUMNS}>
        {shown.beside === "proposals" ? (
          <Proposals onClose={close} />
        ) : (
          <Families element={element?.name ?? ""} onClose={close} />
        )}
      </Desk>
    );
  }
  return (
    <>
      <Desk {...picture} columns={COLUMNS}>
        <CoreBox
          elements={state.elements}
          card={state.stock_colour.hex}
          findings={state.findings}
          chosen={element?.name ?? ""}
          onChoose={shown.chooseElement}
          onHover={shown.setHovered}
        />
        <Whole shown={shown} />
        {element && (
          <>
            <ElementHead shown={shown} />
            <CoreSample element={element} stage={stage} findings={own} askFor={shown.askFor} />
            {own.length > 0 && <Warnings findings={own} onMend={mend} onLeave={leave} />}
          </>
        )}
        {others.length > 0 && (
          <Box>
            <Button variant="text" aria-expanded={all} onClick={() => setAll(!all)}>
              {all ? "Hide what concerns other elements" : `${others.length} more about other elements`}
            </Button>
            {all && <Warnings findings={others} onMend={mend} onLeave={leave} />}
          </Box>
        )}
        {left.length > 0 && <LeftAlone findings={left} onLeave={leave} />}
        <Keys />
      </Desk>
      {shown.missing && <StandIns rung={shown.missing} onClose={shown.closeStandIns} />}
    </>
  );
}

/** What is done to all of it; where nothing is inked yet, this is where a colouring begins. */
function Whole({ shown }: { shown: Shown }) {
  const { state } = useShared();
  const bare = state.elements.every((e) => e.rungs.length === 0);
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
      <Button variant={bare ? "contained" : "outlined"} onClick={() => shown.setBeside("proposals")}>
        Colourings from your pads
      </Button>
      <Button variant="outlined" onClick={() => shown.setBeside("families")}>
        A family for {shown.element?.name ?? "it"}
      </Button>
      <Settle />
      {bare && (
        <Typography variant="body2">
          Nothing is inked yet. Begin with a whole colouring, with a family, or pad by pad.
        </Typography>
      )}
    </Box>
  );
}

const COLUMNS = "minmax(380px, 1fr) minmax(520px, 656px)";

function ElementHead({ shown }: { shown: Shown }) {
  const { set, change } = useShared();
  const { element } = shown;
  if (!element) return null;
  const sheets = element.sheets.flatMap((n) => set.sheets.find((s) => s.number === n) ?? []);
  const other = element.school === "light first" ? "deep first" : "light first";
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
      <Typography variant="h2" sx={{ "&::first-letter": { textTransform: "uppercase" } }}>
        {element.name}
      </Typography>
      <Button
        variant="text"
        disabled={element.rungs.length < 2}
        title={`Arrange these shades ${other}`}
        onClick={() => change("set_school", { element: element.name, school: other })}
      >
        {element.school}
      </Button>
      <Box sx={{ flex: 1 }} />
      {sheets.length > 1 && (
        <Typography variant="caption" sx={{ color: greys.quiet }}>
          Give an ink on {sheets[0]?.nouns.one}
        </Typography>
      )}
      {sheets.map((sheet) => {
        const one = sheets.length === 1;
        const number =
          sheet.kind === "free" || sheet.kind === "words" || sheet.kind === "card" ? "" : sheet.called;
        const what = number === "" ? sheet.name : `${sheet.nouns.one} ${number}`;
        return (
          <Button
            key={sheet.number}
            variant={element.rungs.some((r) => r.sheet === sheet.number) ? "outlined" : "contained"}
            aria-label={`+ ${number}, give an ink on ${what}`}
            title={sheet.name}
            onClick={() => shown.askToAdd(sheet.number)}
            sx={{ minWidth: 34, px: 1 }}
          >
            {one ? "+ an ink" : `+ ${number}`}
          </Button>
        );
      })}
      <OtherWays shown={shown} element={element} />
    </Box>
  );
}

/** Draws itself at every press; nothing around it does. */
function Picture({ shown }: { shown: Shown }) {
  const { state, queue, painter, set, change, pictureShown } = useShared();
  const head = useHead(queue);
  const { at, stage, element } = shown;
  const [drag, setDrag] = useState<{ from: Point; to: Point } | null>(null);
  const count = state.sequence.passes.length;
  const inked = useMemo(
    () => new Set(state.elements.filter((e) => e.rungs.length > 0).map((e) => e.name)),
    [state.elements],
  );
  const groups = useMemo(() => set.sheets.flatMap((s) => s.groups), [set]);
  const marked = stage.rung ? groupOf(groups, stage.rung) : null;
  const dragged = (from: Point, to: Point, done: boolean) => {
    if (!stage.rung || !marked) return;
    setDrag(done ? null : { from, to });
    if (done)
      change("set_form", { pass: stage.rung.key, form: formFromDrag(stage.rung.form, marked, from, to) });
  };
  return (
    <PanelPicture
      painter={painter}
      picture={(head ?? state).picture_key}
      after={at === count ? undefined : at}
      inked={inked}
      alt={`The predicted panel: ${momentOf(state, at)}`}
      set={set}
      element={element?.name ?? null}
      marked={marked}
      hovered={shown.hovered}
      onHover={shown.setHovered}
      onPick={shown.chooseElement}
      onDrag={stage.rung ? dragged : undefined}
      onShown={pictureShown}
    >
      {drag && stage.rung && marked && (
        <DragLine
          from={drag.from}
          to={drag.to}
          form={formFromDrag(stage.rung.form, marked, drag.from, drag.to)}
        />
      )}
    </PanelPicture>
  );
}

/** The passes in the order in which they are laid. */
function orderOf(state: State): Rung[] {
  const rungs = new Map(state.elements.flatMap((e) => e.rungs.map((r) => [r.key, r])));
  return state.sequence.passes.flatMap((key) => rungs.get(key) ?? []);
}

function momentOf(state: State, at: number): string {
  const count = state.sequence.passes.length;
  const last = orderOf(state)[at - 1];
  if (at === 0) return `Bare ${state.stock_name}`;
  if (at === count) return `Finished: ${count} ${count === 1 ? "pass" : "passes"}`;
  return `After pass ${at} of ${count}: ${last?.ink_name} on ${last?.element}`;
}

function Below({ shown }: { shown: Shown }) {
  const { state } = useShared();
  const { at, setAt, stage } = shown;
  const colours = useMemo(() => orderOf(state).map((r) => r.here.hex), [state]);
  return (
    <>
      <Scrubber
        count={state.sequence.passes.length}
        at={at}
        colours={colours}
        label={momentOf(state, at)}
        onMove={setAt}
      />
      <Typography variant="caption" component="p" sx={{ m: 0, color: greys.quiet, textAlign: "center" }}>
        {stage.rung
          ? `Drag on the picture to shade with ${stage.rung.ink_name}: start where the ink comes from.`
          : "Point at an element in the picture, or pick its core. The colours are a prediction; check on scrap."}
      </Typography>
    </>
  );
}

function groupOf(groups: Group[], rung: Rung): Group | null {
  return groups.find((g) => g.element === rung.element && g.sheet === rung.sheet) ?? null;
}

function DragLine({ from, to, form }: { from: Point; to: Point; form: Form }) {
  return (
    <g pointerEvents="none">
      <path d={`M${from.x} ${from.y}L${to.x} ${to.y}`} stroke={greys.white} strokeWidth="1.400" />
      <path d={`M${from.x} ${from.y}L${to.x} ${to.y}`} stroke={greys.ink} strokeWidth="0.700" />
      <circle cx={from.x} cy={from.y} r="1.800" fill={greys.ink} stroke={greys.white} strokeWidth="0.500" />
      <text
        x={to.x + 2}
        y={to.y}
        fontSize="3.600"
        fill={greys.ink}
        stroke={greys.white}
        strokeWidth="1"
        paintOrder="stroke"
      >
        {formSentence(form)}
      </text>
    </g>
  );
}
