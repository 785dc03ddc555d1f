import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Suspense, useEffect, useRef, useState } from "react";
import { Form, Link, useNavigate, useSearchParams } from "react-router";
import { webApp } from "../../../server/app";
import { desk } from "../../../server/desk/reading-desk";
import type { Outcome } from "../../../server/errors";
import { addNamed } from "../../../server/prospects/people/add-named";
import { addNote } from "../../../server/prospects/people/add-prospect";
import { answerReply, comeBackLater, dropLater } from "../../../server/replies/answer-reply";
import { decideLikely } from "../../../server/replies/decide-likely";
import { handOver } from "../../../server/replies/hand-over";
import { labelReply, undoLabel } from "../../../server/replies/label-reply";
import { liftChallenge } from "../../../server/replies/lift-challenge";
import { markRead, type ReplyFilter } from "../../../server/replies/list-replies";
import { remindMe } from "../../../server/today/reminders";
import { userContext } from "../../accounts/session";
import { Key } from "../../components/key";
import { lazily } from "../../components/lazily";
import { Empty, MarginNote, Page } from "../../components/page";
import { PlainSelect } from "../../components/plain-select";
import { PlainTextField } from "../../components/plain-text-field";
import { count } from "../../components/words";
import { useInTurn } from "../../desk/in-turn";
import { useKeys } from "../../desk/keys";
import type { PageHandle } from "../../desk/live";
import { readForm, readText, unknownIntent } from "../../desk/read-form";
import { useAtRest } from "../../desk/refresh";
import { type Answered, AnswerForm, type AnswerHandle } from "../answer-form";
import { Conversation } from "../conversation";
import { LabelBar } from "../label-bar";
import { SETTLES } from "../label-words";
import { LikelyAnswer } from "../likely-answer";
import { AwayPanel, ComeBackPanel, NamedPanel } from "../next-panel";
import { ReplyList } from "../reply-list";
import { ReplyMargin } from "../reply-margin";
import { type SideAction, sideActionOf } from "../side-actions";
import type { Route } from "./+types/replies";

const SideActionDialog = lazily(() => import("../side-action-dialog"), "SideActionDialog");

const FILTERS: [ReplyFilter, string][] = [
  ["unread", "To read"],
  ["people", "From people"],
  ["automatic", "Automatic"],
  ["bounces", "Came back"],
];

const isAnswerable = (kind: string) => kind === "person" || kind === "automatic" || kind === "left";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: ["replies"] } satisfies PageHandle;

export function loader({ request, context }: Route.LoaderArgs) {
  const params = new URL(request.url).searchParams;
  const user = context.get(userContext);
  const of = params.get("of");
  return desk(webApp(), user, {
    ofTeam: of === "team" || (of !== "mine" && user.role === "manager"),
    filter: FILTERS.find(([name]) => name === params.get("show"))?.[0] ?? "unread",
    label: params.get("label") ?? "",
    search: params.get("q") ?? "",
    open: Number(params.get("reply")) || null,
  });
}

export async function action({ request, context }: Route.ActionArgs): Promise<Answered> {
  const app = webApp();
  const user = context.get(userContext);
  const form = await readForm(request);
  const id = Number(form.replyId);
  const said = <T,>(outcome: Outcome<T>, words: (value: T) => Answered): Answered =>
    outcome.ok ? words(outcome.value) : { errors: outcome.errors };
  if (form.intent === "read" || form.intent === "unread") {
    return said(markRead(app, user.id, id, form.intent === "read"), () => ({}));
  }
  switch (form.intent) {
    case "label":
      return said(labelReply(app, user.id, form), () => ({ words: "Kept." }));
    case "undo":
      return said(undoLabel(app, user.id, id), (kept) => ({
        words:
          kept === 0
            ? "Taken back, with everything that it did."
            : "Taken back, but for what somebody changed since.",
      }));
    case "confirm":
    case "deny":
      return said(decideLikely(app, id, form.intent === "confirm", user.id), () => ({}));
    case "answer":
      return said(
        answerReply(app, user, { ...form, attachments: readText(form.attachments || "[]") }),
        () => ({
          answered: String(form.key),
        }),
      );
    case "come-back":
      return said(comeBackLater(app, user, form), () => ({ words: "It is written for that day." }));
    case "drop-later":
      return said(dropLater(app, user.id, Number(form.touchId)), () => ({}));
    case "add-named":
      return said(addNamed(app, user, form), ({ prospectId, isNew, writes }) => ({
        addedId: prospectId,
        words: `${isNew ? "They are a prospect now" : "They were here already, and are on the list"}${writes ? ", and the first letter goes in their hours." : "."}`,
      }));
    case "hand-over":
      return said(handOver(app, user, form), (whom) => ({ words: `Handed over to ${whom}.` }));
    case "note":
      return said(addNote(app, user.id, { id: form.prospectId, text: form.text }), () => ({
        words: "Noted.",
      }));
    case "remind":
      return said(remindMe(app, user, { ...form, day: form.day || null }), () => ({
        words: "You will be reminded.",
      }));
    case "challenge-done":
      return said(liftChallenge(app, user.id, id), () => ({ words: "Their sequence goes on." }));
    default:
      return unknownIntent(form.intent);
  }
}

