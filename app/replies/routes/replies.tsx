import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Suspense } from "react";
import { useSearchParams } from "react-router";
import { saveSettings } from "../../../server/accounts/settings";
import { webApp } from "../../../server/app";
import { desk } from "../../../server/desk/reading-desk";
import { type Outcome, whenDone } from "../../../server/errors";
import { addNamed } from "../../../server/prospects/people/add-named";
import { addNote } from "../../../server/prospects/people/add-prospect";
import { answerReply, comeBackLater, dropLater } from "../../../server/replies/answer-reply";
import { decideLikely } from "../../../server/replies/decide-likely";
import { handOver } from "../../../server/replies/hand-over";
import { labelReply, undoLabel } from "../../../server/replies/label-reply";
import { liftChallenge } from "../../../server/replies/lift-challenge";
import { markRead } from "../../../server/replies/list-replies";
import { remindMe } from "../../../server/today/reminders";
import { userContext } from "../../accounts/session";
import { Key, KeyButton } from "../../components/key";
import { lazily } from "../../components/lazily";
import { Empty, MarginNote, Page } from "../../components/page";
import { Refusal } from "../../components/refusal";
import { count } from "../../components/words";
import type { PageHandle } from "../../desk/live";
import { readForm, readText, unknownIntent } from "../../desk/read-form";
import { WhoseSwitch } from "../../desk/whose-switch";
import type { Answered } from "../answer-form";
import { FILTERS, FilterBar } from "../filter-bar";
import { isLabelled } from "../label-words";
import { OpenLetter } from "../open-letter";
import { ReplyList } from "../reply-list";
import { ReplyMargin } from "../reply-margin";
import { useReplyDesk } from "../use-reply-desk";
import type { Route } from "./+types/replies";

const SideActionDialog = lazily(() => import("../side-action-dialog"), "SideActionDialog");

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: ["replies"] } satisfies PageHandle;

export function loader({ request, context }: Route.LoaderArgs) {
  const params = new URL(request.url).searchParams;
  const user = context.get(userContext);
  return desk(webApp(), user, {
    filter: FILTERS.find(([name]) => name === params.get("show"))?.[0] ?? "unread",
    label: params.get("label") ?? "",
    search: params.get("q") ?? "",
    open: Number(params.get("reply")) || null,
  });
}

export async function action({ request, context }: Route.ActionArgs): Promise<Outcome<Answered>> {
  const app = webApp();
  const user = context.get(userContext);
  const form = await readForm(request);
  const id = Number(form.replyId);
  if (form.intent === "read" || form.intent === "unread") {
    return whenDone(markRead(app, user.id, id, form.intent === "read"), () => ({}));
  }
  switch (form.intent) {
    case "label":
      return whenDone(labelReply(app, user.id, form), () => ({ words: "Kept." }));
    case "undo":
      return whenDone(undoLabel(app, user.id, id), (kept) => ({
        words:
          kept === 0
            ? "Taken back, with everything that it did."
            : "Taken back, but for what somebody changed since.",
      }));
    case "confirm":
    case "deny":
      return whenDone(decideLikely(app, id, form.intent === "confirm", user.id), () => ({}));
    case "answer":
      return whenDone(
        answerReply(app, user, { ...form, attachments: readText(form.attachments || "[]") }),
        () => ({
          answered: String(form.key),
        }),
      );
    case "come-back":
      return whenDone(comeBackLater(app, user, form), () => ({ words: "It is written for that day." }));
    case "drop-later":
      return whenDone(dropLater(app, user.id, Number(form.touchId)), () => ({}));
    case "add-named":
      return whenDone(addNamed(app, user, form), ({ prospectId, isNew, writes }) => ({
        addedId: prospectId,
        words: `${isNew ? "They are a prospect now" : "They were here already, and are on the list"}${writes ? ", and the first letter goes in their hours." : "."}`,
      }));
    case "hand-over":
      return whenDone(handOver(app, user, form), (whom) => ({ words: `Handed over to ${whom}.` }));
    case "note":
      return whenDone(addNote(app, user.id, { id: form.prospectId, text: form.text }), () => ({
        words: "Noted.",
      }));
    case "remind":
      return whenDone(remindMe(app, user, { ...form, day: form.day || null }), () => ({
        words: "You will be reminded.",
      }));
    case "after-label":
      return whenDone(saveSettings(app, user.id, { afterLabel: form.afterLabel }), () => ({}));
    case "challenge-done":
      return whenDone(liftChallenge(app, user.id, id), () => ({ words: "Their sequence goes on." }));
    default:
      return unknownIntent(form.intent);
  }
}

