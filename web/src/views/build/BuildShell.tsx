/** The frame of a colouring: its build's name, its places, undo, and whether everything is kept. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { useEffect, useMemo } from "react";
import { NavLink, Outlet, useParams } from "react-router";
import { useLaid, useSession } from "../../api/hooks";
import { askAgain } from "../../parts/askAgain";
import { Busy } from "../../parts/Busy";
import { PartByPart } from "../../parts/PartByPart";
import { Trouble } from "../../parts/Trouble";
import { useUndoKeys } from "../../parts/undoKeys";
import { useThere } from "../../parts/useThere";
import { greys } from "../../theme/theme";
import { Colourings } from "./Colourings";
import { BuildContext, type Shared, useShared } from "./context";
import { Elsewhere } from "./Elsewhere";
import { Kept } from "./Kept";
import { placeOf } from "./paths";
import { useBuild, useHead, useLayout } from "./useBuild";

const TABS = [
  { to: "materials", label: "Materials" },
  { to: "panel", label: "Panel" },
  { to: "strata", label: "Strata" },
  { to: "beside", label: "Side by side" },
  { to: "order", label: "Order" },
  { to: "finish", label: "Finish" },
] as const;

export function Component() {
  const id = Number(useParams().colouringId);
  return <Shell key={id} id={id} />;
}

function Shell({ id }: { id: number }) {
  const build = useBuild(id);
  const layout = useLayout(build.queue, build.painter);
  const set = useLaid(id, layout ?? build.state?.layout_key);
  const session = useSession();
  const error = build.error ?? set.error;
  const units = session.data?.units ?? "in";
  const shared = useMemo<Shared | null>(
    () => (build.state && set.data ? { ...build, id, state: build.state, set: set.data, units } : null),
    [build, id, set.data, units],
  );
  const shown = useThere(shared);
  if (!shown) {
    return error ? (
      <Trouble
        alone
        error={error}
        again={() => askAgain({ error: build.error, refetch: build.reload }, set)}
      />
    ) : (
      <Busy what="Laying out the build" />
    );
  }
  return (
    <BuildContext value={shown}>
      <PartByPart>
        <Bar />
        <Elsewhere />
        <Outlet />
      </PartByPart>
    </BuildContext>
  );
}

/** One row where there is room; else two: the name with undo, and the places, which slide. */
function Bar() {
  const { id, state } = useShared();
  useEffect(() => {
    document.title = `${state.name} · Anastrata`;
  }, [state.name]);
  return (
    <Box
      sx={{
        display: "flex",
        alignItems: "center",
        flexWrap: { xs: "wrap", lg: "nowrap" },
        columnGap: { xs: 1, md: 2 },
        px: { xs: 1, sm: 2, md: 2.5 },
        minHeight: 44,
        bgcolor: greys.bench,
        borderBottom: `1px solid ${greys.line}`,
      }}
    >
      <Typography
        variant="h2"
        component="h1"
        noWrap
        title={state.name}
        sx={{ flex: { xs: "1 1 0", lg: "0 1 auto" }, minWidth: 60, maxWidth: { lg: 340 } }}
      >
        {state.name}
      </Typography>
      <Colourings />
      <Box
        component="nav"
        aria-label="This build"
        sx={{
          display: "flex",
          alignSelf: "stretch",
          flex: { xs: "1 0 100%", lg: "none" },
          order: { xs: 9, lg: 0 },
          overflowX: "auto",
          minHeight: 40,
        }}
      >
        {TABS.filter((t) => t.to !== "beside" || state.colourings.length > 1).map(({ to, label }) => (
          <Box
            key={to}
            component={NavLink}
            to={placeOf(state.build_id, id, to)}
            sx={{
              display: "flex",
              alignItems: "center",
              px: { xs: 1.25, md: 1.75 },
              flex: "none",
              color: greys.ink,
              textDecoration: "none",
              fontWeight: 500,
              borderBottom: "3px solid transparent",
              "&.active": { borderBottomColor: greys.ink, fontWeight: 660, bgcolor: greys.ground },
            }}
          >
            {label}
          </Box>
        ))}
        <Button
          component={NavLink}
          to={placeOf(state.build_id, id, "table")}
          variant="contained"
          sx={{ alignSelf: "center", flex: "none", ml: { xs: "auto", lg: 1.5 }, px: { xs: 1, md: 1.75 } }}
        >
          To the table
        </Button>
      </Box>
      <Box sx={{ flex: { lg: 1 } }} />
      <Kept />
      <BackAndForth />
    </Box>
  );
}

function BackAndForth() {
  const { queue, undo, redo } = useShared();
  const head = useHead(queue);
  useUndoKeys(undo, redo);
  return (
    <Box sx={{ display: "flex", gap: 0.75, flex: "none" }}>
      <Tooltip title={head?.undo ? `Undo: ${head.undo} (Ctrl Z)` : "Nothing to undo"}>
        <span>
          <Button variant="outlined" disabled={!head?.undo} onClick={undo} sx={{ px: { xs: 1, md: 1.75 } }}>
            Undo
          </Button>
        </span>
      </Tooltip>
      <Tooltip title={head?.redo ? `Redo: ${head.redo} (Ctrl Shift Z)` : "Nothing to redo"}>
        <span>
          <Button variant="outlined" disabled={!head?.redo} onClick={redo} sx={{ px: { xs: 1, md: 1.75 } }}>
            Redo
          </Button>
        </span>
      </Tooltip>
    </Box>
  );
}
