/** How far a job is, in words and as a bar. */
import Box from "@mui/material/Box";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { type Job, underWay } from "../api/jobs";

/** Nothing where it is not under way. `what` is done, for as long as the job does not say it better. */
export function JobProgress({ job, what }: { job: Job | null | undefined; what: string }) {
  if (!job || !underWay(job)) return null;
  return (
    <Box role="status" sx={{ maxWidth: 420 }}>
      <Typography>{job.doing || what} …</Typography>
      <LinearProgress variant="determinate" value={Math.max(4, 100 * job.share)} aria-label={what} />
    </Box>
  );
}
