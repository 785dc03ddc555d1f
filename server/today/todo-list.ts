/** Everything that needs a person today, in one order, each with the reason for its place. */
import { hourOf } from "../../core/calendar.ts";
import {
  GROUP_OF,
  orderTodos,
  type Place,
  type SeenLately,
  TODO_GROUPS,
  type Todo,
  type TodoGroup,
  type TodoKind,
} from "../../core/today/order.ts";
import type { User } from "../accounts/session.ts";
import { whose } from "../accounts/whose.ts";
import type { App } from "../app.ts";
import { oldestUnread, unreadByReading } from "../replies/list-replies.ts";
import { unseenDrifts } from "./drifts.ts";
import { heldCompanies } from "./own-touches.ts";
import { personById } from "./person.ts";
import type { TodoItem } from "./todo-item.ts";
import {
  draftsWaiting,
  heldPeople,
  mailboxTrouble,
  meetingsToday,
  nothingAhead,
  ownTouchesDue,
  reminderItem,
  remindersDue,
  seenLately,
  stoppedConnections,
  touchItem,
  warmPeople,
} from "./what-waits.ts";

export interface TodoList {
  items: TodoItem[];
  /** Things beyond those in the list. */
  more: number;
  /** Of everything that waits, whatever is chosen: how much is of which group. */
  groups: Record<TodoGroup, number>;
  only: TodoGroup | null;
}

const seenOf = ({ opens, clicks, visits, files, watched }: SeenLately): SeenLately => ({
  opens,
  clicks,
  visits,
  files,
  watched,
});

/** At first, and once the rest is asked for. */
const SHOWN = 60;
const MOST_SHOWN = 400;

