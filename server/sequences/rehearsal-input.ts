/** What a rehearsal is made from: the list, the mailboxes and the rates seen so far. Small enough to be sent to a browser. */
import type { Calendar, DayNumber } from "../../core/calendar.ts";
import { mayNotGoFor } from "../../core/sending/may-go.ts";
import type { Sender } from "../../core/sending/sender.ts";
import type { Rates, RehearsedPerson } from "../../core/sequence/rehearse.ts";
import { STANDINGS, type Standing } from "../../core/sequence/standing.ts";
import type { App } from "../app.ts";
import { allMailboxes, senderOf } from "../db/mailboxes.ts";
import { sql } from "../db/open.ts";
import type { Sequence } from "../db/sequences.ts";
import { standingCounts, standingSql } from "./start-check.ts";
import { calendarFor } from "./walk.ts";

export interface RehearsalMaterial {
  now: number;
  /** Calendars as plain data: holidays as a list. */
  calendars: (Omit<Calendar, "holidays"> & { holidays: DayNumber[] })[];
  people: RehearsedPerson[];
  /** Of the list, who could not be written to as things are, by what is against it. */
  others: { standing: Standing; count: number }[];
  mailboxes: Sender[];
  /** As seen in this workspace so far, or usual ones where too little was seen. */
  rates: Rates;
  seenEmails: number;
}

/** Where nothing was seen: what cold email to strangers usually brings, on the low side. */
const USUAL: Rates = { reply: 0.02, open: 0.35, click: 0.03, meeting: 0.25, accept: 0.3 };
/** From fewer emails no rate is told. */
const ENOUGH = 100;

const MOST = 100_000;

export function rehearsalMaterial(app: App, sequence: Sequence): RehearsalMaterial {
  const { db, clock } = app;
  const now = clock.now();
  const calendars: RehearsalMaterial["calendars"] = [];
  const known = new Map<Calendar, number>();
  const { standing, values } = standingSql("preview", sequence, now);
  const people = sql(
    db,
    `SELECT * FROM (SELECT p.time_zone AS zone, p.country, p.email IS NOT NULL AS hasAddress, p.profile != '' AS hasProfile,
       ${standing} AS standing FROM list_prospects lp JOIN prospects p ON p.id = lp.prospect_id AND p.live = 1
       WHERE lp.list_id = @listId) WHERE standing = 'ready' LIMIT ${MOST}`,
  ).all<{ zone: string | null; country: string; hasAddress: 0 | 1; hasProfile: 0 | 1 }>({
    ...values,
    listId: sequence.listId,
  });
  const counts = standingCounts(app, sequence);
  const rehearsed = people.map(({ zone, country, hasAddress, hasProfile }): RehearsedPerson => {
    const calendar = calendarFor(sequence, zone, country, now);
    let index = known.get(calendar);
    if (index === undefined) {
      index = calendars.length;
      known.set(calendar, index);
      calendars.push({ ...calendar, holidays: [...calendar.holidays] });
    }
    return { calendar: index, hasAddress: hasAddress === 1, hasProfile: hasProfile === 1 };
  });
  const mailboxes = allMailboxes(db)
    .filter(
      (mailbox) =>
        sequence.mailboxIds.includes(mailbox.id) &&
        mayNotGoFor("plan", ["mailbox"], { mailbox }, now) === null,
    )
    .map((mailbox) => senderOf(db, mailbox, now));
  const seen = sql(
    db,
    `SELECT (SELECT count(*) FROM events WHERE kind = 'email_sent') AS sent,
       (SELECT count(DISTINCT journey_id) FROM events WHERE kind = 'replied') AS replied,
       (SELECT count(DISTINCT touch_id) FROM events WHERE kind = 'opened') AS opened,
       (SELECT count(DISTINCT touch_id) FROM events WHERE kind = 'clicked') AS clicked,
       (SELECT count(DISTINCT prospect_id) FROM events WHERE kind = 'booked') AS booked`,
  ).get<{ sent: number; replied: number; opened: number; clicked: number; booked: number }>([]) ?? {
    sent: 0,
    replied: 0,
    opened: 0,
    clicked: 0,
    booked: 0,
  };
  const { sent, replied, opened, clicked, booked } = seen;
  const isEnough = sent >= ENOUGH;
  const rate = (hits: number, usual: number) => (isEnough && hits > 0 ? hits / sent : usual);
  return {
    now,
    calendars,
    people: rehearsed,
    others: STANDINGS.filter((each) => each !== "ready" && counts[each] > 0).map((each) => ({
      standing: each,
      count: counts[each],
    })),
    mailboxes,
    rates: {
      reply: rate(replied, USUAL.reply),
      open: rate(opened, USUAL.open),
      click: rate(clicked, USUAL.click),
      meeting: isEnough && replied > 0 ? Math.min(1, booked / replied) : USUAL.meeting,
      accept: USUAL.accept,
    },
    seenEmails: isEnough ? sent : 0,
  };
}
