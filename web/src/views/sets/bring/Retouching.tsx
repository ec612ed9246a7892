/** An opening mended on the photograph: joined to another, bridged, its edge pulled, by two points; or drawn by its outline. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Retouch } from "./arranged";

/** What points are put for; a place is taken in by one press. */
export type Kind = Exclude<Retouch["kind"], "take">;

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

interface Props {
  kind: Kind | null;
  /** Whether there is any opening to mend; else one can only be drawn. */
  some: boolean;
  /** Points of the outline that is being drawn. */
  drawn: number;
  retouches: Retouch[];
  busy: boolean;
  onBegin: (kind: Kind) => void;
  onDone: () => void;
  onUndo: () => void;
  onStop: () => void;
  /** One point more or less. */
  onPoint: (more: boolean) => void;
}

export function Retouching(props: Props) {
  const { kind, some, drawn, retouches, busy, onBegin, onDone, onUndo, onStop, onPoint } = props;
  if (kind)
    return (
      <Box sx={{ display: "flex", gap: 1.5, mt: 1, alignItems: "center", flexWrap: "wrap" }}>
        <Typography variant="body2">{WAYS[kind].ask}</Typography>
        <Button variant="contained" disabled={busy || (kind === "draw" && drawn < 3)} onClick={onDone}>
          {WAYS[kind].act}
        </Button>
        {kind === "draw" && (
          <>
            <Button variant="outlined" onClick={() => onPoint(true)}>
              Another point
            </Button>
            <Button variant="outlined" disabled={!drawn} onClick={() => onPoint(false)}>
              Last point off
            </Button>
          </>
        )}
        <Button variant="text" onClick={onStop}>
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
        <Button key={own} variant="outlined" disabled={busy} onClick={() => onBegin(own)}>
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
