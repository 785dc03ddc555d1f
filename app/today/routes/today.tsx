import Box from "@mui/material/Box";
import LinearProgress from "@mui/material/LinearProgress";
import { styled } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { STAGE_NAMES } from "../../../core/prospects/stages";
import { webApp } from "../../../server/app";
import { noteMeeting } from "../../../server/meetings/book-meeting";
import { fillField, saveProspect } from "../../../server/prospects/people/save-prospect";
import { allLabels } from "../../../server/replies/labels";
import { callBackAt } from "../../../server/today/call-back";
import { daySoFar } from "../../../server/today/day-so-far";
import { approveDrafts, dropDraft, editDraft } from "../../../server/today/drafts";
import { endTouch } from "../../../server/today/end-touch";
import { markAccepted } from "../../../server/today/mark-accepted";
import { draftsToApprove } from "../../../server/today/own-touches";
import { putOff } from "../../../server/today/put-off";
import { releaseCompany } from "../../../server/today/release-company";
import { endReminder, planNext, settleWarm } from "../../../server/today/reminders";
import { type Today, today } from "../../../server/today/today";
import type { TodoItem } from "../../../server/today/todo-item";
import { todoList } from "../../../server/today/todo-list";
import { userContext } from "../../accounts/session";
import { MarginNote, Page } from "../../components/page";
import { count, inWords, time } from "../../components/words";
import { useInTurn } from "../../desk/in-turn";
import { useKeys } from "../../desk/keys";
import { readJson, unknownIntent } from "../../desk/read-form";
import { Shape } from "../../timeline/shapes";
import { CallSheet } from "../call-sheet";
import { Drafts } from "../drafts";
import { FirstSteps } from "../first-steps";
import { placeWords, shapeOf, subOf, titleOf } from "../todo-words";
import { type Act, TodoWork } from "../todo-work";
import type { Route } from "./+types/today";

export function loader({ context }: Route.LoaderArgs) {
  const user = context.get(userContext);
  const app = webApp();
  return {
    ...today(app, user),
    todo: todoList(app, user),
    drafts: draftsToApprove(app, user),
    soFar: daySoFar(app, user),
    labels: allLabels(app.db).map(({ code, name }) => [code, name] as [string, string]),
    zone: user.zone,
    firstName: user.name.split(" ")[0] ?? user.name,
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const body = await readJson(request);
  const id = Number(body.id);
  const days = Number(body.days) || 1;
  const prospectId = Number(body.prospectId);
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
      return said(putOff(app, user, id, days));
    case "call-back":
      return said(callBackAt(app, user, body));
    case "accepted":
      return said(markAccepted(app, user, prospectId));
    case "approve":
      return said(approveDrafts(app, user, ids));
    case "edit":
      return said(editDraft(app, user.id, body));
    case "edit_approve": {
      const edited = editDraft(app, user.id, body);
      return said(edited.ok ? approveDrafts(app, user, ids) : edited);
    }
    case "drop":
      return said(dropDraft(app, user, id));
    case "release":
      return said(releaseCompany(app, user.id, Number(body.companyId)));
    case "reminder-done":
    case "reminder-skip":
      return said(endReminder(app, user, id, body.intent === "reminder-done" ? "done" : "skipped"));
    case "reminder-later":
      return said(endReminder(app, user, id, { days }));
    case "plan-next":
      return said(planNext(app, user, prospectId, days));
    case "warm-done":
    case "warm-skip":
      return said(settleWarm(app, user, prospectId, body.intent === "warm-done"));
    case "met":
      return said(noteMeeting(app, user.id, body));
    case "stage":
      return said(saveProspect(app, user.id, { id: prospectId, stage: body.stage }));
    case "fill":
      return said(
        fillField(app, user.id, { prospectId, field: String(body.field), value: String(body.value ?? "") }),
      );
    default:
      return unknownIntent(body.intent);
  }
}

function greeting(now: number, zone: string): string {
  const hour = Number(time(now, zone).slice(0, 2));
  return hour < 12 ? "Good morning" : hour < 18 ? "Good afternoon" : "Good evening";
}

function headline({ unread, firstSteps }: Today, waiting: number): string {
  if (firstSteps && unread === 0) {
    const open = firstSteps.filter(({ isDone }) => !isDone).length;
    return `${inWords(open)} ${open === 1 ? "step" : "steps"} to your first email.`;
  }
  if (unread === 0)
    return waiting === 0
      ? "Nobody waits for an answer."
      : `${inWords(waiting)} ${waiting === 1 ? "thing waits" : "things wait"} for you.`;
  return `${inWords(unread)} ${unread === 1 ? "person" : "people"} wrote back.`;
}

