/**
 * The demo's two finished seasons, with true differences in how people behave: a wording that is better, a kind of job that
 * answers more, a good hour, a step that nobody answers, a mailbox that loses its name. They are recorded once, by the real
 * engine on a simulated clock (`npm run demo:seasons`), and shipped as the database that a team would have from before.
 */
import { DAY, HOUR, weekdayOf } from "../core/calendar.ts";
import { seeded } from "../core/random.ts";
import type { User } from "../server/accounts/session.ts";
import type { App } from "../server/app.ts";
import { sql } from "../server/db/open.ts";
import { advance } from "../server/engine/advance.ts";
import { Engine } from "../server/engine/tick.ts";
import { unwatched } from "../server/jobs/report.ts";
import { verifyAddresses } from "../server/prospects/addresses/verify-addresses.ts";
import { importProspects } from "../server/prospects/imports/import-prospects.ts";
import { saveProspect } from "../server/prospects/people/save-prospect.ts";
import { answerReply } from "../server/replies/answer-reply.ts";
import { labelReply } from "../server/replies/label-reply.ts";
import { archiveSequence } from "../server/sequences/keep-sequences.ts";
import { startSequence } from "../server/sequences/start-sequence.ts";
import { endTouch } from "../server/today/end-touch.ts";
import { ownTouches } from "../server/today/own-touches.ts";
import { endReminder } from "../server/today/reminders.ts";
import { addSequence, letColleaguesGo, noteMeetings, tell } from "./make-world.ts";
import { type DemoPerson, peopleAsCsv } from "./people.ts";
import { ANSWERS, email, MAILBOXES, SEED, touch } from "./scenario.ts";
import { inventSeasonPeople, KEEN_TITLE } from "./season-people.ts";
import { value } from "./value.ts";

export const SEASONS_BEGIN = "2026-01-12T07:00:00+00:00";
/** Calls to the last of them are over by then, and the mailboxes have rested. */
export const SEASONS_END = "2026-05-16T18:00:00+01:00";

/** Servers think little of this mailbox from then on. */
export const FALLING = {
  sender: "marta@quillwater-note.example",
  since: Date.parse("2026-04-20T07:00:00+01:00"),
};

const BETTER = "a logger for a week";
const SILENT = "our brochure";

const ANSWERS_AT = 0.036;
const leaningOf = ({ title }: DemoPerson) => ({
  answers: ANSWERS_AT * (title === KEEN_TITLE ? 2.1 : 0.75),
  words: [
    { holds: BETTER, times: 3.2 },
    { holds: SILENT, times: 0 },
  ],
  hours: { from: 8, to: 10, times: 3 },
});

/** A season goes on for weeks. */
export const SEASON_LIMIT = 14;
const HOURS = { opens: "08:00", closes: "17:30" };
const mailboxes = MAILBOXES.map(({ address }) => address);

const opening = (season: string, plain: string) =>
  email("opening", "Opening", 0, `Damp at {{ company }}`, "", {
    variants: [
      {
        id: "a",
        weight: 1,
        subject: "Damp at {{ company }}",
        body: `Dear {{ first_name }},

${plain}

Is that a matter you look after at {{ company }}?`,
      },
      {
        id: "b",
        weight: 1,
        subject: `A week of readings, ${season}`,
        body: `Dear {{ first_name }},

may I send you ${BETTER}? You put it where it is dampest, and send it back with its sheet.

Most houses like {{ company }} find one surprise on it.`,
      },
    ],
  });

const path = (season: string, plain: string) => [
  opening(season, plain),
  email(
    "number",
    "One number",
    3,
    "",
    `Dear {{ first_name }},

one number I left out: of the rooms we measured this winter, one in three was ten points damper than its owner thought.

Any half-hour suits me: {{ booking_link }}`,
  ),
  email(
    "brochure",
    "The brochure",
    3,
    "",
    `Dear {{ first_name }},

here is ${SILENT}, with all models and their certificates.`,
  ),
  touch("ring", "call", "Ring once", 2, 2, "Where is it dampest? Who writes down what the meter says?"),
  email(
    "close",
    "Close the file",
    3,
    "Shall I close this?",
    `Dear {{ first_name }},

I have not heard from you, so I take it that all is dry at {{ company }}. Should that change: {{ booking_link }}`,
  ),
];

