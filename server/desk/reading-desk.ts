/** Everything that the reading desk shows at one look: the list, the open reply, and what each label would do. */
import { mayNot } from "../accounts/may-not.ts";
import type { User } from "../accounts/session.ts";
import { readSettings, type UserSettings } from "../accounts/settings.ts";
import { type Looking, looking, whose } from "../accounts/whose.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { type Offer, offerTimes } from "../meetings/offer-times.ts";
import { type ProspectStory, prospectStory } from "../prospects/people/prospect-story.ts";
import { draftOf } from "../replies/drafts.ts";
import { allLabels, type LabelRow } from "../replies/labels.ts";
import {
  countLabels,
  countReplies,
  countUnread,
  listReplies,
  type OpenReply,
  openReply,
  type ReplyFilter,
  type ReplyRow,
} from "../replies/list-replies.ts";
import { labelFacts, type PreviewLine, previewLabel } from "../replies/preview-label.ts";
import { searchMessages } from "../replies/search-messages.ts";
import { type Suggestion, suggestAnswer } from "../replies/suggest-answer.ts";
import { type ReadyPiece, readyPieces } from "../sequences/pieces.ts";

export interface DeskQuery {
  filter: ReplyFilter;
  /** A label's code; "" for all. */
  label: string;
  /** Words that messages hold; "" for no search. */
  search: string;
  /** The reply that is open. */
  open: number | null;
}

export interface Desk extends Omit<DeskQuery, "open"> {
  replies: ReplyRow[];
  counts: Record<ReplyFilter, number>;
  /** Letters to read in the mailboxes of colleagues. */
  unreadOfOthers: number;
  /** Whose letters these are. */
  looking: Looking;
  labels: LabelRow[];
  labelCounts: Record<string, number>;
  open: OpenReply | null;
  /** Whose the open one is, where it is not one's own to answer. */
  notYours: string | null;
  story: ProspectStory | null;
  /** What setting each label would do, by its code. */
  previews: Record<string, PreviewLine[]>;
  draft: string;
  pieces: ReadyPiece[];
  offer: Offer;
  suggestion: Suggestion;
  /** What follows a label (accounts/settings.ts). */
  afterLabel: UserSettings["afterLabel"];
  mates: { id: number; name: string }[];
  zone: string;
  now: number;
}

const NO_SUGGESTION: Suggestion = {
  answer: "",
  nudge: "",
  again: "",
  thanks: "",
  opening: { subject: "", body: "" },
};

export function desk(app: App, user: User, query: DeskQuery): Desk {
  const { db, clock } = app;
  const { filter, label, search } = query;
  const of = whose(user);
  const found = search === "" ? null : searchMessages(app, search);
  const replies = listReplies(app, of, { filter, label, found }, query.open);
  const openId = replies.find(({ id }) => id === query.open)?.id ?? replies[0]?.id;
  const open = openId === undefined ? null : openReply(app, openId);
  const story = open ? prospectStory(app, user.id, open.prospectId) : null;
  const labels = allLabels(db);
  const offer = open ? offerTimes(app, user, open.prospectId, open) : { link: "", times: "", inEnglish: "" };
  return {
    filter,
    label,
    search,
    replies,
    counts: countReplies(app, of),
    looking: looking(app, user),
    unreadOfOthers: countUnread(app, { ...of, everybody: 1 }) - countUnread(app, of),
    labels,
    labelCounts: countLabels(app, of),
    open,
    notYours: open && (mayNot(app, user.id, "reply.change", open.id)?.errors.form ?? null),
    story,
    previews: open && story ? previewsOf(app, open, story, labels) : {},
    draft: open ? draftOf(app, user.id, open.id) : "",
    pieces: open ? readyPieces(app, user.id) : [],
    offer,
    suggestion: open && story ? suggestionFor(app, user, open, story, offer) : NO_SUGGESTION,
    mates: sql(db, "SELECT id, name FROM users WHERE id != @id AND removed_at IS NULL ORDER BY name").all<{
      id: number;
      name: string;
    }>({ id: user.id }),
    afterLabel: readSettings(db, user.id).afterLabel,
    zone: user.zone,
    now: clock.now(),
  };
}

function previewsOf(
  { db }: App,
  open: OpenReply,
  story: ProspectStory,
  labels: LabelRow[],
): Record<string, PreviewLine[]> {
  const stepsLeft = (journeyId: number) =>
    story.journeys
      .find(({ id }) => id === journeyId)
      ?.touches.filter(({ state }) => state === "planned" || state === "person").length ?? 0;
  const facts = labelFacts(db, open.id, stepsLeft);
  if (!facts) return {};
  return Object.fromEntries(
    labels.map((label) => [
      label.code,
      previewLabel(label, facts, open.reading?.label === label.code ? open.reading.day : null),
    ]),
  );
}

/** Links that were made for one person say who that is: in a letter to somebody else they have no place. */
const withoutOwnLinks = (letter: string, url: string): string =>
  letter
    .split(/\n\s*\n/)
    .filter((paragraph) => !paragraph.includes(`${url}/opt-out/`))
    .join("\n\n")
    .replaceAll(
      new RegExp(`${url.replace(/[.*+?^${}()|[\]\\]/g, "\\$&")}/book/\\S+`, "g"),
      "{{ booking_link }}",
    );

function suggestionFor(
  { db, config }: App,
  user: User,
  open: OpenReply,
  story: ProspectStory,
  { link, inEnglish: times }: Offer,
): Suggestion {
  const lastLetter =
    story.conversation.findLast(
      ({ from, kind, state }) => from === "us" && kind === "step" && state === "sent",
    )?.text ?? "";
  const person = story.prospect;
  return suggestAnswer({
    first: person.firstName,
    rep: user.name,
    company: person.company,
    label: open.label?.code ?? open.reading?.label ?? "",
    reading: open.reading,
    subject: open.subject,
    lastLetter: withoutOwnLinks(lastLetter.replace(signatureOf(db, open.mailbox), "").trim(), config.url),
    link,
    times,
  });
}

/** What the mailbox puts below every letter: it comes again by itself. */
const signatureOf = (db: App["db"], address: string): string =>
  sql(db, "SELECT signature FROM mailboxes WHERE address = @address")
    .get<{ signature: string }>({ address })
    ?.signature.trim() || "\u0000";
