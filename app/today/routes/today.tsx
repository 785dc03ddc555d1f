import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { webApp } from "../../../server/app";
import {
  approveDrafts,
  draftsToApprove,
  dropDraft,
  editDraft,
  endTouch,
  heldCompanies,
  markAccepted,
  ownTouches,
  putOff,
  releaseCompany,
} from "../../../server/today/own-touches";
import { type Today, today } from "../../../server/today/today";
import { userContext } from "../../accounts/session";
import { Key } from "../../components/key";
import { MarginNote, Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { count, day, inWords, restWords, time, when } from "../../components/words";
import { readJson, unknownIntent } from "../../desk/read-form";
import { Shape } from "../../timeline/shapes";
import { Drafts, HeldCompanies, OwnTouches } from "../own-touches";
import type { Route } from "./+types/today";

export function loader({ context }: Route.LoaderArgs) {
  const user = context.get(userContext);
  const app = webApp();
  return {
    ...today(app, user),
    own: ownTouches(app, user),
    drafts: draftsToApprove(app, user),
    companies: heldCompanies(app),
    zone: user.zone,
    firstName: user.name.split(" ")[0] ?? user.name,
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const body = (await readJson(request)) as Record<string, unknown>;
  const id = Number(body.id);
  const said = (outcome: { ok: boolean; errors?: Record<string, string> }) => ({
    problem: outcome.ok ? null : Object.values(outcome.errors ?? {}).join(" "),
  });
  const ids = Array.isArray(body.ids) ? body.ids.map(Number) : [];
  switch (body.intent) {
    case "done":
      return said(endTouch(app, user, body, "done"));
    case "skip":
      return said(endTouch(app, user, body, "skipped"));
    case "later":
      return said(putOff(app, user, id, Number(body.days) || 1));
    case "accepted":
      markAccepted(app, user, Number(body.prospectId));
      return { problem: null };
    case "approve":
      approveDrafts(app, user, ids);
      return { problem: null };
    case "edit":
      return said(editDraft(app, body));
    case "edit_approve": {
      const edited = editDraft(app, body);
      if (edited.ok) approveDrafts(app, user, ids);
      return said(edited);
    }
    case "drop":
      return said(dropDraft(app, user, id));
    case "release":
      releaseCompany(app, Number(body.companyId));
      return { problem: null };
    default:
      return unknownIntent(body.intent);
  }
}

function greeting(now: number, zone: string): string {
  const hour = Number(time(now, zone).slice(0, 2));
  return hour < 12 ? "Good morning" : hour < 18 ? "Good afternoon" : "Good evening";
}

function headline({ unread }: Today, waiting: number): string {
  if (unread === 0)
    return waiting === 0
      ? "Nobody waits for an answer."
      : `${inWords(waiting)} ${waiting === 1 ? "touch waits" : "touches wait"} for you.`;
  return `${inWords(unread)} ${unread === 1 ? "person" : "people"} wrote back.`;
}

export default function TodayPage({ loaderData }: Route.ComponentProps) {
  const { now, zone, firstName, unread, meetings, holds, mailboxTrouble, toGo, setUp } = loaderData;
  const troubles = holds.length + mailboxTrouble.length;
  return (
    <Page
      heading={`${greeting(now, zone)}, ${firstName}. ${headline(loaderData, loaderData.own.total + loaderData.drafts.total)}`}
      sub={
        unread > 0
          ? `Reading them takes about ${count(Math.max(2, Math.round(unread * 1.5)), "minute")}. ${toGo > 0 ? `The ${count(toGo, "email")} still to go today ${toGo === 1 ? "goes" : "go"} out by themselves.` : "Nothing else is to go out today."}`
          : toGo > 0
            ? `${count(toGo, "email")} ${toGo === 1 ? "goes" : "go"} out by themselves today. Nothing waits for you.`
            : "Nothing is to go out today."
      }
      margin={<TodayMargin data={loaderData} />}
    >
      {setUp.running === 0 && <FirstSteps setUp={setUp} />}
      {unread > 0 && (
        <Box
          sx={{
            display: "flex",
            alignItems: "center",
            gap: 2,
            bgcolor: "background.paper",
            border: "1px solid",
            borderColor: "divider",
            borderLeft: "4px solid",
            borderLeftColor: "kelp.main",
            borderRadius: 1,
            px: 2.25,
            py: 2,
            mb: 3.5,
          }}
        >
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Typography variant="h3">Read {count(unread, "reply", "replies")}</Typography>
            <Typography variant="body2" color="textSecondary" noWrap>
              {loaderData.newest.map(({ name, at }) => `${name}, ${when(at, now, zone)}`).join(" · ")}
              {unread > loaderData.newest.length ? " …" : ""}
            </Typography>
          </Box>
          <Button variant="contained" component={Link} to="/replies" sx={{ gap: 1 }}>
            Start reading <Key>G R</Key>
          </Button>
        </Box>
      )}
      <Drafts drafts={loaderData.drafts.shown} total={loaderData.drafts.total} now={now} zone={zone} />
      <OwnTouches touches={loaderData.own.shown} total={loaderData.own.total} now={now} zone={zone} />
      <HeldCompanies companies={loaderData.companies} />
      {meetings.length > 0 && (
        <Rows title="Calls you have ahead">
          {meetings.map((meeting) => (
            <Row key={meeting.token}>
              <Typography variant="body2" color="textSecondary" sx={{ width: 116, fontWeight: 600 }}>
                {when(meeting.startsAt, now, zone)}
              </Typography>
              <svg width={36} height={30} viewBox="-18 -15 36 30" aria-hidden>
                <Shape shape="call" state="planned" />
              </svg>
              <Box sx={{ flex: 1, minWidth: 0 }}>
                <Typography variant="h3">{meeting.name}</Typography>
                <Typography variant="body2" color="textSecondary" noWrap>
                  {[meeting.company, "booked from your email"].filter(Boolean).join(" · ")}
                </Typography>
              </Box>
              {meeting.prospectId !== null && (
                <Button component={Link} to={`/prospects/${meeting.prospectId}`}>
                  Look them up
                </Button>
              )}
            </Row>
          ))}
        </Rows>
      )}
      {troubles > 0 && (
        <Rows title="Something is wrong">
          {holds.map((hold) => (
            <Row key={`${hold.sequenceId} ${hold.reason} ${hold.detail}`}>
              <Pill tone="clay">{count(hold.count, "prospect")}</Pill>
              <HoldWords hold={hold} />
              <Button component={Link} to={holdPlace(hold)}>
                {hold.reason === "merge_field_empty"
                  ? "Fill them in"
                  : hold.listId !== null && isAboutAddress(hold)
                    ? "See their addresses"
                    : "Open it"}
              </Button>
            </Row>
          ))}
          {mailboxTrouble.map((mailbox) => (
            <Row key={mailbox.id}>
              <Pill tone="clay">1 mailbox</Pill>
              <Typography sx={{ flex: 1 }}>
                {mailbox.state === "resting" ? (
                  <>
                    <strong>{mailbox.address}</strong> rests
                    {mailbox.restUntil ? ` until ${day(mailbox.restUntil, zone)}` : ""}:{" "}
                    {restWords(mailbox.restReason)}
                  </>
                ) : (
                  mailbox.trouble
                )}
              </Typography>
              <Button component={Link} to={`/sending/mailboxes/${mailbox.id}`}>
                See why
              </Button>
            </Row>
          ))}
        </Rows>
      )}
    </Page>
  );
}

function Rows({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box component="section" sx={{ mb: 4 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}

function Row({ children }: { children: React.ReactNode }) {
  return (
    <Box
      data-row
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 1.75,
        borderTop: "1px solid",
        borderColor: "divider",
        py: 1.4,
        px: 0.5,
      }}
    >
      {children}
    </Box>
  );
}

/** What to do first where nothing runs yet. */
function FirstSteps({ setUp }: { setUp: Today["setUp"] }) {
  const steps = [
    {
      done: setUp.connected > 0,
      text:
        setUp.mailboxes > 0 && setUp.connected === 0
          ? "Your mailbox has not connected yet: look at what its servers say"
          : "Add a mailbox to send from",
      to: setUp.mailboxes > 0 && setUp.connected === 0 ? "/sending" : "/sending/mailboxes/new",
      label: setUp.mailboxes > 0 && setUp.connected === 0 ? "Look at it" : "Add a mailbox",
    },
    {
      done: setUp.prospects > 0,
      text: "Import the people you want to write to",
      to: "/prospects/import",
      label: "Import prospects",
    },
    {
      done: setUp.sequences > 0,
      text: "Write a sequence and start it",
      to: "/sequences",
      label: "Write a sequence",
    },
  ];
  const next = steps.findIndex(({ done }) => !done);
  return (
    <Rows
      title={
        setUp.sequences > 0
          ? "Start a sequence, and this page fills"
          : "Three things, and the first email goes out"
      }
    >
      {steps.map(({ done, text, to, label }, index) => (
        <Row key={to}>
          <Pill tone={done ? "kelp" : "ochre"}>{done ? "Done" : `Step ${index + 1}`}</Pill>
          <Typography sx={{ flex: 1 }}>{text}</Typography>
          <Button component={Link} to={to} variant={index === next ? "contained" : "outlined"}>
            {label}
          </Button>
        </Row>
      ))}
    </Rows>
  );
}

type Hold = Route.ComponentProps["loaderData"]["holds"][number];

const isAboutAddress = ({ reason }: Hold) => reason === "address_not_good" || reason === "no_address";

/** Where something can be done about it. */
function holdPlace(hold: Hold): string {
  if (hold.reason === "merge_field_empty") return `/sending?reason=${hold.reason}`;
  if (isAboutAddress(hold) && hold.listId !== null) return `/lists/${hold.listId}/addresses`;
  return `/sequences/${hold.sequenceId}`;
}

function HoldWords({ hold }: { hold: Hold }) {
  const { reason, detail, sequenceName } = hold;
  const have = hold.count === 1 ? "has" : "have";
  const lack =
    reason === "merge_field_empty"
      ? `no ${detail?.replaceAll("_", " ")}`
      : reason === "no_address"
        ? "no address"
        : reason === "address_not_good"
          ? `an address that ${detail === "unchecked" ? "was not checked" : `is ${detail}`}`
          : null;
  return (
    <Typography sx={{ flex: 1 }}>
      {lack !== null && `${have} ${lack}, so `}
      <strong>{sequenceName}</strong>
      {lack !== null
        ? " waits for them"
        : reason === "no_mailbox"
          ? " has no mailbox to send from"
          : `: ${detail}`}
    </Typography>
  );
}

function TodayMargin({ data }: { data: Route.ComponentProps["loaderData"] }) {
  const { mailboxes, toGo, week } = data;
  const sent = mailboxes.reduce((sum, each) => sum + each.sent, 0);
  return (
    <>
      <MarginNote title="Going out today">
        <Typography component="p" sx={{ display: "flex", alignItems: "baseline", gap: 1, mb: 2 }}>
          <Typography component="span" variant="letter" sx={{ fontSize: 38, lineHeight: 1 }}>
            {sent + toGo}
          </Typography>
          <Typography component="span" variant="letter" color="textSecondary">
            {sent + toGo === 1 ? "email" : "emails"}, {sent} of them sent
          </Typography>
        </Typography>
        {mailboxes.map(({ id, address, sent: own, limit, state }) => (
          <Box key={id} sx={{ mb: 1.4 }}>
            <Box sx={{ display: "flex", justifyContent: "space-between", gap: 1, fontSize: 12.5, mb: 0.4 }}>
              <Box
                component="span"
                sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}
                title={address}
              >
                {address}
              </Box>
              <Box component="span" sx={{ fontWeight: 650, whiteSpace: "nowrap" }}>
                {state === "active" ? `${own}/${limit}` : state === "resting" ? "rests" : "paused"}
              </Box>
            </Box>
            <LinearProgress
              variant="determinate"
              value={Math.min(100, (100 * own) / limit)}
              aria-label={`${address}: ${own} of ${limit} sent today`}
              sx={{ height: 5, borderRadius: 3, bgcolor: "divider" }}
            />
          </Box>
        ))}
        {mailboxes.length === 0 && <Typography variant="body2">No mailbox yet.</Typography>}
      </MarginNote>
      <MarginNote title="This week so far">
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", rowGap: 1.5 }}>
          {(
            [
              [week.sent, "sent"],
              [week.replied, "replied"],
              [week.booked, week.booked === 1 ? "call booked" : "calls booked"],
              [week.optedOut, "opted out"],
            ] as const
          ).map(([number, words]) => (
            <Box key={words}>
              <Typography variant="letter" sx={{ fontSize: 27, lineHeight: 1.15 }}>
                {number}
              </Typography>
              <Typography variant="body2" color="textSecondary">
                {words}
              </Typography>
            </Box>
          ))}
        </Box>
        <Typography variant="caption" color="textSecondary" component="p" sx={{ mt: 1.5 }}>
          Since Monday. Replies, calls and opt-outs count people.
        </Typography>
      </MarginNote>
    </>
  );
}
