import Typography from "@mui/material/Typography";
import type { OpenedMailbox } from "../../server/sending/mailboxes/open-mailbox";
import { MarginNote } from "../components/page";
import { count, day, pausedWords, restWords, share } from "../components/words";

type Mailbox = OpenedMailbox | null;

export function MailboxMargin({
  mailbox,
  isMine,
  zone,
}: {
  mailbox: Mailbox;
  isMine: boolean;
  zone: string;
}) {
  return (
    <>
      {mailbox && !isMine && (
        <MarginNote title="A colleague's">
          <Typography>
            This mailbox is {mailbox.ownerName}'s. They, or a manager, can change it; you see how it stands.
          </Typography>
        </MarginNote>
      )}
      {mailbox && (
        <MarginNote title="State, and why">
          <Typography>{stateSentence(mailbox, zone)}</Typography>
          {mailbox.threads > 0 && (
            <Typography sx={{ mt: 1 }}>
              {count(mailbox.threads, "person has a thread", "people have a thread")} here that goes on.{" "}
              {mailbox.state === "active" && mailbox.smtpStopped === 0
                ? "Pausing it would hold their follow-ups."
                : "Their follow-ups wait."}
            </Typography>
          )}
        </MarginNote>
      )}
      {mailbox?.health && (
        <MarginNote title="How its mail is received">
          <Typography sx={{ fontWeight: 600 }}>{VERDICTS[mailbox.health.verdict]}</Typography>
          {(["week", "month"] as const).map((span) => {
            const counts = mailbox.health?.[span];
            if (!counts) return null;
            return (
              <Typography key={span} variant="body2" sx={{ mt: 0.75 }}>
                {span === "week" ? "In 7 days" : "In 30 days"}: {count(counts.sent, "email")}
                {counts.sent > 0 &&
                  `; bounced ${share(counts.bounced, counts.sent)}, reported ${share(counts.complained, counts.sent)}, opted out ${share(counts.optedOut, counts.sent)}`}
              </Typography>
            );
          })}
        </MarginNote>
      )}
      {mailbox && (
        <MarginNote title="Copies in your Sent folder">
          <Typography>{COPIES[mailbox.copies]}</Typography>
        </MarginNote>
      )}
      <MarginNote title="What the check does">
        <Typography variant="body2" color="textSecondary">
          It signs in to both servers with what the form says, opens the inbox, and asks the outgoing server
          whether this address may send, up to the point where an email would go. Nothing is sent, read or
          saved.
        </Typography>
      </MarginNote>
      <MarginNote title="Why a limit">
        <Typography variant="body2" color="textSecondary">
          Receiving servers look at how much a mailbox sends and how regularly. Some 30 a day, minutes apart,
          look like a person at work.
        </Typography>
      </MarginNote>
    </>
  );
}

const VERDICTS = {
  good: "Healthy.",
  watch: "To be watched: half of what would have it rest.",
  resting: "It rests.",
  unknown: "Too few emails yet to tell.",
} as const;

const COPIES = {
  unknown:
    "It is seen with the first emails whether your server keeps them; if not, Saudade puts them there.",
  server: "Your server keeps a copy of each email by itself.",
  app: "Saudade puts a copy of each email there, since your server does not.",
  none: "There is no such folder.",
} as const;

function stateSentence(mailbox: NonNullable<Mailbox>, zone: string): string {
  if (mailbox.smtpStopped === 1)
    return `It was stopped at once, and nobody's address was touched. ${mailbox.smtpTrouble ?? ""} Mend that, then let it send again.`;
  if (mailbox.trouble) return mailbox.trouble;
  if (mailbox.state === "paused")
    return `It is ${mailbox.pause ? pausedWords(mailbox.pause, zone) : "paused by hand"}. It is still read, so replies keep stopping follow-ups.`;
  if (mailbox.state === "resting")
    return `It rests by itself until ${mailbox.restUntil ? day(mailbox.restUntil, zone) : "you wake it"}: ${restWords(mailbox.restReason)}. Threads that began here wait; it is still read.`;
  return mailbox.connectedWall === null ? "It has not connected yet." : "It sends and is read.";
}
