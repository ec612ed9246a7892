/** A set on its way in: followed, stopped, corrected, kept or let go. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useAct } from "../../../api/acts";
import { api, data, type Import, Refusal, uploadFile } from "../../../api/client";
import { useImport, useSession } from "../../../api/hooks";
import { keys } from "../../../api/keys";
import { Busy } from "../../../parts/Busy";
import { Choices } from "../../../parts/Choices";
import { parsed } from "../../../parts/lengths";
import { say } from "../../../parts/said";
import { Trouble } from "../../../parts/Trouble";
import { greys } from "../../../theme/theme";
import type { Choice, Retouch } from "./arranged";
import { OnPhoto } from "./OnPhoto";
import { Review } from "./Review";

export interface Again {
  options?: Partial<Import["options"]>;
  sheets?: {
    at: number;
    title?: string;
    turn?: 0 | 90 | 180 | 270;
    mirrored?: boolean;
    dropped?: number[];
    retouches?: Retouch[];
    corners?: number[][] | null;
    level?: number;
    also?: number[];
    apart?: boolean;
  }[];
  measured?: { sheet: number; points: number[][]; apart: number };
}

/** What can be done with an import; every answer is the import as it stands. */
export function useSteps(id: number) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const path = { params: { path: { id } } };
  const set = (found: Import) => queries.setQueryData(keys.import(id), found);
  const otherwise = "That did not work; try again.";
  // mends are made one after another; what is kept or read anew has all of them, and none comes after it is let go
  const line = `import-${id}`;
  const afresh = () => void queries.invalidateQueries({ queryKey: keys.import(id) });
  const stop = useAct(() => data(api.POST("/api/imports/{id}/stop", path)), { then: set, otherwise });
  // what was pressed and is not answered yet: an answer in between must not put back what was pressed after it
  const asked = useRef(0);
  const again = useAct(
    async ({ options, sheets, measured }: Again) => {
      const now = queries.getQueryData<Import>(keys.import(id))?.options;
      const body = {
        ...(options && now ? { options: { ...now, ...options } } : {}),
        ...(sheets ? { sheets } : {}),
        ...(measured ? { measured } : {}),
      };
      try {
        return await data(api.POST("/api/imports/{id}/again", { ...path, body }));
      } catch (error) {
        afresh();
        throw error;
      } finally {
        asked.current -= 1;
      }
    },
    {
      then: (found) => {
        if (!asked.current) set(found);
      },
      otherwise,
      line,
    },
  );
  const more = useAct(
    ({ sheet, file }: { sheet: number; file: File }) =>
      uploadFile<Import>(`/api/imports/${id}/photographs`, file, undefined, { sheet: String(sheet) }),
    { then: set, otherwise, after: line },
  );
  const fit = useAct(
    (outline: { sheet: number; points: number[][] }) =>
      data(api.POST("/api/imports/{id}/fit", { ...path, body: outline })),
    { otherwise },
  );
  const keep = useAct(
    (values: { name?: string; kind?: Import["options"]["kind"] }) =>
      data(api.POST("/api/imports/{id}/keep", { ...path, body: values })),
    {
      changes: [keys.sets, keys.imports],
      then: async (made) => {
        say({ sentence: `${made.name} is in the library. Now name its parts.` });
        await navigate(`/sets/${made.id}`, { replace: true });
      },
      otherwise,
      after: line,
    },
  );
  const letGo = useAct(() => api.DELETE("/api/imports/{id}", path), {
    changes: [keys.imports],
    then: () => navigate("/sets", { replace: true }),
    otherwise,
    after: line,
  });
  return {
    busy: keep.isPending || letGo.isPending || more.isPending,
    more: (sheet: number, file: File) => more.mutate({ sheet, file }),
    stop: () => stop.mutate(),
    again: (values: Again, shown?: Import) => {
      asked.current += 1;
      if (shown) set(shown);
      again.mutate(values);
    },
    fit: (sheet: number, points: number[][], then: (fitted: number[][]) => void) =>
      fit.mutate({ sheet, points }, { onSuccess: (found) => then(found.points) }),
    keep: (values: { name?: string; kind?: Import["options"]["kind"] }) => keep.mutate(values),
    letGo: () => letGo.mutate(),
  };
}

