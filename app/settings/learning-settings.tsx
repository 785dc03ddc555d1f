/** What the sorting learns from corrections. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Learning } from "../../server/replies/learn";
import { Refusal } from "../components/refusal";
import { useAction } from "../components/use-action";
import { count } from "../components/words";
import { JobProgress } from "../prospects/job-progress";
import type { Said } from "./parts";

/** What the sorting has to learn from, and what it would read otherwise afterwards. */
export function LearningSettings({
  learning,
  names,
  isManager,
}: {
  learning: Learning;
  names: Record<string, string>;
  isManager: boolean;
}) {
  const ask = useAction<Said>();
  const { corrections, labelled, proposed, inUse, job } = learning;
  const nameOf = (code: string) => names[code] ?? code;
  const send = (intent: string) => ask.press({ intent, id: String(proposed?.id ?? "") });
  return (
    <Box>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Learn from your corrections
      </Typography>
      <Typography>
        {labelled === 0
          ? "Nobody has labelled a reply yet. What you press on Replies is what it learns from."
          : `${count(labelled, "reply was", "replies were")} labelled by hand, ${corrections} of them otherwise than they had been read.`}
        {inUse
          ? ` In use is what was learned from ${count(inUse.corrections, "label")}.`
          : " In use is what ships with the program."}
      </Typography>
      <Box sx={{ mt: 1.5, maxWidth: 760 }}>
        <JobProgress job={job} doing="Learning" unit="parts" onlyWhileRunning />
      </Box>
      {proposed && (
        <Box sx={{ mt: 1.5 }}>
          <Typography sx={{ fontWeight: 600 }}>
            {proposed.changes.length === 0
              ? "It would read every reply of the last months as before."
              : `It would read ${count(proposed.changes.length, "reply", "replies")} otherwise:`}
          </Typography>
          {proposed.changes.slice(0, 12).map((change) => (
            <Typography key={change.replyId} variant="body2" sx={{ mt: 0.5 }}>
              <strong>{change.name}</strong>: {nameOf(change.before)} → {nameOf(change.after)}
              {change.label ? ` (you said ${nameOf(change.label)})` : ""} — “{change.words}”
            </Typography>
          ))}
        </Box>
      )}
      {isManager && (
        <Box sx={{ display: "flex", gap: 1.5, mt: 1.5 }}>
          {proposed ? (
            <>
              <Button variant="contained" onClick={() => send("learn-use")}>
                Use it from now on
              </Button>
              <Button onClick={() => send("learn-drop")}>Leave it as it is</Button>
            </>
          ) : (
            <Button
              disabled={labelled === 0 || job?.state === "waiting" || job?.state === "working"}
              onClick={() => send("learn")}
            >
              See what it would learn
            </Button>
          )}
          {inUse && !proposed && <Button onClick={() => send("learn-forget")}>Go back to what ships</Button>}
        </Box>
      )}
      <Refusal errors={ask.errors} />
    </Box>
  );
}