/** `only`: one group of it. `all`: not only the first of it. */
export function todoList(
  app: App,
  user: User,
  { only = null, all = false }: { only?: TodoGroup | null; all?: boolean } = {},
): TodoList {
  const { db, clock } = app;
  const now = clock.now();
  const touches = ownTouchesDue(db, user, now);
  const reminders = remindersDue(db, user, now);
  const seen = seenLately(db, now);
  const entries: (Todo & { make: (place: Place) => TodoItem | null; key: string })[] = [];
  const add = (key: string, todo: Todo, make: (place: Place) => TodoItem | null) =>
    entries.push({ ...todo, key, make });

  const readings = unreadByReading(app, whose(user));
  const unread = readings.reduce((sum, { count }) => sum + count, 0);
  if (unread > 0) {
    const of = (label: string) => readings.find((each) => each.label === label)?.count ?? 0;
    const dueAt = oldestUnread(app, whose(user)) ?? now;
    add(
      "replies",
      { kind: "replies", dueAt, people: unread, interested: of("interested"), questions: of("question") },
      (place) => ({
        key: "replies",
        place,
        dueAt,
        kind: "replies",
        count: unread,
        readings,
      }),
    );
  }
  for (const touch of touches) {
    const kind: TodoKind = touch.step === "call" ? "call" : touch.step === "errand" ? "errand" : "social";
    const done = seen.get(touch.prospectId);
    add(
      `touch:${touch.id}`,
      {
        kind,
        dueAt: touch.dueAt,
        people: 1,
        ...(kind === "call" ? { hourThere: touch.zone === null ? null : hourOf(now, touch.zone) } : {}),
        ...(done ? { seen: seenOf(done) } : {}),
      },
      (place) => touchItem(app, touch.id, kind as "call" | "social" | "errand", place),
    );
  }
  for (const reminder of reminders)
    add(
      `reminder:${reminder.id}`,
      { kind: reminder.kind === "reminder" ? "reminder" : reminder.kind, dueAt: reminder.dueAt, people: 1 },
      (place) => reminderItem(db, reminder.id, place),
    );
  const drafts = draftsWaiting(db, user);
  if (drafts.count > 0)
    add("drafts", { kind: "drafts", dueAt: drafts.dueAt ?? now, people: drafts.count }, (place) => ({
      key: "drafts",
      place,
      dueAt: drafts.dueAt ?? now,
      kind: "drafts",
      count: drafts.count,
      behind: drafts.behind,
    }));
  for (const meeting of meetingsToday(db, user, now))
    add(
      `meeting:${meeting.token}`,
      {
        kind: meeting.kind,
        dueAt: meeting.kind === "meeting" ? now : meeting.endsAt,
        people: 1,
        startsAt: meeting.startsAt,
      },
      (place) => ({
        key: `meeting:${meeting.token}`,
        place,
        dueAt: meeting.startsAt,
        kind: meeting.kind,
        token: meeting.token,
        person: meeting.prospectId === null ? null : personById(db, meeting.prospectId),
        name: meeting.name,
        startsAt: meeting.startsAt,
        phone: meeting.phone,
        where: meeting.place,
        attendance: meeting.attendance,
      }),
    );
  for (const each of warmPeople(db, user, now, seen)) {
    const { prospectId, at } = each;
    add(`warm:${prospectId}`, { kind: "warm", dueAt: at, people: 1, seen: seenOf(each) }, (place) => {
      const person = personById(db, prospectId);
      return person && { key: `warm:${prospectId}`, place, dueAt: at, kind: "warm", person, ...seenOf(each) };
    });
  }
  for (const hold of heldPeople(db, user))
    add(
      `hold:${hold.sequenceId}:${hold.reason}:${hold.detail}`,
      { kind: hold.reason === "merge_field_empty" ? "field" : "hold", dueAt: now, people: hold.people },
      (place) => {
        const key = `hold:${hold.sequenceId}:${hold.reason}:${hold.detail}`;
        const first = hold.reason === "merge_field_empty" ? personById(db, hold.prospectId) : null;
        return first && hold.detail
          ? {
              key,
              place,
              dueAt: now,
              kind: "field",
              field: hold.detail,
              sequenceName: hold.sequenceName,
              people: hold.people,
              first,
            }
          : { key, place, dueAt: now, ...hold, kind: "hold" };
      },
    );
  for (const company of heldCompanies(app, user))
    add(
      `company:${company.companyId}`,
      { kind: "company", dueAt: now, people: company.waiting },
      (place) => ({
        key: `company:${company.companyId}`,
        place,
        dueAt: now,
        kind: "company",
        company,
      }),
    );
  for (const mailbox of mailboxTrouble(db, user))
    add(`mailbox:${mailbox.mailboxId}`, { kind: "mailbox", dueAt: now, people: mailbox.people }, (place) => ({
      key: `mailbox:${mailbox.mailboxId}`,
      place,
      dueAt: now,
      kind: "mailbox",
      ...mailbox,
    }));
  for (const { path, ...connection } of stoppedConnections(db, user))
    add(path, { kind: "connection", dueAt: now, people: 0 }, (place) => ({
      ...{ key: path, place, dueAt: now, kind: "connection", path },
      ...connection,
    }));
  for (const drift of unseenDrifts(app, user)) {
    const key = `drift:${drift.mailboxId}:${drift.of}:${drift.since}`;
    add(key, { kind: "drift", dueAt: now, people: 0 }, (place) => ({
      ...{ key, place, dueAt: now, kind: "drift" },
      ...drift,
    }));
  }
  const forgotten = nothingAhead(db, user, now);
  if (forgotten.total > 0)
    add("next-step", { kind: "next_step", dueAt: now, people: forgotten.total }, (place) => ({
      key: "next-step",
      place,
      dueAt: now,
      kind: "next_step",
      reminderId: null,
      ...forgotten,
    }));

  const groups = Object.fromEntries(TODO_GROUPS.map((group) => [group, 0])) as Record<TodoGroup, number>;
  for (const { kind } of entries) groups[GROUP_OF[kind]]++;
  // What was chosen may be done by now: then everything is shown.
  const chosen = only !== null && groups[only] > 0 ? only : null;
  const ordered = orderTodos(
    entries.filter(({ kind }) => chosen === null || GROUP_OF[kind] === chosen),
    now,
  );
  const most = all ? MOST_SHOWN : SHOWN;
  return {
    items: ordered.slice(0, most).flatMap(({ make, place }) => make(place) ?? []),
    more: Math.max(0, ordered.length - most),
    groups,
    only: chosen,
  };
}
