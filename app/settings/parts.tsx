/** What the forms of the settings are made of, and what the margin says beside them. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { type Action, ActionForm } from "../components/use-action";

/** What the page's action gives: words, or a link to hand on. */
export interface Said {
  words?: string;
  link?: string;
  /** By which it is undone. */
  undo?: number;
}

/** A part of the page with a form of its own, and below it what became of it. */
export function Part({
  title,
  intent,
  button,
  of: act,
  children,
  disabled = false,
  onSubmit,
}: {
  title: string;
  intent: string;
  button: string;
  of: Action<Said>;
  children: React.ReactNode;
  disabled?: boolean;
  /** Of a form that is a schema's. */
  onSubmit?: React.FormEventHandler<HTMLFormElement>;
}) {
  return (
    <ActionForm
      of={act}
      aria-label={title}
      sx={{ display: "grid", gap: 1.75 }}
      {...(onSubmit && { onSubmit, noValidate: true })}
    >
      <Typography variant="h2">{title}</Typography>
      {children}
      <Box sx={{ display: "flex", gap: 2, alignItems: "center" }}>
        <Button
          type="submit"
          name="intent"
          value={intent}
          variant="contained"
          disabled={act.isBusy || disabled}
        >
          {button}
        </Button>
        <Typography role="status" color="success">
          {act.isBusy ? "" : (act.value?.words ?? "")}
        </Typography>
      </Box>
    </ActionForm>
  );
}

export const two = { display: "grid", gap: 1.75, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" } } as const;
export const three = {
  display: "grid",
  gap: 1.75,
  gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr 1fr" },
} as const;

export const SETTINGS_MARGINS: Record<string, [string, string][]> = {
  you: [
    [
      "Your time zone",
      "Days and limits of your mailboxes are counted there, and the day line shows its hours.",
    ],
    ["Sessions", "One that is not used for a week ends by itself; all end after thirty days."],
    ["A new password", "It ends every other session. If you forget it, a manager makes you a link."],
  ],
  booking: [
    [
      "Who books",
      "A link in your emails knows its prospect: a booking stops everything planned for them. Somebody who only types an address stops nobody.",
    ],
    [
      "Never twice",
      "A time that somebody takes is gone for everybody else at that moment, the minutes around it included.",
    ],
    ["Holidays", "On public holidays of the company's country nobody can book."],
    [
      "Your other calendars",
      "Of them only the busy times are kept. What cannot be read keeps what it said last, and says here what is wrong.",
    ],
  ],
  labels: [
    [
      "Before you press",
      "What a label would do stands in the margin of Replies before it is set, and one press takes all of it back.",
    ],
    [
      "On its own",
      "Only a sure opt-out in plain words is acted on without you: it stops and blocks. Everything else waits for your key.",
    ],
    [
      "What it learns from",
      "Labels that people set, together with the letters that ship. Nothing leaves this server.",
    ],
  ],
  notices: [
    ["In the app", "The tray in the top bar counts what is new."],
    [
      "By mail",
      "From one of your own mailboxes to the address you sign in with; several at once become one letter.",
    ],
    [
      "Quiet hours",
      "Mail waits until they are over. What the browser would have said is in the app in the morning.",
    ],
  ],
  sending: [
    [
      "Whose limits count",
      "Each mailbox has its own limit, pause and ramp on its page; what stands here holds for all of them together.",
    ],
    [
      "Resting",
      "A mailbox that rests sends nothing, is still read, and comes back on a lowered limit that rises again.",
    ],
    ["Social limits", "Any seven days, not calendar weeks: those would allow double on Sunday and Monday."],
  ],
  company: [
    ["On public pages", "Booking and opt-out pages show the company's name and picture, not this program's."],
    [
      "Automatic answers",
      "Mail servers take an email with opt-out buttons in its header for a mailing list's, and send no “I am away”. So first emails go without; the opt-out link is in the text of each.",
    ],
    [
      "Rather once too few",
      "After a crash it can be open whether an email left. Where neither the Sent folder nor the server can tell, it waits on Sending for your word.",
    ],
  ],
  team: [
    [
      "What a rep may",
      "See everything of the team's, and change their own mailboxes, sequences and prospects. A manager changes all.",
    ],
    ["Links", "A link to set a password works once, for three days. Hand it over in person or by chat."],
    ["Health", "The same as at /healthz: work that was finished lately, by mailbox."],
  ],
};