export default function Replies({ loaderData }: Route.ComponentProps) {
  const { filter, label, search, replies, counts, labels, labelCounts, open, story, zone, now } = loaderData;
  const { ofTeam, notYours, unreadOfOthers } = loaderData;
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const answer = useRef<AnswerHandle>(null);
  const isAtRest = useAtRest();
  const press = useInTurn<Answered>();
  const [looked, setLooked] = useState<string | null>(null);
  const [side, setSide] = useState<SideAction | null>(null);
  /** The reply that got a label last: what U takes back. */
  const [last, setLast] = useState<{ id: number; name: string; label: string } | null>(null);
  const index = replies.findIndex(({ id }) => id === open?.id);
  const names = new Map(labels.map(({ code, name }) => [code, name]));
  const select = (id: number | undefined) => {
    if (id === undefined) return;
    const next = new URLSearchParams(params);
    next.set("reply", String(id));
    setParams(next, { preventScrollReset: true });
  };
  // The one that is open stays open when a newer one arrives, with what was typed below it.
  const openId = open?.id;
  useEffect(() => {
    if (openId === undefined || params.get("reply") === String(openId) || !isAtRest()) return;
    const next = new URLSearchParams(params);
    next.set("reply", String(openId));
    setParams(next, { replace: true, preventScrollReset: true });
  }, [openId, params, setParams, isAtRest]);

  /** The page with other choices, of the same mailboxes. */
  const pageWith = (choices: Record<string, string>) => {
    const next = new URLSearchParams(choices);
    const of = choices.of ?? params.get("of");
    if (of) next.set("of", of);
    return `/replies${next.size > 0 ? `?${next}` : ""}`;
  };
  // Whoever reads it first must be heard: an opt-out can be noted by everybody.
  const usable = notYours === null ? labels : labels.filter(({ code }) => code === "opt_out");

  const mayDo = (action: SideAction) => notYours === null || action !== "hand-over";

  function setLabel(code: string): void {
    if (!open || !isLabelled(open.kind) || !usable.some((each) => each.code === code)) return;
    void press.submit({ intent: "label", replyId: String(open.id), label: code }, { method: "post" });
    setLast({ id: open.id, name: open.name, label: names.get(code) ?? code });
    if (SETTLES.has(code)) select(replies[index + 1]?.id ?? replies[index - 1]?.id);
  }
  function undo(): void {
    const id = last?.id ?? (open?.label ? open.id : undefined);
    if (id === undefined) return;
    void press.submit({ intent: "undo", replyId: String(id) }, { method: "post" });
    setLast(null);
    select(id);
  }
  useKeys((key) => {
    const byNumber = /^[1-9]$/.test(key) ? labels[Number(key) - 1] : undefined;
    const action = sideActionOf(key);
    if (key === "j") select(replies[index + 1]?.id);
    else if (key === "k") select(replies[index - 1]?.id);
    else if (key === "r") answer.current?.focus();
    else if (key === "t") answer.current?.insert(loaderData.offer.times || loaderData.offer.link);
    else if (key === "b") answer.current?.insert(loaderData.offer.link);
    else if (key === "d") answer.current?.suggest();
    else if (key === "u") undo();
    else if (key === "e" && open && notYours === null)
      void press.submit(
        { intent: open.readAt === null ? "read" : "unread", replyId: String(open.id) },
        { method: "post" },
      );
    else if (byNumber) setLabel(byNumber.code);
    else if (action && open && mayDo(action)) setSide(action);
    else return false;
    return true;
  });

  const shown = looked ?? open?.label?.code ?? (open?.reading ? open.reading.label : null);
  const isSet = looked === null && open?.label != null;
  const meaning = open?.label?.code ?? (open?.reading?.sure ? open.reading.label : null);
  const heading =
    search !== ""
      ? `${count(replies.length, "message")} with “${search}”`
      : counts.people + counts.automatic + counts.bounces === 0
        ? unreadOfOthers > 0
          ? "Nobody has written back to you yet"
          : "Nobody has written back yet"
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
          <Key>J</Key> next <Key>K</Key> back <Key>1</Key>…<Key>7</Key> label <Key>R</Key> answer <Key>U</Key>{" "}
          undo
        </Typography>
      }
      margin={
        story && open ? (
          <ReplyMargin
            story={story}
            zone={zone}
            now={now}
            looked={
              shown && isLabelled(open.kind)
                ? {
                    name: names.get(shown) ?? shown,
                    isSet,
                    lines: isSet ? [] : (loaderData.previews[shown] ?? []),
                  }
                : null
            }
            may={mayDo}
            onAction={setSide}
          />
        ) : (
          <MarginNote title="What comes here">
            A person's reply stops everything still planned for them at once. What it means, you say with one
            key; until then the other people of their company wait.
          </MarginNote>
        )
      }
    >
      <Box sx={{ display: "flex", gap: 1, mb: 1.5, flexWrap: "wrap", alignItems: "center" }}>
        <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }} role="tablist" aria-label="Kinds of replies">
          {FILTERS.map(([name, words]) => (
            <Button
              key={name}
              role="tab"
              aria-selected={name === filter && label === "" && search === ""}
              size="small"
              variant={name === filter && label === "" && search === "" ? "contained" : "outlined"}
              onClick={() => navigate(pageWith(name === "unread" ? {} : { show: name }))}
            >
              {words} {counts[name]}
            </Button>
          ))}
        </Box>
        <PlainSelect
          aria-label="By label"
          value={label}
          onChange={(chosen) => navigate(pageWith(chosen === "" ? {} : { label: chosen }))}
          options={[
            ["", "By label"],
            ...labels.map(({ code, name }) => [code, `${name} ${labelCounts[code] ?? 0}`] as const),
          ]}
          sx={{ width: 128, "& select": { py: 0.6 } }}
        />
        <Form method="get" role="search" style={{ flex: "1 1 170px", minWidth: 0 }}>
          <PlainTextField
            key={search}
            name="q"
            type="search"
            aria-label="Search all messages"
            placeholder="Search all messages"
            defaultValue={search}
            sx={{ "& .MuiInputBase-input": { py: 0.6 } }}
          />
        </Form>
      </Box>
      {search === "" && unreadOfOthers > 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>
          {ofTeam
            ? `Everybody's letters are here; ${unreadOfOthers} of those to read came to colleagues.`
            : `${count(unreadOfOthers, "letter")} to read came to colleagues.`}{" "}
          <Link to={pageWith({ of: ofTeam ? "mine" : "team" })}>
            {ofTeam ? "Only mine" : "Look at everybody's"}
          </Link>
        </Typography>
      )}
      {last && (
        <Alert
          severity="success"
          icon={false}
          sx={{ mb: 1.5, py: 0 }}
          action={
            <Button size="small" onClick={undo}>
              Undo <Key>U</Key>
            </Button>
          }
        >
          {last.name}: {last.label.toLowerCase()}.
        </Alert>
      )}
      {press.data?.errors && (
        <Alert severity="error" sx={{ mb: 1.5 }}>
          {Object.values(press.data.errors).join(" ")}
        </Alert>
      )}
      {!open || !story ? (
        <Empty
          title={
            search !== "" ? "Nothing found" : filter === "unread" ? "Nothing to read" : "Nothing of this kind"
          }
          text={
            search !== ""
              ? "Every word has to stand in a message, or in the answer to it. Try fewer words."
              : filter === "unread"
                ? "New replies appear here by themselves, the interested ones first."
                : "It will be kept here when it comes."
          }
        />
      ) : (
        <Box
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "232px minmax(0, 1fr)" },
            gap: 2.5,
            alignItems: "start",
          }}
        >
          <Box
            sx={{
              position: { sm: "sticky" },
              top: 0,
              display: "grid",
              maxHeight: { sm: "calc(100dvh - 132px)" },
            }}
          >
            <ReplyList
              replies={replies}
              openId={open.id}
              names={names}
              now={now}
              zone={zone}
              onOpen={select}
            />
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
              <Button
                size="small"
                disabled={notYours !== null}
                onClick={() =>
                  void press.submit(
                    { intent: open.readAt === null ? "read" : "unread", replyId: String(open.id) },
                    { method: "post" },
                  )
                }
                sx={{ gap: 0.75 }}
              >
                {open.readAt === null ? "Mark as read" : "To read again"} <Key>E</Key>
              </Button>
            </Box>
            {notYours && (
              <Alert severity="info" sx={{ mb: 2 }}>
                {notYours} You can read it, and mark an opt-out.
              </Alert>
            )}
            {open.certainty === "likely" && notYours === null && <LikelyAnswer key={open.id} reply={open} />}
            <Conversation
              items={story.conversation}
              zone={zone}
              from={`r${open.id}`}
              marks={open.reading?.words ?? []}
              onDrop={(touchId) =>
                void press.submit(
                  { intent: "drop-later", touchId: String(touchId), replyId: String(open.id) },
                  { method: "post" },
                )
              }
            />
            {open.kind === "challenge" && notYours === null && (
              <Alert
                severity="warning"
                sx={{ mt: 2 }}
                action={
                  <Button
                    size="small"
                    onClick={() =>
                      void press.submit(
                        { intent: "challenge-done", replyId: String(open.id) },
                        { method: "post" },
                      )
                    }
                  >
                    It is confirmed
                  </Button>
                }
              >
                Their server wants a person to confirm that a person wrote. Follow what it asks in your own
                mail program; their sequence waits until then.
              </Alert>
            )}
            {isLabelled(open.kind) && (
              <LabelBar
                reply={open}
                labels={labels}
                usable={usable}
                names={names}
                busy={press.state !== "idle"}
                onLabel={setLabel}
                onLook={setLooked}
              />
            )}
            {meaning === "not_now" && notYours === null && (
              <ComeBackPanel key={`b${open.id}`} reply={open} suggestion={loaderData.suggestion} />
            )}
            {meaning === "away" && notYours === null && <AwayPanel key={`a${open.id}`} reply={open} />}
            {notYours === null &&
              (meaning === "wrong_person" || (meaning === "away" && open.reading?.person)) && (
                <NamedPanel
                  key={`n${open.id}`}
                  reply={open}
                  suggestion={loaderData.suggestion}
                  isAway={meaning === "away"}
                />
              )}
            {open.blocked && (
              <Typography color="textSecondary" sx={{ mt: 2 }}>
                {open.answerTo} is on the {/* The domain finds either entry: its own, or the address's. */}
                <Link to={`/block-list?q=${encodeURIComponent(open.answerTo.split("@")[1] ?? "")}`}>
                  block list
                </Link>
                : to answer, take it off there first.
              </Typography>
            )}
            {isAnswerable(open.kind) && !open.blocked && notYours === null && (
              <AnswerForm
                key={open.id}
                replyId={open.id}
                mailbox={open.mailbox}
                handle={answer}
                name={open.name}
                answerTo={open.answerTo}
                isElsewhere={open.answerTo !== story.prospect.email}
                draft={loaderData.draft}
                pieces={loaderData.pieces}
                suggested={loaderData.suggestion.answer}
                nudge={loaderData.suggestion.nudge}
                link={loaderData.offer.link}
                times={loaderData.offer.times}
              />
            )}
          </Box>
          {side && (
            <Suspense>
              <SideActionDialog
                key={`${open.id} ${side}`}
                action={side}
                replyId={open.id}
                prospectId={open.prospectId}
                mates={loaderData.mates}
                onClose={() => setSide(null)}
              />
            </Suspense>
          )}
        </Box>
      )}
    </Page>
  );
}

const isLabelled = (kind: string) => isAnswerable(kind) || kind === "challenge";
