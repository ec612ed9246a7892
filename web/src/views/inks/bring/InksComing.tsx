/** Inks on their way in: what each column is, what comes of it, which rows cannot be taken and why. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useAct } from "../../../api/acts";
import { api, data, type InkImport } from "../../../api/client";
import { useDrawerChanged, useInkImport } from "../../../api/hooks";
import { keys } from "../../../api/keys";
import { Busy } from "../../../parts/Busy";
import { Trouble } from "../../../parts/Trouble";
import { sentenceOf } from "../../../parts/words";
import { Columns } from "./Columns";
import { useWayBack } from "../drawerAct";
import { many, Sum, Undone, Preview, Problems } from "./ComingParts";

export function Component() {
  const id = Number(useParams().importId);
  const coming = useInkImport(id);
  useEffect(() => {
    document.title = "Bring in inks · Anastrata";
  }, []);
  if (coming.isPending) return <Busy what="Laying the list out" />;
  if (coming.error) return <Trouble alone error={coming.error} again={() => void coming.refetch()} />;
  if (coming.data.state === "reading") return <Reading row={coming.data} />;
  if (coming.data.state === "failed") return <Unread row={coming.data} />;
  return <Coming row={coming.data} />;
}

function Reading({ row }: { row: InkImport }) {
  return (
    <Box role="status" sx={{ p: { xs: 2, sm: 4 }, maxWidth: 520, display: "grid", gap: 1.5 }}>
      <Typography variant="h1" sx={{ overflowWrap: "anywhere" }}>
        {row.name}
      </Typography>
      <Typography>{row.doing || "Reading the list"} …</Typography>
      <LinearProgress
        variant="determinate"
        value={Math.max(4, 100 * row.share)}
        aria-label="Reading the list"
      />
    </Box>
  );
}

/** A file that holds no inks, or not ones that can be read. */
function Unread({ row }: { row: InkImport }) {
  const letGo = useLetGo(row.id, "/inks/bring-in");
  return (
    <Box sx={{ p: { xs: 2, sm: 4 }, maxWidth: 560, display: "grid", gap: 1.5, justifyItems: "start" }}>
      <Typography variant="h1" sx={{ overflowWrap: "anywhere" }}>
        {row.name}
      </Typography>
      <Typography role="alert" sx={{ fontWeight: 600 }}>
        {row.sentence}
      </Typography>
      <Typography variant="body2">Nothing was changed.</Typography>
      <Button variant="contained" disabled={letGo.isPending} onClick={() => letGo.mutate()}>
        Choose another file
      </Button>
    </Box>
  );
}

function useLetGo(id: number, to: string) {
  const navigate = useNavigate();
  return useAct(() => api.DELETE("/api/ink-imports/{id}", { params: { path: { id } } }), {
    changes: [keys.inkImports],
    then: () => navigate(to),
    otherwise: "That could not be let go.",
  });
}

function Coming({ row }: { row: InkImport }) {
  const queries = useQueryClient();
  const changed = useDrawerChanged();
  const stopped = useRef(false);
  const [keeping, setKeeping] = useState<InkImport | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const params = { params: { path: { id: row.id } } };
  useEffect(
    () => () => {
      stopped.current = true;
    },
    [],
  );
  const put = (next: InkImport) => queries.setQueryData(keys.inkImport(row.id), next);
  const change = async (body: Record<string, unknown>) => {
    setTrouble(null);
    try {
      put(await data(api.PATCH("/api/ink-imports/{id}", { ...params, body })));
    } catch (error) {
      setTrouble(sentenceOf(error, "That could not be changed."));
    }
  };
  const keep = async () => {
    if (keeping) return;
    setTrouble(null);
    stopped.current = false;
    let now = row;
    setKeeping(row);
    try {
      do {
        now = await data(api.POST("/api/ink-imports/{id}/keep", params));
        setKeeping(now);
      } while (now.state === "keeping" && !stopped.current);
      put(now);
    } catch (error) {
      setTrouble(
        `${sentenceOf(error, "That could not be kept.")} ${now.done ? `${now.done} of ${now.inks} are kept; go on, or undo.` : "Nothing was changed."}`,
      );
    } finally {
      setKeeping(null);
      await changed();
    }
  };
  const letGo = useLetGo(row.id, "/inks");
  const back = useWayBack();
  const shown = keeping ?? row;
  return (
    <Box
      sx={{
        p: { xs: 2, sm: 3 },
        maxWidth: 1180,
        width: "100%",
        mx: "auto",
        display: "grid",
        gridTemplateColumns: "minmax(0, 1fr)",
        gap: 2,
      }}
    >
      <Box sx={{ display: "flex", gap: 2, alignItems: "baseline", flexWrap: "wrap" }}>
        <Box sx={{ flex: "1 1 360px" }}>
          <Typography variant="h1" sx={{ overflowWrap: "anywhere" }}>
            {row.name}
          </Typography>
          <Typography variant="body2">
            {row.notes.join(" ")} {many(row.rows, "row", "rows")}.
          </Typography>
        </Box>
        {row.state === "kept" ? (
          <Button variant="contained" component={Link} to="/inks">
            To the drawer
          </Button>
        ) : (
          <>
            <Button
              variant="text"
              onClick={() => letGo.mutate()}
              disabled={keeping !== null || letGo.isPending}
            >
              Let it go
            </Button>
            <Button
              variant="contained"
              disabled={keeping !== null || row.inks + row.stocks + row.tools === 0}
              onClick={() => void keep()}
            >
              {row.done
                ? "Go on"
                : row.new + row.changed === 0 && !row.stocks
                  ? "Nothing new: keep anyway"
                  : `Keep ${many(row.new + row.changed || row.inks, "ink", "inks")}`}
            </Button>
          </>
        )}
      </Box>
      <Sum row={row} />
      {keeping && (
        <Box role="status">
          <Typography variant="body2">
            Keeping {shown.done} of {shown.inks} …
          </Typography>
          <LinearProgress
            variant="determinate"
            value={(100 * shown.done) / Math.max(1, shown.inks)}
            aria-label="Keeping the inks"
          />
          <Button
            variant="text"
            onClick={() => {
              stopped.current = true;
            }}
          >
            Stop
          </Button>
        </Box>
      )}
      {row.state === "kept" && row.undoable && (
        <Undone row={row} onUndone={() => back.mutate({ to: "undo" })} />
      )}
      {row.undone && (
        <Typography sx={{ fontWeight: 600 }}>
          This was undone: the drawer is as it was before. Keeping begins again at the first.
        </Typography>
      )}
      {trouble && (
        <Typography role="alert" sx={{ fontWeight: 600 }}>
          {trouble}
        </Typography>
      )}
      {row.state === "read" && row.kind !== "json" && <Columns row={row} onChange={change} />}
      <Box
        sx={{
          display: "grid",
          gap: 2,
          gridTemplateColumns: {
            xs: "minmax(0, 1fr)",
            md: row.problem_count ? "minmax(0, 1fr) minmax(0, 1fr)" : "minmax(0, 1fr)",
          },
          alignItems: "start",
        }}
      >
        <Preview row={row} />
        {row.problem_count > 0 && <Problems row={row} />}
      </Box>
    </Box>
  );
}
