import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link, useSearchParams } from "react-router";
import { WAIT_REASONS } from "../../../core/sending/reasons";
import { webApp } from "../../../server/app";
import { forecast, type MailboxForecast } from "../../../server/sending/forecast";
import { countMistakenBlocks } from "../../../server/sending/mistaken-blocks";
import { setAsideMessages, undecidedEmails } from "../../../server/sending/undecided";
import { waitingJourneys } from "../../../server/sending/waiting";
import { userContext } from "../../accounts/session";
import { Empty, MarginNote, Page } from "../../components/page";
import { Pill } from "../../components/pill";
import {
  count,
  day,
  restWords,
  SHORT_WAITS,
  shortDay,
  time,
  WAIT_WORDS,
  waitSentence,
  when,
} from "../../components/words";
import { OpenQuestions } from "../open-questions";
import type { Route } from "./+types/sending";

export function loader({ request, context }: Route.LoaderArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const params = new URL(request.url).searchParams;
  const reason = WAIT_REASONS.find((each) => each === params.get("reason")) ?? null;
  const page = Math.max(0, Math.floor(Number(params.get("page")) || 0));
  return {
    plan: forecast(app, user),
    waiting: waitingJourneys(app, reason, page),
    undecided: undecidedEmails(app),
    setAside: setAsideMessages(app),
    mistakenBlocks: countMistakenBlocks(app),
    reason,
    page,
    zone: user.zone,
    now: app.clock.now(),
  };
}

function heading({ plan, zone }: Pick<Route.ComponentProps["loaderData"], "plan" | "zone">): string {
  if (plan.mailboxes.length === 0) return "No mailbox to send from yet";
  if (plan.waitingForFirst > 0 && plan.beyondPlan === 0 && plan.lastFirstAt)
    return `Everyone in line has a first email by ${day(plan.lastFirstAt, zone)}`;
  if (plan.waitingForFirst > 0)
    return plan.beyondPlan < plan.waitingForFirst
      ? `${count(plan.waitingForFirst - plan.beyondPlan, "prospect")} of ${plan.waitingForFirst.toLocaleString("en-GB")} in line ${plan.waitingForFirst - plan.beyondPlan === 1 ? "has" : "have"} a first email in the next four weeks; ${count(plan.beyondPlan, "waits", "wait")} longer`
      : `${count(plan.waitingForFirst, "prospect")} ${plan.waitingForFirst === 1 ? "waits" : "wait"} for a first email longer than four weeks`;
  return plan.total > 0 ? "Everyone in line has had a first email" : "Nothing is to go out";
}

