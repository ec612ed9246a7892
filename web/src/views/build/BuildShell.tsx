/** The frame of a build: its name, its places, undo, and whether everything is kept. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { useEffect, useMemo } from "react";
import { NavLink, Outlet, useParams } from "react-router";
import { useSession, useSet } from "../../api/hooks";
import { Busy } from "../../parts/Busy";
import { Trouble } from "../../parts/Trouble";
import { greys } from "../../theme/theme";
import { BuildContext, type Shared, useShared } from "./context";
import { Elsewhere } from "./Elsewhere";
import { useBuild, useHead, useProgress } from "./useBuild";

const TABS = [
  { to: "materials", label: "Materials" },
  { to: "strata", label: "Strata" },
  { to: "order", label: "Order" },
];

export function Component() {
  const id = Number(useParams().buildId);
  return <Shell key={id} id={id} />;
}

function Shell({ id }: { id: number }) {
  const build = useBuild(id);
  const set = useSet(build.state?.set_id, build.state?.set_change);
  const session = useSession();
  const error = build.error ?? set.error;
  const units = session.data?.units ?? "in";
  const shared = useMemo<Shared | null>(
    () => (build.state && set.data ? { ...build, id, state: build.state, set: set.data, units } : null),
    [build, id, set.data, units],
  );
  if (!shared) {
    return error ? <Trouble error={error} again={build.reload} /> : <Busy what="Laying out the build" />;
  }
  return (
    <BuildContext value={shared}>
      <Bar />
      <Elsewhere />
      <Outlet />
    </BuildContext>
  );
}

function Bar() {
  const { id, state, queue, undo, redo } = useShared();
  const head = useHead(queue);
  useEffect(() => {
    document.title = `${state.name} · Anastrata`;
  }, [state.name]);
  useUndoKeys(undo, redo);
  return (
    <Box
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 2,
        px: { xs: 1, sm: 2.5 },
        minHeight: 44,
        bgcolor: greys.bench,
        borderBottom: `1px solid ${greys.line}`,
        flexWrap: "wrap",
      }}
    >
      <Typography
        variant="h2"
        component="h1"
        sx={{ maxWidth: 340, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}
      >
        {state.name}
      </Typography>
      <Box component="nav" aria-label="This build" sx={{ display: "flex", alignSelf: "stretch" }}>
        {TABS.map(({ to, label }) => (
          <Box
            key={to}
            component={NavLink}
            to={to}
            sx={{
              display: "flex",
              alignItems: "center",
              px: 1.75,
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
          to={`/builds/${id}/table`}
          variant="contained"
          sx={{ alignSelf: "center", ml: 1.5 }}
        >
          To the table
        </Button>
      </Box>
      <Box sx={{ flex: 1 }} />
      <Kept />
      <Tooltip title={head?.undo ? `Undo: ${head.undo} (Ctrl Z)` : "Nothing to undo"}>
        <span>
          <Button variant="outlined" disabled={!head?.undo} onClick={undo}>
            Undo
          </Button>
        </span>
      </Tooltip>
      <Tooltip title={head?.redo ? `Redo: ${head.redo} (Ctrl Shift Z)` : "Nothing to redo"}>
        <span>
          <Button variant="outlined" disabled={!head?.redo} onClick={redo}>
            Redo
          </Button>
        </span>
      </Tooltip>
    </Box>
  );
}

function Kept() {
  const { queue, state } = useShared();
  const { waiting, offline, head } = useProgress(queue);
  const behind = head !== undefined && state.revision < head.revision;
  const count = waiting === 1 ? "1 change" : `${waiting} changes`;
  let sentence = "Everything is kept";
  if (offline) sentence = `No connection: ${count} kept here until it is back`;
  else if (waiting) sentence = `Keeping ${count} …`;
  else if (behind) sentence = "Working out the colours …";
  return (
    <Typography variant="caption" role="status" sx={{ fontWeight: offline ? 700 : 400 }}>
      {sentence}
    </Typography>
  );
}

function useUndoKeys(undo: () => void, redo: () => void) {
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      const typing =
        event.target instanceof HTMLElement && event.target.matches("input, textarea, [contenteditable]");
      if (typing || !(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
      event.preventDefault();
      if (event.shiftKey) redo();
      else undo();
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, [undo, redo]);
}
