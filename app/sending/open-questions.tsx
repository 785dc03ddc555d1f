/** What only a person can judge: emails that may or may not have left, messages that could not be read, blocks by mistake. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { OpenCases, SetAside, UndecidedEmail } from "../../server/sending/undecided";
import { Refusal } from "../components/refusal";
import { useAction } from "../components/use-action";
import { count, dayTime } from "../components/words";

const row = {
  display: "grid",
  gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) minmax(0, 1fr) auto" },
  gap: 2,
  alignItems: "center",
  borderTop: "1px solid",
  borderColor: "divider",
  py: 1,
} as const;

const firstOnly = ({ shown, total }: OpenCases<unknown>) =>
  shown.length < total ? ` The first ${shown.length} are here; the others follow.` : "";
const allOf = ({ shown, total }: OpenCases<unknown>) =>
  `${shown.length < total ? "These" : "All"} ${shown.length}`;

export function OpenQuestions(props: {
  undecided: OpenCases<UndecidedEmail>;
  setAside: OpenCases<SetAside>;
  mistakenBlocks: number;
  zone: string;
}) {
  const { undecided, setAside, mistakenBlocks, zone } = props;
  const { press, isBusy, errors } = useAction({ to: "/sending/undecided" });
  const say = (intent: string, ids: number[] = []) => press({ intent, ids: ids.join() });
  return (
    <>
      <Refusal errors={errors} />
      {undecided.total > 0 && (
        <Box component="section" id="undecided" aria-label="Undecided emails" sx={{ mt: 4 }}>
          <Typography variant="h2">
            {count(undecided.total, "email")}: nobody can tell whether {undecided.total === 1 ? "it" : "they"}{" "}
            left
          </Typography>
          <Typography color="textSecondary" sx={{ mt: 0.5, mb: 1, maxWidth: 620 }}>
            Something stopped between the server's yes and our note of it, and the Sent folder does not say.
            Nothing more goes to these people until you decide.{firstOnly(undecided)}
          </Typography>
          {undecided.shown.map((email) => (
            <Box key={email.id} sx={row} data-undecided={email.recipient}>
              <Box sx={{ minWidth: 0 }}>
                <Typography
                  noWrap
                  component={Link}
                  to={`/prospects/${email.prospectId}`}
                  sx={{ display: "block", color: "inherit", fontWeight: 600, textDecoration: "none" }}
                >
                  {email.name}
                </Typography>
                <Typography noWrap variant="caption" color="textSecondary" component="div">
                  {email.subject}
                </Typography>
              </Box>
              <Typography variant="body2" color="textSecondary" noWrap>
                {email.mailbox}, {dayTime(email.claimedAt, zone)}
              </Typography>
              <Box sx={{ display: "flex", gap: 1 }}>
                <Button size="small" disabled={isBusy} onClick={() => say("arrived", [email.id])}>
                  It left
                </Button>
                <Button size="small" disabled={isBusy} onClick={() => say("send", [email.id])} sx={{ ml: 3 }}>
                  Send it
                </Button>
              </Box>
            </Box>
          ))}
          {undecided.shown.length > 1 && (
            <Box sx={{ display: "flex", gap: 1, mt: 1.5 }}>
              <Button
                disabled={isBusy}
                onClick={() =>
                  say(
                    "arrived",
                    undecided.shown.map(({ id }) => id),
                  )
                }
              >
                {allOf(undecided)} left
              </Button>
              <Button
                disabled={isBusy}
                onClick={() =>
                  say(
                    "send",
                    undecided.shown.map(({ id }) => id),
                  )
                }
                sx={{ ml: 3 }}
              >
                Send {allOf(undecided).toLowerCase()}
              </Button>
            </Box>
          )}
        </Box>
      )}
      {mistakenBlocks > 0 && (
        <Box component="section" aria-label="Blocks by mistake" sx={{ mt: 4 }}>
          <Typography variant="h2">
            {count(mistakenBlocks, "address", "addresses")} on the block list by mistake
          </Typography>
          <Typography sx={{ mt: 0.5, mb: 1.5, maxWidth: 620 }}>
            Your own server refused these emails for a reason that has nothing to do with the people. Taking
            them off lets their sequences go on with the email that did not leave.
          </Typography>
          <Button variant="contained" disabled={isBusy} onClick={() => say("unblock")}>
            Take {mistakenBlocks === 1 ? "it" : `all ${mistakenBlocks}`} off and go on
          </Button>
        </Box>
      )}
      {setAside.total > 0 && (
        <Box component="section" aria-label="Messages set aside" sx={{ mt: 4 }}>
          <Typography variant="h2">{count(setAside.total, "message")} could not be read</Typography>
          <Typography color="textSecondary" sx={{ mt: 0.5, mb: 1, maxWidth: 620 }}>
            Look at {setAside.total === 1 ? "it" : "them"} in your mail program: an answer among them has
            stopped nothing.{firstOnly(setAside)}
          </Typography>
          {setAside.shown.map((message) => (
            <Box key={message.id} sx={row}>
              <Box sx={{ minWidth: 0 }}>
                <Typography noWrap sx={{ fontWeight: 600 }}>
                  {message.fromAddress || "Without a sender"}
                </Typography>
                <Typography noWrap variant="caption" color="textSecondary" component="div">
                  {message.subject || "Without a subject"}
                </Typography>
              </Box>
              <Typography variant="body2" color="textSecondary">
                {message.mailbox}, {message.path}: {message.reason}
              </Typography>
              <Button size="small" disabled={isBusy} onClick={() => say("seen", [message.id])}>
                I have looked
              </Button>
            </Box>
          ))}
        </Box>
      )}
    </>
  );
}