export default function Sending({ loaderData }: Route.ComponentProps) {
  const { plan, waiting, reason, page, zone, now } = loaderData;
  const [, setParams] = useSearchParams();
  const today = plan.mailboxes.reduce((sum, { perDay }) => sum + (perDay[0] ?? 0), 0);
  const turn = (to: number) => setParams(reason ? { reason, page: String(to) } : { page: String(to) });
  return (
    <Page
      heading={heading(loaderData)}
      sub={
        plan.mailboxes.length > 0 &&
        `${count(plan.total, "email")} in these ${plan.days.length} working days if nobody answers · ${today} today`
      }
      actions={
        <Button
          component={Link}
          to="/sending/mailboxes/new"
          variant={plan.mailboxes.length === 0 ? "contained" : "outlined"}
        >
          Add a mailbox
        </Button>
      }
      margin={<SendingMargin {...loaderData} />}
    >
      {plan.mailboxes.length === 0 ? (
        <Empty
          title="Add the mailbox you write from"
          text="Saudade sends over its SMTP server and reads the replies over IMAP. Two or more take turns, each under a daily limit of its own."
        />
      ) : (
        <Box component="table" sx={{ width: 1, borderCollapse: "collapse", tableLayout: "fixed" }}>
          <thead>
            <tr>
              <Box component="th" sx={{ width: 226, textAlign: "left", fontWeight: 400 }}>
                <Typography variant="caption" color="textSecondary">
                  Mailbox
                </Typography>
              </Box>
              {plan.days.map((localDay) => (
                <Box
                  component="th"
                  key={localDay}
                  sx={{ fontWeight: 400, fontSize: 12, color: "text.secondary", pb: 0.75 }}
                >
                  {shortDay(localDay)}
                </Box>
              ))}
            </tr>
          </thead>
          <tbody>
            {plan.mailboxes.map((mailbox) => (
              <MailboxRow key={mailbox.id} mailbox={mailbox} days={plan.days} zone={zone} />
            ))}
          </tbody>
        </Box>
      )}
      <OpenQuestions {...loaderData} />
      {(waiting.total > 0 || reason) && (
        <Box component="section" sx={{ mt: 4 }}>
          <Box sx={{ display: "flex", alignItems: "baseline", gap: 1.5, mb: 1 }}>
            <Typography variant="h2" sx={{ flex: 1 }}>
              {reason
                ? `${count(waiting.total, "person", "people")}: ${WAIT_WORDS[reason]}`
                : `${count(waiting.total, "person", "people")} ${waiting.total === 1 ? "waits" : "wait"}, and why`}
            </Typography>
            {reason && (
              <Button variant="text" component={Link} to="/sending">
                All reasons
              </Button>
            )}
          </Box>
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, mb: 1.5 }}>
            {plan.reasons.map(({ reason: each, count: people }) => (
              <Button
                key={each}
                size="small"
                component={Link}
                to={each === reason ? "/sending" : `/sending?reason=${each}`}
                variant={each === reason ? "contained" : "outlined"}
                aria-current={each === reason ? "true" : undefined}
              >
                {people} {SHORT_WAITS[each]}
              </Button>
            ))}
          </Box>
          {waiting.rows.map((row) => (
            <Box
              key={row.id}
              data-row
              sx={{
                display: "grid",
                gridTemplateColumns: "minmax(0, 1.1fr) minmax(0, 0.7fr) minmax(0, 1.5fr)",
                gap: 2,
                borderTop: "1px solid",
                borderColor: "divider",
                py: 1,
              }}
            >
              <Box sx={{ minWidth: 0 }}>
                <Typography
                  noWrap
                  component={Link}
                  to={`/prospects/${row.prospectId}`}
                  sx={{ display: "block", color: "inherit", fontWeight: 600, textDecoration: "none" }}
                >
                  {row.name}
                </Typography>
                <Typography noWrap variant="caption" color="textSecondary" component="div">
                  {row.company}
                </Typography>
              </Box>
              <Typography noWrap>{row.sequenceName}</Typography>
              <Box sx={{ minWidth: 0 }}>
                <Typography variant="body2">
                  {waitSentence(row.reason, row.detail, row.nextAt, now, zone)}
                </Typography>
                <Typography noWrap variant="caption" color="textSecondary" component="div">
                  {row.nextAt !== null &&
                    `${row.mailbox ?? ""}${row.zone && row.zone !== zone ? ` · ${time(row.nextAt, row.zone)} their time` : ""}`}
                </Typography>
              </Box>
            </Box>
          ))}
          {waiting.total > waiting.pageSize && (
            <Box sx={{ display: "flex", gap: 1, alignItems: "center", mt: 1.5 }}>
              <Button disabled={page === 0} onClick={() => turn(page - 1)}>
                Back
              </Button>
              <Button
                disabled={(page + 1) * waiting.pageSize >= waiting.total}
                onClick={() => turn(page + 1)}
              >
                Next {waiting.pageSize}
              </Button>
              <Typography color="textSecondary">
                {page * waiting.pageSize + 1}–{Math.min(waiting.total, (page + 1) * waiting.pageSize)} of{" "}
                {waiting.total}
              </Typography>
            </Box>
          )}
        </Box>
      )}
    </Page>
  );
}

function stateWords(mailbox: MailboxForecast, zone: string): React.ReactNode {
  if (mailbox.state === "resting")
    return <Pill tone="clay">rests{mailbox.restUntil ? ` until ${day(mailbox.restUntil, zone)}` : ""}</Pill>;
  if (mailbox.state === "paused") return <Pill tone="ochre">paused</Pill>;
  if (mailbox.isStopped) return <Pill tone="clay">stopped: look at it</Pill>;
  if (mailbox.trouble) return <Pill tone="clay">cannot be reached</Pill>;
  return `${mailbox.sentToday} of ${mailbox.dailyLimit} sent today`;
}