const SEASONS = [
  {
    name: "Winter cellars",
    list: "Cellars and dairies, winter",
    at: "2026-01-12T07:30:00+00:00",
    path: path(
      "this winter",
      "most cellars are measured at the door, and never at the wall behind the racks.",
    ),
  },
  {
    name: "Spring rounds",
    list: "Cellars and dairies, spring",
    at: "2026-03-23T07:30:00+00:00",
    path: path(
      "this spring",
      "in spring the walls of a store still hold the winter's damp when the air is dry again.",
    ),
  },
] as const;

/** `user`: whose seasons they were. The team and its mailboxes are there. */
export async function recordSeasons(
  app: App,
  user: User,
  mailboxIds: Map<string, number>,
  report: (words: string) => void,
): Promise<void> {
  const people = inventSeasonPeople(SEED);
  await tell(app, "/disfavour", FALLING);
  for (const [nth, { list }] of SEASONS.entries()) {
    const own = people.filter((_, index) => index % SEASONS.length === nth);
    await tell(
      app,
      "/people",
      own.map((person) => ({
        address: person.email,
        firstName: person.firstName,
        lastName: person.lastName,
        zone: person.zone,
        gone: seeded("gone", person.email)() < 0.012,
        leaning: leaningOf(person),
      })),
    );
    value(
      await importProspects(app, user.id, {
        name: `${list.toLowerCase().replace(/[^a-z]+/g, "-")}.csv`,
        bytes: new TextEncoder().encode(peopleAsCsv(own)),
        listName: list,
      }),
    );
  }
  await verifyAddresses(app, {}, unwatched);
  const sequences = SEASONS.map((season) => ({
    id: addSequence(app, user.id, { ...season, mailboxes, hours: HOURS }, mailboxIds),
    at: Date.parse(season.at),
  }));
  const engine = new Engine(app);
  const until = (at: number) => advance(engine, { id: 0, kind: "until", until: at }, () => true, false);
  for (let at = Date.parse(SEASONS_BEGIN); at < Date.parse(SEASONS_END); at += DAY) {
    for (const sequence of sequences)
      if (sequence.at >= at && sequence.at < at + DAY) {
        await until(sequence.at);
        value(startSequence(app, user.id, sequence.id));
      }
    const evening = at + 10.5 * HOUR;
    await until(evening);
    if (weekdayOf(evening, user.zone) <= 5) endOfDay(app, user, evening);
    report(`${new Date(evening).toUTCString().slice(0, 16)} has passed`);
  }
  await until(Date.parse(SEASONS_END));
  await engine.close();
  closeBooks(app, user);
  for (const { id } of sequences) value(archiveSequence(app, user.id, id, true));
}

/** Letters read and answered, calls made, meetings noted. */
function endOfDay(app: App, user: User, at: number): void {
  const unread = sql(
    app.db,
    `SELECT id, reading ->> '$.label' AS label FROM replies
     WHERE read_at IS NULL AND kind IN ('person', 'left') AND reading IS NOT NULL ORDER BY id`,
  ).all<{ id: number; label: string }>([]);
  for (const { id, label } of unread) {
    labelReply(app, user.id, { replyId: id, label });
    if (label === "interested" || label === "question")
      answerReply(app, user, { replyId: id, text: ANSWERS[id % ANSWERS.length], key: `season-${id}` });
  }
  for (let { shown } = ownTouches(app, user); shown.length > 0; { shown } = ownTouches(app, user))
    for (const { id, kind } of shown)
      value(
        endTouch(
          app,
          user,
          {
            id,
            ...(kind === "call" ? { outcome: seeded("rings", id)() < 0.12 ? "reached" : "voicemail" } : {}),
          },
          "done",
        ),
      );
  noteMeetings(app, user, at);
  letColleaguesGo(app, at);
}

/** What became of those who talked: nothing of it waits for anybody any more. */
function closeBooks(app: App, user: User): void {
  const open = sql(
    app.db,
    "SELECT id, stage FROM prospects WHERE stage IN ('in_conversation', 'meeting_booked') AND live = 1",
  ).all<{ id: number; stage: string }>([]);
  for (const { id, stage } of open) {
    const isWon = seeded("won", id)() < (stage === "meeting_booked" ? 0.35 : 0.08);
    value(saveProspect(app, user.id, { id, stage: isWon ? "won" : "lost" }));
  }
  const reminders = sql(app.db, "SELECT id FROM reminders WHERE ended_at IS NULL").all<{ id: number }>([]);
  for (const { id } of reminders) value(endReminder(app, user, id, "done"));
}
