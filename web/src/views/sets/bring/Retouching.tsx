/** An opening mended on the photograph: joined to another, bridged, its edge pulled, by two points; or drawn by its outline. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { greys } from "../../../theme/theme";
import type { Retouch } from "./arranged";
import type { useMend } from "./useMend";

/** What points are put for; a place is taken in, or left, by one press. */
export type Kind = Exclude<Retouch["kind"], "take" | "leave">;

const WAYS: Record<Kind, { name: string; ask: string; act: string }> = {
  join: {
    name: "Join two",
    ask: "Put one point on each of the two openings that are one.",
    act: "Join them",
  },
  bridge: {
    name: "Put a bridge in",
    ask: "Put the two points on either side of the opening; the bridge goes from one to the other.",
    act: "Put it there",
  },
  pull: {
    name: "Pull an edge",
    ask: "Put the first point on the edge, the second where it belongs.",
    act: "Pull it there",
  },
  draw: {
    name: "Draw one",
    ask: "Press point after point around the opening; a point can be dragged.",
    act: "Draw it",
  },
};
const KINDS = Object.keys(WAYS) as Kind[];

/** What each of the two points is, for those who cannot see them. */
export const POINTS: Record<Exclude<Kind, "draw">, [string, string]> = {
  join: ["On the one opening", "On the other opening"],
  bridge: ["One end of the bridge", "Other end of the bridge"],
  pull: ["Where the edge is", "Where the edge belongs"],
};

const FITTED = "This is the edge that runs beside what you drew. See that it is the opening’s.";

interface Props {
  mend: ReturnType<typeof useMend>;
  /** Whether there is any opening to mend; else one can only be drawn. */
  some: boolean;
  retouches: Retouch[];
  busy: boolean;
  onDone: () => void;
  onUndo: () => void;
}

export function Retouching(props: Props) {
  const { mend, some, retouches, busy, onDone, onUndo } = props;
  const { kind, fitted } = mend;
  const few = (mend.points?.length ?? 0) < 3;
  if (kind)
    return (
      <Box
        sx={{
          // the photograph stays as large as it was: what is asked lies at the foot of the screen where it does not fit below
          position: "sticky",
          bottom: 0,
          zIndex: 1,
          background: greys.ground,
          display: "flex",
          columnGap: 1.5,
          rowGap: 0.5,
          py: 1,
          alignItems: "center",
          flexWrap: "wrap",
        }}
      >
        <Typography variant="body2" role={fitted ? "status" : undefined}>
          {fitted ? FITTED : WAYS[kind].ask}
        </Typography>
        <Button variant="contained" disabled={busy || (kind === "draw" && few)} onClick={onDone}>
          {WAYS[kind].act}
        </Button>
        {kind === "draw" && mend.fit && (
          <Button variant="outlined" disabled={busy || few} onClick={fitted ? mend.asDrawn : mend.fit}>
            {fitted ? "As I drew it" : "Fit it to the edge"}
          </Button>
        )}
        {kind === "draw" && !fitted && (
          <>
            <Button variant="outlined" onClick={mend.more}>
              Another point
            </Button>
            <Button variant="outlined" disabled={!mend.points?.length} onClick={mend.less}>
              Last point off
            </Button>
          </>
        )}
        <Button variant="text" onClick={mend.stop}>
          Leave it
        </Button>
      </Box>
    );
  return (
    <Box
      role="group"
      aria-label="Mend an opening"
      sx={{ display: "flex", gap: 1, mt: 1, alignItems: "center", flexWrap: "wrap" }}
    >
      <Typography variant="body2">{some ? "Mend an opening:" : "By hand:"}</Typography>
      {KINDS.filter((own) => some || own === "draw").map((own) => (
        <Button key={own} variant="outlined" disabled={busy} onClick={() => mend.begin(own)}>
          {WAYS[own].name}
        </Button>
      ))}
      {retouches.length > 0 && (
        <Button variant="text" disabled={busy} onClick={onUndo}>
          Take the last mend back
        </Button>
      )}
    </Box>
  );
}
