import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useRef } from "react";
import { Link, useFetcher, useNavigate, useSearchParams } from "react-router";
import { whyNotYours } from "../../../server/accounts/ownership";
import { webApp } from "../../../server/app";
import { optOutProspect } from "../../../server/prospects/block-list/opt-out";
import { prospectStory } from "../../../server/prospects/people/prospect-story";
import { answerReply } from "../../../server/replies/answer-reply";
import { decideLikely } from "../../../server/replies/decide-likely";
import { draftOf } from "../../../server/replies/drafts";
import { countReplies, listReplies, markRead, type ReplyFilter } from "../../../server/replies/list-replies";
import { userContext } from "../../accounts/session";
import { Key } from "../../components/key";
import { Empty, MarginNote, Page } from "../../components/page";
import { count, when } from "../../components/words";
import type { PageHandle } from "../../desk/live";
import { readForm, unknownIntent } from "../../desk/read-form";
import { isTyping } from "../../desk/shortcuts";
import { type Answered, AnswerForm } from "../answer-form";
import { Conversation } from "../conversation";
import { LikelyAnswer } from "../likely-answer";
import { ReplyMargin } from "../reply-margin";
import type { Route } from "./+types/replies";

const FILTERS: [ReplyFilter, string][] = [
  ["unread", "To read"],
  ["people", "From people"],
  ["automatic", "Automatic"],
  ["bounces", "Bounced"],
];

const isAnswerable = (kind: string) => kind === "person" || kind === "automatic" || kind === "left";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: ["replies"] } satisfies PageHandle;

export function loader({ request, context }: Route.LoaderArgs) {
  const app = webApp();
  const params = new URL(request.url).searchParams;
  const filter = FILTERS.find(([name]) => name === params.get("show"))?.[0] ?? "unread";
  const asked = Number(params.get("reply")) || null;
  const replies = listReplies(app, filter, asked);
  const open = replies.find(({ id }) => id === asked) ?? replies[0] ?? null;
  return {
    filter,
    replies,
    counts: countReplies(app),
    open,
    story: open ? prospectStory(app, open.prospectId) : null,
    draft: open ? draftOf(app, context.get(userContext).id, open.id) : "",
    zone: context.get(userContext).zone,
    now: app.clock.now(),
  };
}

export async function action({ request, context }: Route.ActionArgs): Promise<Answered> {
  const app = webApp();
  const user = context.get(userContext);
  const form = await readForm(request);
  const id = Number(form.replyId);
  if (form.intent === "opt-out") {
    optOutProspect(app, Number(form.prospectId), user.id);
    markRead(app, id, true);
    return {};
  }
  if (form.intent === "read" || form.intent === "unread") {
    markRead(app, id, form.intent === "read");
    return {};
  }
  if (form.intent === "confirm" || form.intent === "deny") {
    const decided = decideLikely(app, id, form.intent === "confirm", user.id);
    return decided.ok ? {} : { errors: decided.errors };
  }
  if (form.intent !== "answer") return unknownIntent(form.intent);
  const notYours = whyNotYours(app, user, { mailboxOfReply: id });
  if (notYours) return { errors: { form: notYours } };
  const outcome = answerReply(app, user.id, form);
  return outcome.ok ? { answered: String(form.key) } : { errors: outcome.errors };
}