export default function Replies({ loaderData: desk }: Route.ComponentProps) {
  const { filter, search, replies, counts, open, story, zone, now, unreadOfOthers } = desk;
  const at = useReplyDesk(desk);
  const { names, last, looked, side } = at;
  const [params] = useSearchParams();
  /** On a phone the list and the open letter are a page each. */
  const isReading = params.has("reply") && open !== null;
  const list = new URLSearchParams(params);
  list.delete("reply");
  const shown = looked ?? open?.label?.code ?? open?.reading?.label ?? null;
  const isSet = looked === null && open?.label != null;
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
      hasMarginOnPhone={isReading}
      phoneBack={isReading ? { to: `?${list}`, words: heading } : null}
      sub={
        search === "" && unreadOfOthers > 0
          ? `${count(unreadOfOthers, "letter")} to read came to others.`
          : undefined
      }
      actions={
        <>
          <Typography
            color="textSecondary"
            component="span"
            sx={{ display: { xs: "none", sm: "flex" }, gap: 0.75, alignItems: "center", height: 34 }}
          >
            <Key>J</Key> next <Key>K</Key> back <Key>1</Key>…<Key>7</Key> label <Key>R</Key> answer{" "}
            <Key>U</Key> undo
          </Typography>
          {search === "" && (
            <Box sx={{ display: { xs: isReading ? "none" : "block", sm: "block" } }}>
              <WhoseSwitch looking={desk.looking} />
            </Box>
          )}
        </>
      }
      margin={
        story && open ? (
          <ReplyMargin
            story={story}
            zone={zone}
            now={now}
            looked={
              shown && isLabelled(open.kind)
                ? { name: names.get(shown) ?? shown, isSet, lines: isSet ? [] : (desk.previews[shown] ?? []) }
                : null
            }
            may={at.may}
            onAction={at.setSide}
          />
        ) : (
          <MarginNote title="What comes here">
            A person's reply stops everything still planned for them at once. What it means, you say with one
            key; until then the other people of their company wait.
          </MarginNote>
        )
      }
    >
      <Box sx={{ display: { xs: isReading ? "none" : "block", sm: "block" } }}>
        <FilterBar desk={desk} />
      </Box>
      {last && (
        <Alert
          severity="success"
          icon={false}
          sx={{ mb: 1.5, py: 0 }}
          action={
            <KeyButton size="small" onClick={at.undo} keys="U">
              Undo
            </KeyButton>
          }
        >
          {last.name}: {last.label.toLowerCase()}.
        </Alert>
      )}
      <Refusal errors={at.errors} />
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
              display: { xs: isReading ? "none" : "grid", sm: "grid" },
              maxHeight: { sm: "calc(100dvh - 132px)" },
            }}
          >
            <ReplyList
              replies={replies}
              openId={open.id}
              names={names}
              now={now}
              zone={zone}
              onOpen={at.select}
            />
          </Box>
          <Box sx={{ display: { xs: isReading ? "block" : "none", sm: "block" }, minWidth: 0 }}>
            <OpenLetter desk={desk} open={open} story={story} at={at} />
          </Box>
          {side && (
            <Suspense>
              <SideActionDialog
                key={`${open.id} ${side}`}
                action={side}
                replyId={open.id}
                prospectId={open.prospectId}
                mates={desk.mates}
                onClose={() => at.setSide(null)}
              />
            </Suspense>
          )}
        </Box>
      )}
    </Page>
  );
}