function subline({ unread, toGo, firstSteps }: Today, others: number): string {
  if (firstSteps && unread === 0 && toGo === 0)
    return "Have the mailbox's password and a list at hand; the rest is a matter of minutes.";
  const goes =
    toGo > 0
      ? `The ${count(toGo, "email")} still to go today ${toGo === 1 ? "goes" : "go"} out by themselves.`
      : "Nothing else is to go out today.";
  if (unread === 0) return others === 0 ? goes : `The most worthwhile comes first. ${goes}`;
  return `Reading them takes about ${count(Math.max(2, Math.round(unread * 0.4)), "minute")}${
    others > 0 ? `; ${count(others, "thing")} more ${others === 1 ? "waits" : "wait"} below` : ""
  }. ${goes}`;
}

/** The keys of an open thing, and what each does to it. */
function pressed(item: TodoItem, key: string): [intent: string, body: Record<string, unknown>] | null {
  const done = key === "d";
  const skip = key === "s";
  const later = key === "l";
  if ("touchId" in item) {
    const outcomes = ["reached", "voicemail", "no_answer", "wrong_number"];
    const outcome = item.kind === "call" ? outcomes[Number(key) - 1] : undefined;
    if (outcome) return ["done", { id: item.touchId, outcome }];
    if (done && item.kind !== "call") return ["done", { id: item.touchId }];
    if (skip) return ["skip", { id: item.touchId }];
    return later ? ["later", { id: item.touchId, days: 1 }] : null;
  }
  if ("reminderId" in item && item.reminderId !== null) {
    if (done) return ["reminder-done", { id: item.reminderId }];
    if (skip) return ["reminder-skip", { id: item.reminderId }];
    return later ? ["reminder-later", { id: item.reminderId, days: 1 }] : null;
  }
  if (item.kind === "warm" && (done || skip))
    return [done ? "warm-done" : "warm-skip", { prospectId: item.person.id }];
  if (item.kind === "meeting_over" && done) return ["met", { token: item.token, how: "held" }];
  if (item.kind === "company" && done) return ["release", { companyId: item.company.companyId }];
  return null;
}

export default function TodayPage({ loaderData }: Route.ComponentProps) {
  const { now, zone, firstName, unread, firstSteps, todo, drafts } = loaderData;
  const { items } = todo;
  const press = useInTurn<{ problem: string | null }>();
  const navigate = useNavigate();
  const [selected, setSelected] = useState<string | null>(null);
  /** Where the selection was: what follows takes the place of what was done. */
  const lastAt = useRef(0);
  const at = items.findIndex(({ key }) => key === selected);
  const index = at >= 0 ? at : Math.min(lastAt.current, items.length - 1);
  const open = items[index];
  if (at >= 0) lastAt.current = at;
  const list = useRef<HTMLDivElement>(null);
  const act: Act = (intent, body) =>
    void press.submit(JSON.stringify({ intent, ...body }), {
      method: "post",
      action: "/?index",
      encType: "application/json",
    });
  function move(by: 1 | -1): void {
    const next = items[Math.max(0, Math.min(items.length - 1, index + by))];
    if (next) setSelected(next.key);
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: the row at hand comes into view once, not with every refresh.
  useEffect(() => {
    list.current?.querySelector('[aria-current="true"]')?.scrollIntoView({ block: "nearest" });
  }, [open?.key]);
  useKeys((key, event) => {
    if (!open) return false;
    const does = press.state === "idle" ? pressed(open, key) : null;
    if (key === "j") move(1);
    else if (key === "k") move(-1);
    else if (key === "enter" && open.kind === "replies" && event.target === document.body)
      void navigate("/replies");
    else if (does) act(...does);
    else return false;
    return true;
  });
  const readings = new Map(loaderData.labels);
  const others = items.length + todo.more - (unread > 0 ? 1 : 0);
  const person = open && "person" in open ? open.person : open?.kind === "field" ? open.first : null;
  return (
    <Page
      heading={`${greeting(now, zone)}, ${firstName}. ${headline(loaderData, items.length + todo.more)}`}
      sub={subline(loaderData, others)}
      margin={
        <>
          {person && open && (
            <CallSheet
              prospectId={person.id}
              text={"text" in open && "touchId" in open ? open.text : ""}
              now={now}
              zone={zone}
            />
          )}
          <TodayMargin data={loaderData} />
        </>
      }
    >
      {firstSteps && <FirstSteps steps={firstSteps} now={now} zone={zone} />}
      {press.data?.problem && (
        <Typography color="error" sx={{ mb: 1 }}>
          {press.data.problem}
        </Typography>
      )}
      <Box ref={list} component="section" aria-label="What waits for you">
        {items.map((item, place) => (
          <TodoRow
            key={item.key}
            item={item}
            isOpen={place === index}
            now={now}
            zone={zone}
            readings={readings}
            onOpen={() => setSelected(item.key)}
          >
            {item.kind === "drafts" ? (
              <Drafts drafts={drafts.shown} total={drafts.total} now={now} zone={zone} act={act} />
            ) : (
              <TodoWork item={item} act={act} />
            )}
          </TodoRow>
        ))}
      </Box>
      {items.length === 0 && firstSteps === null && (
        <Typography color="textSecondary">
          Nothing waits for you. What comes up, a reply, a call, a draft, stands here in the order of its
          worth.
        </Typography>
      )}
      {todo.more > 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1.5 }}>
          {count(todo.more, "more touch", "more touches")} of your own come up as these are done.
        </Typography>
      )}
    </Page>
  );
}