export function Component() {
  const id = Number(useParams().importId);
  const found = useImport(id);
  const steps = useSteps(id);
  // which sheet is looked at stays while it is read anew
  const [chosen, setChosen] = useState(0);
  useEffect(() => {
    document.title = "Bring in a set · Anastrata";
  }, []);
  if (found.data === undefined) {
    if (!found.error || (found.error instanceof Refusal && found.error.status !== 404))
      return <Busy what="Looking at what came in" />;
    return (
      <Box sx={{ p: 4 }}>
        <Typography variant="h1">This set is not on its way in any more</Typography>
        <Typography sx={{ my: 1 }}>It was kept or let go.</Typography>
        <Button component={Link} to="/sets" variant="contained">
          To the library
        </Button>
      </Box>
    );
  }
  const item = found.data;
  if (item.state === "reading")
    return <Reading item={item} lost={found.failureCount > 0} onStop={() => steps.stop()} />;
  if (item.state === "ready" && item.draft)
    return (
      <Review
        key={item.id}
        item={item}
        draft={item.draft}
        steps={steps}
        chosen={Math.min(chosen, item.draft.sheets.length - 1)}
        onChoose={setChosen}
      />
    );
  if (item.state === "ready") return <Trouble alone error={new Error("This set came in without sheets.")} />;
  return <NotRead item={item} steps={steps} />;
}

function Reading({ item, lost, onStop }: { item: Import; lost: boolean; onStop: () => void }) {
  return (
    <Box role="status" sx={{ p: { xs: 2, sm: 4 }, maxWidth: 560, display: "grid", gap: 1.5 }}>
      <Typography variant="h1">{item.options.name}</Typography>
      <Typography>
        {lost
          ? "The workshop computer does not answer; this goes on when it does."
          : `${item.doing || "Reading"} …`}
      </Typography>
      <LinearProgress variant="determinate" value={Math.max(3, item.share * 100)} aria-label={item.doing} />
      <Typography variant="body2" sx={{ color: greys.quiet }}>
        You may leave this page; it goes on and waits for you under Sets.
      </Typography>
      <Box>
        <Button variant="outlined" onClick={onStop}>
          Stop
        </Button>
      </Box>
    </Box>
  );
}

function NotRead({ item, steps }: { item: Import; steps: ReturnType<typeof useSteps> }) {
  const [width, setWidth] = useState("");
  const asksWidth = item.source === "drawing" && item.sentence.includes("width");
  const units = useSession().data?.units ?? "in";
  const value = parsed(width, units) ?? 0;
  const [at, setAt] = useState(0);
  const seen = item.sheets.flatMap((s, n) => (s.photo ? [n] : []));
  const shown = item.sheets[seen.includes(at) ? at : (seen[0] ?? -1)];
  const say = (change: Partial<Choice>) =>
    steps.again({ sheets: item.sheets.map((s, n) => ({ at: n, ...(s === shown ? change : {}) })) });
  return (
    <Box sx={{ p: { xs: 2, sm: 4 }, maxWidth: shown ? 900 : 600, display: "grid", gap: 2 }}>
      <Typography variant="h1">{item.options.name}</Typography>
      <Typography role="alert" sx={{ fontWeight: 600 }}>
        {item.sentence}
      </Typography>
      {shown && (
        <Typography>
          With this photograph: put the corners on the sheet’s and read it again, or draw what you see.
        </Typography>
      )}
      {asksWidth && (
        <TextField
          label={`Width of the drawing, ${units}`}
          value={width}
          onChange={(e) => setWidth(e.target.value)}
          slotProps={{ htmlInput: { inputMode: units === "mm" ? "decimal" : "text" } }}
        />
      )}
      {shown && seen.length > 1 && (
        <Choices
          apart
          label="Photograph"
          value={String(item.sheets.indexOf(shown))}
          options={seen.map((n) => [String(n), `Sheet ${n + 1}`] as const)}
          onChoose={(n) => setAt(Number(n))}
        />
      )}
      {shown && (
        <OnPhoto
          key={JSON.stringify([item.sheets.indexOf(shown), shown.corners, shown.level])}
          sheet={shown}
          high="44dvh"
          onLevel={(level) => say({ level })}
          onCorners={(corners) => say({ corners })}
          onRetouches={(retouches) => say({ retouches })}
          onFit={(points, then) => steps.fit(item.sheets.indexOf(shown), points, then)}
        />
      )}
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap" }}>
        <Button
          variant="contained"
          disabled={asksWidth && !(value >= 1)}
          onClick={() => steps.again(asksWidth ? { options: { width_mm: value } } : {})}
        >
          Read it again
        </Button>
        {item.sheets.some((s) => s.corners !== null) && (
          <Button
            variant="outlined"
            onClick={() => steps.again({ sheets: item.sheets.map((_, at) => ({ at, corners: null })) })}
          >
            Find the corners afresh
          </Button>
        )}
        <Button variant="text" onClick={() => steps.letGo()}>
          Let it go
        </Button>
      </Box>
    </Box>
  );
}
