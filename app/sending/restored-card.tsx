/** After a restore: what was found, who waits because nobody can tell, and the presses that decide it. */

import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Restored } from "../../server/sending/restored";
import { Refusal } from "../components/refusal";
import { Row } from "../components/row";
import { useAction } from "../components/use-action";
import { count, dayTime } from "../components/words";

const BECAUSE = {
  restored: "A backup was put back",
  lost: "The database lost its latest entries",
  clock: "The clock jumped",
} as const;

export function RestoredCard({ restored, zone }: { restored: Restored; zone: string }) {
  const { recovery, shown, total } = restored;
  const { press, isBusy, errors } = useAction({ to: "/sending/restored", as: "json" });
  const say = (intent: string, ids: number[] | null) => press({ intent, ids });
  const span = `between ${dayTime(recovery.since, zone)} and ${dayTime(recovery.until, zone)}`;
  if (recovery.endedAt === null)
    return (
      <Alert severity="info" sx={{ mb: 2 }} id="restored">
        {BECAUSE[recovery.reason]}. The Sent folders are being read for what left {span}; until then nothing
        goes out.
      </Alert>
    );
  return (
    <Box
      component="section"
      id="restored"
      aria-label="After the restore"
      sx={{ mb: 3, p: 2, bgcolor: "ochre.wash", borderRadius: 1 }}
    >
      <Typography variant="h2">
        {total > 0
          ? `${count(total, "person", "people")} may have been written to ${span}`
          : `What left ${span} is noted`}
      </Typography>
      <Typography sx={{ mt: 0.5, maxWidth: 640 }}>
        {BECAUSE[recovery.reason]}, and what was done in that time was not in it.{" "}
        {count(recovery.found, "email was", "emails were")} found in the Sent folders and noted: nobody gets
        those again.
        {total > 0 && " Of these people nothing tells; they get nothing until you decide."}
        {recovery.dropped > 0 &&
          ` ${count(recovery.dropped, "invitation, reminder or notice", "invitations, reminders and notices")} of that time ${recovery.dropped === 1 ? "is" : "are"} not sent again.`}
      </Typography>
      <Refusal errors={errors} />
      {total > 0 ? (
        <>
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mt: 1.5 }}>
            <Button variant="contained" disabled={isBusy} onClick={() => say("left", null)}>
              They were: go on with the next step for {total}
            </Button>
            <Button disabled={isBusy} onClick={() => say("go_on", null)} sx={{ ml: { sm: 3 } }}>
              They were not: send it to {total}
            </Button>
            <Button disabled={isBusy} onClick={() => say("stop", null)} sx={{ ml: { sm: 3 } }}>
              Send nothing more to {total}
            </Button>
          </Box>
          <Box sx={{ mt: 1.5, maxHeight: 260, overflow: "auto" }}>
            {shown.map((person) => (
              <Row
                columns={{ xs: "1fr", md: "minmax(0, 1fr) minmax(0, 1fr) auto" }}
                key={person.prospectId}
                data-restored
                sx={{ gap: { xs: 0.5, md: 2 }, alignItems: "center" }}
              >
                <Typography
                  noWrap
                  component={Link}
                  to={`/prospects/${person.prospectId}`}
                  sx={{ color: "inherit", fontWeight: 600, textDecoration: "none" }}
                >
                  {person.name}
                  {person.company && `, ${person.company}`}
                </Typography>
                <Typography variant="body2" color="textSecondary" noWrap>
                  {person.stepName} of {person.sequenceName}, due {dayTime(person.dueAt, zone)}
                </Typography>
                <Box sx={{ display: "flex", gap: 1 }}>
                  <Button size="small" disabled={isBusy} onClick={() => say("left", [person.prospectId])}>
                    It left
                  </Button>
                  <Button
                    size="small"
                    disabled={isBusy}
                    onClick={() => say("go_on", [person.prospectId])}
                    sx={{ ml: 3 }}
                  >
                    Send it
                  </Button>
                </Box>
              </Row>
            ))}
            {shown.length < total && (
              <Typography variant="body2" color="textSecondary" sx={{ py: 0.75 }}>
                The first {shown.length} are here; the presses above decide about all.
              </Typography>
            )}
          </Box>
        </>
      ) : (
        <Button disabled={isBusy} onClick={() => say("seen", null)} sx={{ mt: 1.5 }}>
          I have seen it
        </Button>
      )}
    </Box>
  );
}
