/** Whether everything is kept; said in full where there is room, and always where something waits. */
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { useShared } from "./context";
import { useProgress } from "./useBuild";

export function Kept() {
  const { queue, state } = useShared();
  const { waiting, offline, signedOut, held, head } = useProgress(queue);
  const behind = head !== undefined && state.revision < head.revision;
  const count = waiting === 1 ? "1 change" : `${waiting} changes`;
  let sentence = "Everything is kept";
  if (signedOut) sentence = `You are signed out: ${count} kept here.`;
  else if (offline) sentence = `No connection: ${count} kept here until it is back`;
  else if (held) sentence = `${count} kept here: ${held}`;
  else if (waiting) sentence = `Keeping ${count} …`;
  else if (behind) sentence = "Working out the colours …";
  const quiet = sentence === "Everything is kept";
  return (
    <Typography
      variant="caption"
      role="status"
      title={sentence}
      sx={{
        fontWeight: held ? 700 : 400,
        // where the way to another colouring takes its room it stands in two lines, never cut off
        lineHeight: quiet ? 1.15 : undefined,
        minWidth: quiet ? "min-content" : 0,
        overflow: "hidden",
        textOverflow: "ellipsis",
        whiteSpace: held || quiet ? "normal" : "nowrap",
        display: { xs: quiet ? "none" : "block", lg: "block" },
      }}
    >
      {sentence} {signedOut && <Link to="/sign-in">Sign in again</Link>}
    </Typography>
  );
}
