/** How far a job is, with the button that ends it; the page's data are fetched anew while it runs and once it ends. */

import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import type { JobState } from "../../server/jobs/job-state";
import { Refusal } from "../components/refusal";
import { useAction } from "../components/use-action";
import { useRefreshWhile } from "../desk/refresh";

const LOOK_EVERY = 400;

export function JobProgress({
  job,
  doing,
  unit,
  onlyWhileRunning,
}: {
  job: JobState | null;
  /** "Searching the directory" */
  doing: string;
  /** "pages" */
  unit: string;
  onlyWhileRunning?: boolean;
}) {
  const stop = useAction({ to: "/jobs" });
  const runs = job?.state === "waiting" || job?.state === "working";
  useRefreshWhile(runs, LOOK_EVERY);
  if (!job) return null;
  if (job.state === "failed")
    return (
      <Alert severity="error" sx={{ mb: 2 }}>
        {job.problem}
      </Alert>
    );
  if (job.state === "cancelled" && !onlyWhileRunning)
    return (
      <Alert severity="info" sx={{ mb: 2 }}>
        {job.total === 0
          ? `${doing} was ended before it brought anything.`
          : `${doing} was ended after ${job.done.toLocaleString("en-GB")} of ${job.total.toLocaleString("en-GB")} ${unit}.`}
      </Alert>
    );
  if (!runs) return null;
  return (
    <Box sx={{ bgcolor: "tile.wash", borderRadius: 1, px: 2, py: 1.25, mb: 2 }} role="status">
      <Box sx={{ display: "flex", alignItems: "center", gap: 2, mb: 1 }}>
        <Typography sx={{ flex: 1 }}>
          {doing} …{" "}
          {job.total > 0 &&
            `${job.done.toLocaleString("en-GB")} of ${job.total.toLocaleString("en-GB")} ${unit}`}
        </Typography>
        <Button size="small" onClick={() => stop.press({ id: job.id })}>
          End it
        </Button>
      </Box>
      <Refusal errors={stop.errors} />
      <LinearProgress
        variant={job.total > 0 ? "determinate" : "indeterminate"}
        value={job.total > 0 ? (100 * job.done) / job.total : 0}
        aria-label={doing}
      />
    </Box>
  );
}
