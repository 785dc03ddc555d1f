/** Everything in one archive, for whoever leaves or wants to look at it elsewhere. */
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { JobState } from "../../server/jobs/job-state";
import { useAction } from "../components/use-action";
import { dayTime } from "../components/words";
import { JobProgress } from "../prospects/job-progress";
import { Part, type Said } from "./parts";

export function ArchivePart({
  made,
  job,
  zone,
}: {
  made: { bytes: number; madeAt: number } | null;
  job: JobState | null;
  zone: string;
}) {
  const part = useAction<Said>();
  const runs = job?.state === "waiting" || job?.state === "working";
  return (
    <Part
      title="Take everything with you"
      intent="make-archive"
      button={made ? "Make a new archive" : "Make an archive"}
      of={part}
      disabled={runs}
    >
      <Typography>
        One file with your people, letters (mbox), calls (iCalendar), sequences, results and the log, which
        other programs read; and every table, from which an empty installation becomes this one. It holds the
        installation's key: keep it as safe as the database.
      </Typography>
      <JobProgress job={job} doing="Writing the archive" unit="rows" onlyWhileRunning />
      {made && !runs && (
        <Typography>
          <Button component="a" href="/settings/archive" download variant="outlined">
            Download {Math.max(1, Math.round(made.bytes / 1e6))} MB
          </Button>{" "}
          made {dayTime(made.madeAt, zone)}
        </Typography>
      )}
    </Part>
  );
}
