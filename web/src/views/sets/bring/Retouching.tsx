/** An opening mended on the photograph by two points: joined to another, bridged, or its edge pulled. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Retouch } from "./arranged";

/** What two points are put for; a place is taken in by one press. */
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
};
const KINDS = Object.keys(WAYS) as Kind[];

/** What each of the two points is, for those who cannot see them. */
export const POINTS: Record<Kind, [string, string]> = {
  join: ["On the one opening", "On the other opening"],
  bridge: ["One end of the bridge", "Other end of the bridge"],
  pull: ["Where the edge is", "Where the edge belongs"],
};

interface Props {
  kind: Kind | null;
  retouches: Retouch[];
  busy: boolean;
  onBegin: (kind: Kind) => void;
  onDone: () => void;
  onUndo: () => void;
  onStop: () => void;
}

export function Retouching({ kind, retouches, busy, onBegin, onDone, onUndo, onStop }: Props) {
  if (kind)
    return (
      <Box sx={{ display: "flex", gap: 1.5, mt: 1, alignItems: "center", flexWrap: "wrap" }}>
        <Typography variant="body2">{WAYS[kind].ask}</Typography>
        <Button variant="contained" disabled={busy} onClick={onDone}>
          {WAYS[kind].act}
        </Button>
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
      <Typography variant="body2">Mend an opening:</Typography>
      {KINDS.map((own) => (
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
