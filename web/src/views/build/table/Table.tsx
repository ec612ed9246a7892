/** The table: one step a screen, big, for inky hands; resumes where it was left. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link, Navigate, useLocation, useParams } from "react-router";
import { Choices } from "../../../parts/Choices";
import { Refusal, type Rung, type State } from "../../../api/client";
import { useLaid, useSession } from "../../../api/hooks";
import { Busy } from "../../../parts/Busy";
import { Overlays } from "../../../parts/Overlays";
import { useKeptForTable } from "../../../parts/offline";
import { PanelPicture } from "../../../parts/PanelPicture";
import { Trouble } from "../../../parts/Trouble";
import { greys, signal } from "../../../theme/theme";
import { placeOf } from "../paths";
import { useBuild } from "../useBuild";
import { Forgotten, useAsking } from "./Forgotten";
import { StepCard } from "./StepCard";
import { useAwake } from "./useAwake";
import { type TableHandle, useTable } from "./useTable";

export function Component() {
  const id = Number(useParams().colouringId);
  return <Table key={id} id={id} />;
}

function Table({ id }: { id: number }) {
  const build = useBuild(id);
  const set = useLaid(id, build.state?.layout_key);
  const session = useSession();
  const here = useLocation();
  const table = useTable(id, build.state);
  const { back } = table;
  const asking = useAsking(build.state, set.data, table);
  const { next } = asking;
  useAwake();
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      const onControl = event.target instanceof HTMLElement && event.target.matches("button, a, input");
      if ((event.key === " " && !onControl) || event.key === "ArrowRight" || event.key === "PageDown") next();
      else if (event.key === "ArrowLeft" || event.key === "PageUp") back();
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, [next, back]);

  const keptHere = useKeptForTable(Boolean(build.state && set.data && table.step !== null));
  const [look, setLook] = useState<{ step: number | null; to: Look }>({ step: null, to: "now" });
  const stranger = session.data && !session.data.name;
  if (stranger) return <Navigate to="/sign-in" state={{ from: here.pathname }} replace />;
  const error = build.error ?? set.error ?? table.error;
  if (!build.state || !set.data || table.step === null) {
    if (error && !(error instanceof Refusal && error.status === 0))
      return <Trouble error={error} again={build.reload} />;
    return <Busy what="Laying the table" />;
  }
  const { state } = build;
  const steps = state.sequence.steps;
  const step = steps[table.step];
  const rungs = new Map<string, Rung>(state.elements.flatMap((e) => e.rungs.map((r) => [r.key, r])));
  const rung = step?.pass_key ? rungs.get(step.pass_key) : undefined;
  const groups = set.data.sheets.flatMap((s) => s.groups);
  const marked = rung ? groups.find((g) => g.element === rung.element && g.sheet === rung.sheet) : undefined;
  const shown: Look = rung && look.step === table.step ? look.to : "now";
  const done = step ? step.done_before : state.sequence.passes.length;
  return (
    <Box component="main" sx={{ minHeight: "100dvh", display: "flex", flexDirection: "column" }}>
      <Box
        sx={{
          display: "flex",
          alignItems: "center",
          gap: 2,
          px: 2,
          minHeight: 64,
          bgcolor: greys.sheet,
          borderBottom: `1px solid ${greys.line}`,
        }}
      >
        <Button
          component={Link}
          to={placeOf(state.build_id, id, "order")}
          variant="outlined"
          sx={{ minHeight: 48, fontSize: 18 }}
        >
          Leave
        </Button>
        <Typography
          component="h1"
          sx={{
            fontSize: 20,
            fontWeight: 600,
            flex: 1,
            overflow: "hidden",
            textOverflow: "ellipsis",
            whiteSpace: "nowrap",
          }}
        >
          {state.name}
        </Typography>
        {keptHere && (
          <Typography variant="caption" sx={{ display: { xs: "none", sm: "block" }, color: greys.quiet }}>
            Works without a network
          </Typography>
        )}
        <Typography sx={{ fontSize: 20 }}>
          {steps.length === 0 ? "" : step ? `${table.step + 1} of ${steps.length}` : "done"}
        </Typography>
      </Box>
      <Box aria-hidden="true" sx={{ height: 6, bgcolor: greys.bench }}>
        <Box
          sx={{ height: 6, width: `${(100 * table.step) / Math.max(1, steps.length)}%`, bgcolor: signal }}
        />
      </Box>
      <Word table={table} missing={state.missing} />
      <Forgotten asking={asking} />
      <Box
        sx={{
          flex: 1,
          display: "grid",
          gridTemplateColumns: { xs: "1fr", md: "minmax(300px, 46%) 1fr" },
          gap: { xs: 1.5, md: 3 },
          p: { xs: 1.5, md: 2.5 },
          minHeight: 0,
        }}
      >
        <Box
          sx={{
            height: { xs: "46dvh", md: "calc(100dvh - 190px)" },
            display: "flex",
            flexDirection: "column",
            gap: 1,
            alignItems: "center",
          }}
        >
          <Box sx={{ flex: 1, minHeight: 0, width: "100%" }}>
            <PanelPicture
              painter={build.painter}
              picture={state.picture_key}
              after={shown === "now" ? done : done + 1}
              wet={shown === "wet"}
              alt={step ? LOOKS[shown].alt : "The finished panel"}
              set={set.data}
              marked={shown === "now" ? (marked ?? null) : null}
            >
              {step && shown === "now" && <Overlays step={step} set={set.data} />}
            </PanelPicture>
          </Box>
          {rung && <Looks shown={shown} onShow={(to) => setLook({ step: table.step, to })} />}
        </Box>
        <StepCard state={state} set={set.data} at={table.step} rung={rung} rungs={rungs} table={table} />
      </Box>
      <Box
        sx={{
          position: "sticky",
          bottom: 0,
          display: "grid",
          gridTemplateColumns: "1fr 2fr",
          gap: 1.5,
          p: 1.5,
          bgcolor: greys.bench,
          borderTop: `1px solid ${greys.line}`,
        }}
      >
        <Button
          variant="outlined"
          disabled={table.step === 0}
          onClick={back}
          sx={{ minHeight: 72, fontSize: 22 }}
        >
          Back
        </Button>
        {step ? (
          <Button variant="contained" onClick={next} sx={{ minHeight: 72, fontSize: 24 }}>
            {step.kind === "wait" ? "It is dry" : asking.claims ? "All inked, next" : "Done, next"}
          </Button>
        ) : (
          <Button variant="contained" onClick={table.restart} sx={{ minHeight: 72, fontSize: 22 }}>
            {steps.length ? "Start again for another card" : "Nothing to do yet"}
          </Button>
        )}
      </Box>
    </Box>
  );
}

/** What there is to know before going on: no connection, another device, another order, a pad that is not here. */
function Word({ table, missing }: { table: TableHandle; missing: State["missing"] }) {
  let sentence = "";
  if (table.offline) sentence = "No connection. Go on; where you are is kept here until it is back.";
  else if (table.elsewhere) sentence = table.elsewhere;
  else if (table.held) sentence = `${table.held} Go on; where you are is kept here.`;
  else if (table.changed)
    sentence = "The order has changed since you were here; you stand where you stood in it.";
  else if (missing.length && table.step === 0)
    sentence = `Before you begin: ${missing.map((m) => `${m.name} ${m.why}`).join(", ")}.`;
  if (!sentence) return null;
  return (
    <Typography role="status" sx={{ fontSize: 20, px: 2, py: 1, bgcolor: greys.white }}>
      {sentence}
    </Typography>
  );
}

type Look = "now" | "wet" | "dry";

const LOOKS: Record<Look, { label: string; alt: string }> = {
  now: { label: "Now", alt: "The panel as it should look now; the openings to fill are marked" },
  wet: { label: "After, wet", alt: "The panel after this pass, while the ink is wet" },
  dry: { label: "After, dry", alt: "The panel after this pass, dried" },
};

/** What the card looks like before this pass, just after it, and once it has dried back. */
function Looks({ shown, onShow }: { shown: Look; onShow: (look: Look) => void }) {
  return (
    <Choices
      apart
      label="Show the panel"
      value={shown}
      options={(Object.keys(LOOKS) as Look[]).map((look) => [look, LOOKS[look].label] as const)}
      onChoose={onShow}
      button={{ minHeight: 64, fontSize: 20, px: 0.5 }}
      sx={{ display: "grid", gridTemplateColumns: "repeat(3, 1fr)", gap: 1, width: "100%", maxWidth: 480 }}
    />
  );
}