export default function Replies({ loaderData }: Route.ComponentProps) {
  const { filter, replies, counts, open, story, draft, zone, now } = loaderData;
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const answer = useRef<HTMLTextAreaElement>(null);
  const mark = useFetcher();
  const index = replies.findIndex(({ id }) => id === open?.id);
  const select = (id: number | undefined) => {
    if (id === undefined) return;
    const next = new URLSearchParams(params);
    next.set("reply", String(id));
    setParams(next, { preventScrollReset: true });
  };
  // The one that is open stays open when a newer one arrives, with what was typed below it.
  const openId = open?.id;
  useEffect(() => {
    if (openId === undefined || params.get("reply") === String(openId)) return;
    const next = new URLSearchParams(params);
    next.set("reply", String(openId));
    setParams(next, { replace: true, preventScrollReset: true });
  }, [openId, params, setParams]);
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey) return;
      if (event.key === "j") select(replies[index + 1]?.id);
      else if (event.key === "k") select(replies[index - 1]?.id);
      else if (event.key === "r") answer.current?.focus();
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  });

  const heading =
    counts.people + counts.automatic + counts.bounces === 0
      ? "Nobody has written back yet"
      : counts.unread === 0
        ? "Every reply has been read"
        : `${count(counts.unread, "reply", "replies")} to read`;
  return (
    <Page
      heading={heading}
      actions={
        <Typography
          color="textSecondary"
          component="span"
          sx={{ display: { xs: "none", sm: "flex" }, gap: 0.75, alignItems: "center", pt: 0.75 }}
        >
          <Key>J</Key> next <Key>K</Key> back <Key>R</Key> answer
        </Typography>
      }
      margin={
        story && open ? (
          <ReplyMargin story={story} zone={zone} now={now} />
        ) : (
          <MarginNote title="About replies">
            A person's reply stops everything still planned for them. Automatic answers and delivery reports
            are kept apart.
          </MarginNote>
        )
      }
    >
      <Box
        sx={{ display: "flex", gap: 1, mb: 2, flexWrap: "wrap" }}
        role="tablist"
        aria-label="Kinds of replies"
      >
        {FILTERS.map(([name, label]) => (
          <Button
            key={name}
            role="tab"
            aria-selected={name === filter}
            size="small"
            variant={name === filter ? "contained" : "outlined"}
            onClick={() => navigate(name === "unread" ? "/replies" : `/replies?show=${name}`)}
          >
            {label} {counts[name]}
          </Button>
        ))}
      </Box>
      {!open || !story ? (
        <Empty
          title={filter === "unread" ? "Nothing to read" : "Nothing of this kind"}
          text={
            filter === "unread"
              ? "New replies appear here by themselves, the newest first."
              : "It will be kept here when it comes."
          }
        />
      ) : (
        <Box
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "200px minmax(0, 1fr)" },
            gap: 2.5,
          }}
        >
          <Box
            component="nav"
            aria-label="Replies"
            sx={{ maxHeight: { xs: 180, sm: "none" }, overflowY: "auto" }}
          >
            {replies.map((reply) => (
              <Box
                key={reply.id}
                component="button"
                type="button"
                aria-current={reply.id === open.id}
                onClick={() => select(reply.id)}
                sx={{
                  display: "block",
                  width: 1,
                  textAlign: "left",
                  font: "inherit",
                  color: "inherit",
                  cursor: "pointer",
                  border: 0,
                  borderLeft: "3px solid transparent",
                  bgcolor: "transparent",
                  px: 1.25,
                  py: 0.9,
                  '&[aria-current="true"]': { bgcolor: "background.paper", borderLeftColor: "tile.main" },
                }}
              >
                <Typography noWrap sx={{ fontWeight: reply.readAt === null ? 650 : 500 }}>
                  {reply.name}
                </Typography>
                <Typography noWrap variant="caption" color="textSecondary" component="div">
                  {reply.company}
                </Typography>
                <Typography noWrap variant="caption" color="textSecondary" component="div">
                  {when(reply.at, now, zone)}
                </Typography>
              </Box>
            ))}
          </Box>
          <Box sx={{ minWidth: 0 }}>
            <Box sx={{ display: "flex", alignItems: "baseline", gap: 1, mb: 1.25 }}>
              <Typography sx={{ flex: 1, minWidth: 0 }}>
                <Box
                  component={Link}
                  to={`/prospects/${open.prospectId}`}
                  sx={{ color: "inherit", fontWeight: 650, textDecoration: "none" }}
                >
                  {open.name}
                </Box>{" "}
                <Box component="span" sx={{ color: "text.secondary" }}>
                  {[open.title, open.company].filter(Boolean).join(", ")}
                </Box>
              </Typography>
              <mark.Form method="post">
                <input type="hidden" name="replyId" value={open.id} />
                <Button
                  size="small"
                  type="submit"
                  name="intent"
                  value={open.readAt === null ? "read" : "unread"}
                >
                  {open.readAt === null ? "Mark as read" : "To read again"}
                </Button>
              </mark.Form>
            </Box>
            {open.certainty === "likely" && <LikelyAnswer key={open.id} reply={open} />}
            <Conversation items={story.conversation} zone={zone} from={`r${open.id}`} />
            {open.blocked && (
              <Typography color="textSecondary" sx={{ mt: 2 }}>
                {open.answerTo} is on the {/* The domain finds either entry: its own, or the address's. */}
                <Link to={`/block-list?q=${encodeURIComponent(open.answerTo.split("@")[1] ?? "")}`}>
                  block list
                </Link>
                : to answer, take it off there first.
              </Typography>
            )}
            {isAnswerable(open.kind) && !open.blocked && (
              <AnswerForm
                key={open.id}
                replyId={open.id}
                prospectId={open.prospectId}
                mailbox={open.mailbox}
                field={answer}
                name={open.name}
                answerTo={open.answerTo}
                isElsewhere={open.answerTo !== story.prospect.email}
                isBlocked={story.blocked}
                draft={draft}
              />
            )}
          </Box>
        </Box>
      )}
    </Page>
  );
}
