import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { isEmail, isSameThread, type PathNode } from "../../core/sequence/path";
import { startingOf } from "../../core/sequence/standing";
import { checkText } from "../../core/writing/checks";
import type { ListRow } from "../../server/prospects/lists/lists";
import type { SequenceCheck } from "../../server/sequences/check-sequence";
import type { MailboxChoice } from "../../server/sequences/open-sequence";
import type { StepPreview } from "../../server/sequences/preview-step";
import type { SequenceForm } from "../../server/sequences/save-sequence";
import { MarginNote } from "../components/page";
import { count, shortWeekday } from "../components/words";
import { TextChecks } from "./text-checks";

function weekdays(days: number[]): string {
  const isRun = days.every((day, index) => index === 0 || day === (days[index - 1] as number) + 1);
  return isRun && days.length > 2
    ? `${shortWeekday(days[0] as number)}–${shortWeekday(days.at(-1) as number)}`
    : days.map(shortWeekday).join(", ");
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
  node: PathNode | undefined;
  variantId: string;
  preview: StepPreview | null;
  lists: ListRow[];
  mailboxes: MailboxChoice[];
  isChanged: boolean;
  /** Opens the tab where list and mailboxes are chosen. */
  onSettings: () => void;
}) {
  const { form, check, lists, mailboxes, isChanged } = props;
  const { stops, holdsCompany } = form.settings;
  const list = lists.find(({ id }) => id === form.listId);
  const chosen = mailboxes.filter(({ id }) => form.mailboxIds.includes(id));
  const sending = chosen.filter(({ state }) => state === "active");
  const aDay = sending.reduce((sum, each) => sum + each.aDay, 0);
  const { start } = check;
  const starting = startingOf(start);
  const unsure = start.no_address + start.address_not_good;
  return (
    <>
      <MarginNote title="Before it goes out">
        {check.problems.map(({ nodeId, field, variantId, message }) => (
          <Check key={nodeId + field + (variantId ?? "") + message} fine={false}>
            {message}
          </Check>
        ))}
        {check.remarks.map(({ nodeId, message }) => (
          <Check key={nodeId + message} fine={false}>
            {message}
          </Check>
        ))}
        {check.missing.map(({ field, count: people }) => (
          <Check key={field} fine={false}>
            {count(people, "prospect")} {people === 1 ? "has" : "have"} no {field.replaceAll("_", " ")}. They
            wait until you fill it in.
          </Check>
        ))}
        {!list && (
          <Check fine={false}>
            <Link to="?show=settings" onClick={props.onSettings}>
              Choose the list
            </Link>{" "}
            that it writes to.
          </Check>
        )}
        {chosen.length === 0 && (
          <Check fine={false}>
            {mailboxes.length === 0 ? (
              <Link to="/sending/mailboxes/new">Add a mailbox</Link>
            ) : (
              <Link to="?show=settings" onClick={props.onSettings}>
                Choose a mailbox
              </Link>
            )}{" "}
            to send from.
          </Check>
        )}
        {check.problems.length === 0 && <Check fine>Every merge field exists</Check>}
        {isChanged && <Check fine={false}>Not saved yet.</Check>}
      </MarginNote>
      <TextNote {...props} />
      <MarginNote title="Who gets it">
        {list ? (
          <Typography>
            {count(starting, "prospect")} of “{list.name}” {starting === 1 ? "is" : "are"} ready to start.
            {start.already > 0 && ` ${start.already} started before.`}
            {start.elsewhere > 0 && ` ${start.elsewhere} on another sequence.`}
            {start.blocked > 0 && ` ${start.blocked} on the block list.`}
            {start.address_bad > 0 && ` ${start.address_bad} left out: their addresses are bad.`}
            {start.written_lately > 0 && ` ${start.written_lately} were written to in the last 30 days.`}
            {unsure > 0 && ` Of these, ${unsure} start and wait for an address, or a better one.`}
          </Typography>
        ) : (
          <Typography>
            Nobody yet.{" "}
            <Link to="?show=settings" onClick={props.onSettings}>
              Choose a list
            </Link>
            {lists.length === 0 && (
              <>
                , once you have <Link to="/prospects/import">imported one</Link>
              </>
            )}
            .
          </Typography>
        )}
      </MarginNote>
      <MarginNote title="Stops for a prospect when">
        <Box component="ul" sx={{ m: 0, pl: 2.25, display: "grid", gap: 0.6 }}>
          {stops.reply && <li>they reply; an automatic answer is none</li>}
          {stops.meeting && <li>they book a call</li>}
          {stops.click && <li>they click a link</li>}
          {stops.open && <li>they open an email</li>}
          {stops.stages.length > 0 && (
            <li>you move them to {stops.stages.join(" or ").replaceAll("_", " ")}</li>
          )}
          <li>the email bounces for good, or they opt out</li>
          {holdsCompany && <li>a colleague replies: then they wait for your word</li>}
        </Box>
      </MarginNote>
      <MarginNote title="Goes out">
        <Typography>
          {weekdays(form.days)}, {form.opens}–{form.closes}{" "}
          {form.settings.zoneOf === "prospect" ? "where they are" : `in ${form.zone}`}
          {form.settings.holidays && <>, not on their public holidays</>}
          {chosen.length > 0 && (
            <>
              <br />
              from {count(chosen.length, "mailbox", "mailboxes")} in turn, {aDay} a day together
              {sending.length < chosen.length && ` (${chosen.length - sending.length} not sending now)`}
            </>
          )}
        </Typography>
        {starting > 0 && aDay > 0 && (
          <Typography color="textSecondary" sx={{ mt: 1 }}>
            {count(starting, "first email")} alone fill {count(Math.ceil(starting / aDay), "day")} of these
            mailboxes.
          </Typography>
        )}
      </MarginNote>
    </>
  );
}

/** What can be said of the email that is looked at. */
function TextNote({
  node,
  variantId,
  preview,
}: {
  node: PathNode | undefined;
  variantId: string;
  preview: StepPreview | null;
}) {
  if (!node || !isEmail(node)) return null;
  const variant = node.variants.find(({ id }) => id === variantId) ?? node.variants[0];
  if (!variant) return null;
  const rendered = preview?.rendered?.ok ? preview.rendered.body : null;
  const values = Object.entries(preview?.samples ?? {}).flatMap(([name, value]) =>
    name.startsWith("sender") || name === "email" || value === "" ? [] : [value],
  );
  const checks = checkText({
    subject: variant.subject,
    sameThread: isSameThread(variant),
    body: variant.body,
    linkedFiles: node.linksFiles ? node.attachments.length : 0,
    sample: rendered === null ? null : { text: rendered, values },
  });
  return (
    <MarginNote title={`The text of “${node.name}”`}>
      <TextChecks checks={checks} />
    </MarginNote>
  );
}
