import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Step } from "../../core/sequence/steps";
import type { ListRow } from "../../server/prospects/lists/lists";
import type { SequenceCheck } from "../../server/sequences/check-sequence";
import type { MailboxChoice } from "../../server/sequences/open-sequence";
import type { SequenceForm } from "../../server/sequences/save-sequence";
import { MarginNote } from "../components/page";
import { count } from "../components/words";

const DAYS = ["", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
/** Silent reading of prose: about 238 words a minute (Brysbaert 2019). */
const WORDS_A_SECOND = 238 / 60;

function weekdays(days: number[]): string {
  const isRun = days.every((day, index) => index === 0 || day === (days[index - 1] as number) + 1);
  return isRun && days.length > 2
    ? `${DAYS[days[0] as number]}–${DAYS[days.at(-1) as number]}`
    : days.map((day) => DAYS[day]).join(", ");
}

function Check({ fine, children }: { fine: boolean; children: React.ReactNode }) {
  return (
    <Typography sx={{ display: "flex", gap: 1, mb: 0.8 }}>
      <Box
        component="span"
        aria-label={fine ? "Fine" : "To do"}
        sx={{ color: fine ? "kelp.main" : "clay.main", fontWeight: 700, width: 14, flexShrink: 0 }}
      >
        {fine ? "✓" : "!"}
      </Box>
      <span>{children}</span>
    </Typography>
  );
}

export function SequenceMargin(props: {
  form: SequenceForm;
  check: SequenceCheck;
  step: Step | undefined;
  lists: ListRow[];
  mailboxes: MailboxChoice[];
  isChanged: boolean;
}) {
  const { form, check, step, lists, mailboxes, isChanged } = props;
  const words = step?.body.split(/\s+/).filter(Boolean).length ?? 0;
  const list = lists.find(({ id }) => id === form.listId);
  const chosen = mailboxes.filter(({ id }) => form.mailboxIds.includes(id));
  const sending = chosen.filter(({ state }) => state === "active");
  const aDay = sending.reduce((sum, { dailyLimit }) => sum + dailyLimit, 0);
  const { start } = check;
  return (
    <>
      <MarginNote title="Before it goes out">
        {check.problems.map(({ stepId, field, message }) => (
          <Check key={stepId + field + message} fine={false}>
            {message}
          </Check>
        ))}
        {check.missing.map(({ field, count: people }) => (
          <Check key={field} fine={false}>
            {count(people, "prospect")} {people === 1 ? "has" : "have"} no {field.replaceAll("_", " ")}. They
            wait until you fill it in.
          </Check>
        ))}
        {!list && <Check fine={false}>Choose the list that it writes to.</Check>}
        {chosen.length === 0 && <Check fine={false}>Choose a mailbox to send from.</Check>}
        {check.problems.length === 0 && <Check fine>Every merge field exists</Check>}
        {step && words > 0 && (
          <Check fine={words <= 150}>
            {count(words, "word")}, about {Math.round(words / WORDS_A_SECOND)} seconds to read
          </Check>
        )}
        <Check fine>An opt-out line is added</Check>
        {isChanged && (
          <Check fine={false}>
            Not saved yet. Saving makes a new version; people on their way go on with it.
          </Check>
        )}
      </MarginNote>
      <MarginNote title="Who gets it">
        {list ? (
          <Typography>
            {count(start.ready, "prospect")} of “{list.name}” {start.ready === 1 ? "is" : "are"} ready to
            start.
            {start.already > 0 && ` ${start.already} started before.`}
            {start.elsewhere > 0 && ` ${start.elsewhere} on another sequence.`}
            {start.blocked > 0 && ` ${start.blocked} on the block list.`}
            {start.bad > 0 && ` ${start.bad} left out: their addresses are bad.`}
            {start.unsure > 0 &&
              ` Of the ready, ${start.unsure} start and wait, since their addresses are not as sure as you ask. Verify them under Addresses of the list, or let the sequence write to risky ones.`}
          </Typography>
        ) : (
          <Typography>No list is chosen.</Typography>
        )}
      </MarginNote>
      <MarginNote title="Stops for a prospect when">
        <Box component="ul" sx={{ m: 0, pl: 2.25, display: "grid", gap: 0.6 }}>
          <li>they reply; an automatic answer is none</li>
          <li>they book a call</li>
          <li>the email bounces for good, or they opt out</li>
        </Box>
      </MarginNote>
      <MarginNote title="Goes out">
        <Typography>
          {weekdays(form.days)}, {form.opens}–{form.closes} where they are
          {chosen.length > 0 && (
            <>
              <br />
              from {count(chosen.length, "mailbox", "mailboxes")} in turn, {aDay} a day together
              {sending.length < chosen.length && ` (${chosen.length - sending.length} not sending now)`}
            </>
          )}
        </Typography>
        {start.ready > 0 && aDay > 0 && (
          <Typography color="textSecondary" sx={{ mt: 1 }}>
            {count(start.ready, "first email")} alone fill {count(Math.ceil(start.ready / aDay), "day")} of
            these mailboxes.
          </Typography>
        )}
      </MarginNote>
    </>
  );
}
