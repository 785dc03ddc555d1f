import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { dayOf } from "../../../core/calendar";
import { WAIT_REASONS } from "../../../core/sending/reasons";
import { mayNot } from "../../../server/accounts/may-not";
import { webApp } from "../../../server/app";
import { applyWhatIf } from "../../../server/sending/apply-what-if";
import { knownDomainChecks } from "../../../server/sending/domains/check-domains";
import { forecast, mailboxStandings, notToday } from "../../../server/sending/forecast";
import { mailboxHealth } from "../../../server/sending/mailboxes/health";
import { countMistakenBlocks } from "../../../server/sending/mistaken-blocks";
import { restored } from "../../../server/sending/restored";
import { readSendingSettings } from "../../../server/sending/rules";
import { cellTouches, sentDays } from "../../../server/sending/sent-days";
import { setAsideMessages, undecidedEmails } from "../../../server/sending/undecided";
import { waitingJourneys } from "../../../server/sending/waiting";
import { userContext } from "../../accounts/session";
import { Empty, Page } from "../../components/page";
import { count } from "../../components/words";
import type { PageHandle } from "../../desk/live";
import { readForm, readPage, readText, unknownIntent } from "../../desk/read-form";
import { FlowChart } from "../flow-chart";
import { MailboxGrid } from "../grid";
import { OpenQuestions } from "../open-questions";
import { headingWords } from "../outlook-words";
import { RestoredCard } from "../restored-card";
import { SendingMargin } from "../sending-margin";
import { WaitingList } from "../waiting-list";
import { WhatIfPanel } from "../what-if";
import type { Route } from "./+types/sending";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: ["events", "plan"] } satisfies PageHandle;

export async function loader({ request, context }: Route.LoaderArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const params = new URL(request.url).searchParams;
  const reason = WAIT_REASONS.find((each) => each === params.get("reason")) ?? null;
  const page = readPage(params);
  const mailboxId = Number(params.get("mailbox")) || null;
  const day = /^\d{4}-\d{2}-\d{2}$/.test(params.get("day") ?? "") ? params.get("day") : null;
  const mailboxes = mailboxStandings(app);
  return {
    plan: await forecast(app, user.zone),
    mailboxes,
    reasons: notToday(app, user.zone),
    waiting: reason === null ? null : waitingJourneys(app, reason, page),
    cell:
      mailboxId !== null && day !== null
        ? { mailboxId, day, touches: cellTouches(app, mailboxId, day, user.zone) }
        : null,
    sent: sentDays(app, user.zone),
    health: mailboxHealth(app),
    domains: knownDomainChecks(app),
    undecided: undecidedEmails(app, user.id),
    restored: restored(app, user.id),
    setAside: setAsideMessages(app, user.id),
    mistakenBlocks: mayNot(app, user.id, "blocks.mend") ? 0 : countMistakenBlocks(app),
    followUpPercent: readSendingSettings(app.db).followUpPercent,
    mayApply: mailboxes.some(({ id }) => mayNot(app, user.id, "mailbox.change", id) === null),
    reason,
    page,
    zone: user.zone,
    now: app.clock.now(),
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const form = await readForm(request);
  if (form.intent !== "apply") return unknownIntent(form.intent);
  return applyWhatIf(webApp(), context.get(userContext), readText(form.change));
}

export default function Sending({ loaderData }: Route.ComponentProps) {
  const { plan, mailboxes, waiting, cell, reason, page, zone, now } = loaderData;
  const sentToday = mailboxes.reduce((sum, mailbox) => sum + mailbox.sentToday, 0);
  return (
    <Page
      heading={headingWords(plan, mailboxes.length, zone)}
      sub={
        mailboxes.length > 0 &&
        `${count(sentToday, "email")} sent today, ${plan.today} to go · ${count(plan.total, "email")} in the next 60 days if nobody answers`
      }
      actions={
        <>
          <Button component={Link} to="/sending/domains">
            Check the domains
          </Button>
          <Button
            component={Link}
            to="/sending/mailboxes/new"
            variant={mailboxes.length === 0 ? "contained" : "outlined"}
          >
            Add a mailbox
          </Button>
        </>
      }
      margin={<SendingMargin {...loaderData} />}
    >
      {loaderData.restored && <RestoredCard restored={loaderData.restored} zone={zone} />}
      {waiting && reason && (
        <WaitingList waiting={waiting} reason={reason} page={page} zone={zone} now={now} />
      )}
      {mailboxes.length === 0 ? (
        <Empty
          title="Add the mailbox you write from"
          text="Saudade sends over its SMTP server and reads the replies over IMAP. Two or more take turns, each under a daily limit of its own."
        />
      ) : (
        <>
          <MailboxGrid
            mailboxes={mailboxes}
            plan={plan}
            zone={zone}
            open={cell ? `${cell.mailboxId} ${cell.day}` : null}
          />
          <Box id="what-if">
            <WhatIfPanel
              plan={plan}
              mailboxes={mailboxes}
              followUpPercent={loaderData.followUpPercent}
              mayApply={loaderData.mayApply}
              zone={zone}
            />
          </Box>
        </>
      )}
      <OpenQuestions {...loaderData} />
      {mailboxes.length > 0 && (plan.total > 0 || loaderData.sent.length > 0) && (
        <FlowChart sent={loaderData.sent} plan={plan} today={dayOf(now, zone)} />
      )}
      {mailboxes.length > 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mt: 3, maxWidth: 720 }}>
          Follow-ups go first up to their share of the day, then new prospects. Mailboxes take turns, minutes
          apart, each under its limit; a thread stays in its mailbox; nothing leaves outside the hours or on a
          public holiday where the prospect is. Today and the next working day are fixed; what lies behind is
          a forecast by the same rules.
        </Typography>
      )}
    </Page>
  );
}