function MailboxRow({ mailbox, days, zone }: { mailbox: MailboxForecast; days: string[]; zone: string }) {
  return (
    <Box component="tr" sx={{ "& td": { borderTop: "1px solid", borderColor: "divider", py: 0.6 } }}>
      <td>
        <Typography
          noWrap
          component={Link}
          to={`/sending/mailboxes/${mailbox.id}`}
          title={mailbox.address}
          sx={{ display: "block", color: "inherit", fontWeight: 600, fontSize: 13, textDecoration: "none" }}
        >
          {mailbox.address}
        </Typography>
        <Typography variant="caption" color="textSecondary" component="div">
          {stateWords(mailbox, zone)}
        </Typography>
      </td>
      {mailbox.perDay.map((emails, index) => {
        const filled = Math.min(1, emails / mailbox.dailyLimit);
        const sent = index === 0 ? Math.min(1, mailbox.sentToday / mailbox.dailyLimit) : 0;
        return (
          <td key={days[index]}>
            <Box
              title={`${shortDay(days[index] ?? "")}: ${emails} of ${mailbox.dailyLimit}${index === 0 ? `, ${mailbox.sentToday} of them sent` : ""}`}
              sx={{
                position: "relative",
                height: 34,
                mx: "2px",
                borderRadius: 0.5,
                bgcolor: "tile.wash",
                overflow: "hidden",
                display: "grid",
                placeItems: "center",
              }}
            >
              <Box
                sx={{
                  position: "absolute",
                  inset: `${100 - filled * 100}% 0 0 0`,
                  bgcolor: "tile.line",
                  opacity: 0.75,
                }}
              />
              {sent > 0 && (
                <Box
                  sx={{
                    position: "absolute",
                    left: 0,
                    bottom: 0,
                    height: 6,
                    width: sent,
                    bgcolor: "tile.main",
                  }}
                />
              )}
              <Box component="span" sx={{ position: "relative", fontSize: 13, fontWeight: 600 }}>
                {emails > 0 ? emails : ""}
              </Box>
            </Box>
          </td>
        );
      })}
    </Box>
  );
}

function SendingMargin({ plan, zone, now }: Route.ComponentProps["loaderData"]) {
  const notSending = plan.mailboxes.filter(({ state, trouble }) => state !== "active" || trouble);
  return (
    <>
      <MarginNote title="Waiting, and why">
        {plan.reasons.length === 0 && <Typography>Nobody waits.</Typography>}
        {plan.reasons.map(({ reason, count: people, nextAt }) => (
          <Box key={reason} sx={{ display: "grid", gridTemplateColumns: "44px 1fr", gap: 1.25, mb: 1.1 }}>
            <Box component="span" sx={{ fontWeight: 650, textAlign: "right" }}>
              {people}
            </Box>
            <span>
              {WAIT_WORDS[reason]}
              {nextAt && (
                <Typography
                  variant="caption"
                  color="textSecondary"
                  component="span"
                  sx={{ display: "block" }}
                >
                  the first goes {when(nextAt, now, zone)}
                </Typography>
              )}
            </span>
          </Box>
        ))}
      </MarginNote>
      <MarginNote title="Not sending">
        {notSending.length === 0 && <Typography>Every mailbox sends.</Typography>}
        {notSending.map((mailbox) => (
          <Typography key={mailbox.id} sx={{ mb: 1 }}>
            <strong>{mailbox.address}</strong>{" "}
            {mailbox.state === "resting"
              ? `rests until ${mailbox.restUntil ? day(mailbox.restUntil, zone) : "you wake it"}: ${restWords(mailbox.restReason)}.`
              : mailbox.state === "paused"
                ? "is paused."
                : mailbox.trouble}
          </Typography>
        ))}
      </MarginNote>
      <MarginNote title="How the plan is made">
        <Typography variant="body2" color="textSecondary">
          Follow-ups go before first emails. Mailboxes take turns, minutes apart, each under its limit; a
          thread stays in its mailbox; nothing leaves outside the sending hours where the prospect is.
        </Typography>
      </MarginNote>
    </>
  );
}
