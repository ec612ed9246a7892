/** The table: one step a screen, big, for inky hands; resumes where it was left. */
import Box from "@mui/material/Box";
import { useCallback, useEffect, useState } from "react";
import { Navigate, useLocation, useParams } from "react-router";
import { Refusal } from "../../../api/client";
import { useLaid, useSession } from "../../../api/hooks";
import { askAgain } from "../../../parts/askAgain";
import { Busy } from "../../../parts/Busy";
import { useKeptForTable } from "../../../parts/offline";
import { Trouble } from "../../../parts/Trouble";
import { useThere } from "../../../parts/useThere";
import { useBuild } from "../useBuild";
import { Aside } from "./Aside";
import { LARGER } from "./big";
import { Clocks, Rack } from "./Clocks";
import { clocksOf } from "./clocks";
import { Forgotten, useAsking } from "./Forgotten";
import { say, useManner } from "./manner";
import { SetTable } from "./SetTable";
import { headline, StepCard } from "./StepCard";
import { Foot, Head, Leave, Questions, Word } from "./TableFrame";
import { TablePicture } from "./TablePicture";
import { useAwake } from "./useAwake";
import { useTable } from "./useTable";

const ON = ["ArrowRight", "ArrowDown", "PageDown", "Enter"];
const OFF = ["ArrowLeft", "ArrowUp", "PageUp", "Backspace"];
// what foot switches send, beside the space bar

export function Component() {
  const { buildId, colouringId } = useParams();
  const id = Number(colouringId);
  return <Table key={id} id={id} buildId={Number(buildId)} />;
}

function Table({ id, buildId }: { id: number; buildId: number }) {
  const build = useBuild(id);
  const set = useLaid(id, build.state?.layout_key);
  const session = useSession();
  const here = useLocation();
  const table = useTable(id);
  const [manner, onManner] = useManner();
  const [aside, setAside] = useState(false);
  const [laid, setLaid] = useState(false);
  const asking = useAsking(build.state, set.data, table);
  const { back, step, at } = table;
  const toLay = at === 0 && !laid && table.steps.length > 0;
  const { next: goOn } = asking;
  const next = useCallback(() => {
    if (toLay) setLaid(true);
    else goOn();
  }, [toLay, goOn]);
  const before = useCallback(() => {
    if (at === 0) setLaid(false);
    else back();
  }, [at, back]);
  useAwake();
  useFootSwitch(next, before, !aside);
  const spoken = toLay
    ? "Set the table"
    : step
      ? [headline(step), step.reasons[0] ?? "", step.caution ?? ""].join(". ")
      : "";
  useEffect(() => {
    if (manner.voice && spoken) say(spoken);
  }, [manner.voice, spoken]);

  const all =
    build.state && set.data && table.table
      ? { state: build.state, panel: set.data, making: table.table }
      : undefined;
  const keptHere = useKeptForTable(all !== undefined);
  const shown = useThere(all);
  const stranger = session.data && !session.data.name;
  if (stranger) return <Navigate to="/sign-in" state={{ from: here.pathname }} replace />;
  const error = build.error ?? set.error ?? table.error;
  if (!shown) {
    if (error && !(error instanceof Refusal && error.status === 0))
      return (
        <Box component="main" sx={LARGER}>
          <Trouble
            alone
            error={error}
            again={() =>
              askAgain({ error: build.error, refetch: build.reload }, set, {
                error: table.error,
                refetch: () => table.log.load(),
              })
            }
          />
          <Box sx={{ mx: 3 }}>
            <Leave build={buildId} id={id} />
          </Box>
        </Box>
      );
    return (
      <Box sx={LARGER}>
        <Busy what="Laying the table" />
      </Box>
    );
  }
  const { state, panel, making } = shown;
  const clocks = clocksOf(table.steps, panel);
  return (
    <Box
      component="main"
      sx={{
        // on a desk or a tablet all of a step is on the screen at once; on a phone it scrolls
        minHeight: { xs: "100dvh", md: 0 },
        height: { md: manner.large ? "80dvh" : "100dvh" },
        display: "flex",
        flexDirection: "column",
        zoom: manner.large ? 1.25 : 1,
      }}
    >
      <Head table={table} state={state} id={id} kept={keptHere} onAside={() => setAside(true)} />
      <Word table={table} />
      <Forgotten asking={asking} />
      <Questions table={table} />
      <Rack cards={making.cards} now={step?.card ?? 0} />
      <Clocks clocks={clocks} cards={making.cards.length} sound={manner.sound} />
      {toLay ? (
        <SetTable table={making} state={state} id={id} />
      ) : (
        <Box
          sx={{
            flex: 1,
            display: "grid",
            gridTemplateColumns: {
              xs: "1fr",
              md: manner.left ? "1fr minmax(300px, 46%)" : "minmax(300px, 46%) 1fr",
            },
            gap: { xs: 1.5, md: 3 },
            p: { xs: 1.5, md: 2.5 },
            minHeight: 0,
            gridTemplateRows: { md: "minmax(0, 1fr)" },
          }}
        >
          <Box sx={{ minHeight: 0, order: { md: manner.left ? 2 : 0 } }}>
            <TablePicture id={id} table={table} state={state} set={panel} plain={build.painter} />
          </Box>
          <StepCard state={state} set={panel} table={table} clocks={clocks} />
        </Box>
      )}
      <Foot
        table={table}
        toLay={toLay}
        left={manner.left}
        onNext={next}
        onBack={before}
        claims={asking.claims}
      />
      <Aside
        id={id}
        open={aside}
        onClose={() => setAside(false)}
        table={table}
        state={state}
        manner={manner}
        onManner={onManner}
      />
    </Box>
  );
}

/** The space bar, the arrows, and what else a foot switch sends. */
function useFootSwitch(next: () => void, back: () => void, on: boolean) {
  useEffect(() => {
    if (!on) return;
    const pressed = (event: KeyboardEvent) => {
      // a switch that is held down is pressed once
      if (event.repeat) return;
      const onControl =
        event.target instanceof HTMLElement && event.target.matches("button, a, input, textarea");
      if (onControl && (event.key === " " || event.key === "Enter" || event.key === "Backspace")) return;
      if (event.key === " " || ON.includes(event.key)) next();
      else if (OFF.includes(event.key)) back();
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, [next, back, on]);
}