/** One thing to do: what it is, why it stands here, and, where it is the one at hand, how it is done. */
function TodoRow(props: {
  item: TodoItem;
  isOpen: boolean;
  now: number;
  zone: string;
  readings: ReadonlyMap<string, string>;
  onOpen: () => void;
  children: React.ReactNode;
}) {
  const { item, isOpen, now, zone, readings, onOpen, children } = props;
  const shape = shapeOf(item);
  const sub = subOf(item, zone, readings);
  const why = placeWords(item);
  const there = "person" in item && item.person?.zone ? item.person.zone : null;
  const isTrouble = item.kind === "mailbox" || item.kind === "hold" || item.kind === "field";
  return (
    <Row aria-current={isOpen}>
      <Head type="button" aria-expanded={isOpen} onClick={onOpen}>
        <svg width={36} height={30} viewBox="-18 -15 36 30" aria-hidden>
          {shape && (
            <Shape
              shape={shape}
              state={item.kind === "replies" ? "answered" : isTrouble ? "person" : "planned"}
            />
          )}
        </svg>
        <div>
          <h2>{titleOf(item, now, zone)}</h2>
          <p>{[sub, why].filter(Boolean).join(" · ")}</p>
        </div>
        {there && <span>{time(now, there)} there</span>}
      </Head>
      {isOpen && <Box sx={{ pl: { xs: 1.25, sm: 8 }, pr: 1.25, pb: 1.75 }}>{children}</Box>}
    </Row>
  );
}

// Dozens of them on one page: so each is a few plain elements.
const Row = styled("div")(({ theme: { palette } }) => ({
  borderTop: `1px solid ${palette.divider}`,
  borderLeft: "3px solid transparent",
  "&[aria-current=true]": { background: palette.background.paper, borderLeftColor: palette.tile.main },
}));
const Head = styled("button")(({ theme: { palette, typography, breakpoints } }) => ({
  all: "unset",
  boxSizing: "border-box",
  width: "100%",
  cursor: "pointer",
  display: "flex",
  alignItems: "center",
  gap: 12,
  padding: "8.4px 10px",
  "&:focus-visible": { outline: `2px solid ${palette.tile.main}`, outlineOffset: -2 },
  "& > div": { flex: 1, minWidth: 0 },
  "& h2, & p": { margin: 0, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" },
  "& h2": typography.h3,
  "& p, & > span": { ...typography.body2, color: palette.text.secondary },
  "& > span": { whiteSpace: "nowrap", [breakpoints.down("sm")]: { display: "none" } },
}));

function TodayMargin({ data }: { data: Route.ComponentProps["loaderData"] }) {
  const { mailboxes, toGo, week, soFar } = data;
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
      <MarginNote title="Your day so far">
        <Typography>
          {[
            soFar.read > 0 ? `${count(soFar.read, "reply", "replies")} labelled` : "",
            soFar.touches > 0 ? `${count(soFar.touches, "touch", "touches")} done` : "",
            soFar.calls > 0 ? `${count(soFar.calls, "call")} among them` : "",
            soFar.booked > 0 ? `${count(soFar.booked, "call")} booked` : "",
          ]
            .filter(Boolean)
            .join(", ") || "Nothing done by hand yet."}
        </Typography>
        {soFar.moved.map(({ name, stage }) => (
          <Typography key={name + stage} variant="body2" color="textSecondary" sx={{ mt: 0.5 }}>
            {name} is now: {(STAGE_NAMES[stage] ?? stage).toLowerCase()}
          </Typography>
        ))}
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
