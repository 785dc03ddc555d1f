/**
 * Makes the demo's world: sets up what the team has set up, then lets three weeks pass on the
 * simulated clock, with the real engine against the stand-ins. Nothing of its history is inserted.
 */

import { DAY, dayOf } from "../core/calendar.ts";
import { USUAL_WORDS } from "../core/connections/channel-words.ts";
import { USUAL_SETTINGS } from "../core/crm/settings.ts";
import { seeded } from "../core/random.ts";
import { RULE_EXAMPLES } from "../core/rules/shelf.ts";
import { saveCompany } from "../server/accounts/company.ts";
import { createUser } from "../server/accounts/create-user.ts";
import type { User } from "../server/accounts/session.ts";
import { share } from "../server/accounts/share.ts";
import type { App } from "../server/app.ts";
import { setDemoClock } from "../server/clock.ts";
import { CrmCarrier } from "../server/crm/carry.ts";
import { connectCrm, saveCrm, switchCrm, tryCrm } from "../server/crm/crm.ts";
import { listIdOf } from "../server/db/lists.ts";
import { sql } from "../server/db/open.ts";
import { advance, moveStandin } from "../server/engine/advance.ts";
import { Engine } from "../server/engine/tick.ts";
import { unwatched } from "../server/jobs/report.ts";
import { noteMeeting } from "../server/meetings/book-meeting.ts";
import { verifyAddresses } from "../server/prospects/addresses/verify-addresses.ts";
import { applyBlocks } from "../server/prospects/block-list/block-list.ts";
import { saveFilter } from "../server/prospects/filters/filters.ts";
import { importProspects } from "../server/prospects/imports/import-prospects.ts";
import { describeProfile, saveProfile } from "../server/prospects/searches/profiles.ts";
import { foundPeople, keepFound } from "../server/prospects/searches/review-search.ts";
import { runSearch, startSearch } from "../server/prospects/searches/search.ts";
import { answerReply } from "../server/replies/answer-reply.ts";
import { labelReply } from "../server/replies/label-reply.ts";
import { saveRule, switchRule } from "../server/rules/rules.ts";
import { checkDomain, uncheckedDomains } from "../server/sending/domains/check-domains.ts";
import { saveMailbox } from "../server/sending/mailboxes/save-mailbox.ts";
import { saveSendingSettings } from "../server/sending/rules.ts";
import { createSequence } from "../server/sequences/create-sequence.ts";
import { saveSequence } from "../server/sequences/save-sequence.ts";
import { startSequence } from "../server/sequences/start-sequence.ts";
import { connectAccount } from "../server/social/accounts.ts";
import { approveDrafts } from "../server/today/drafts.ts";
import { endTouch } from "../server/today/end-touch.ts";
import { markAccepted } from "../server/today/mark-accepted.ts";
import { draftsToApprove, ownTouches } from "../server/today/own-touches.ts";
import { releaseCompany } from "../server/today/release-company.ts";
import { endReminder, remindMe } from "../server/today/reminders.ts";
import { makeWebhook } from "../server/webhooks/webhooks.ts";
import { LEDGER_DEALS, LEDGER_TOKEN, type LedgerPerson, ledgerThings } from "./ledger.ts";
import { makePages } from "./pages.ts";
import { inventPeople, peopleAsCsv } from "./people.ts";
import type { Ports } from "./ports.ts";
import { workOutColumns } from "./research.ts";
import {
  ANSWERS,
  BEGINS_AT,
  BLOCK_ZONE,
  BLOCKED,
  CARDS_CSV,
  DEMO_PASSWORD,
  type DemoSequence,
  DRAFT,
  MAILBOXES,
  NEW_MAILBOX,
  OPENED_SILENT,
  OPENS_AT,
  PROFILE,
  SEED,
  SEQUENCES,
  SIGNATURE,
  SOCIAL_TOKEN,
  USERS,
} from "./scenario.ts";
import { value } from "./value.ts";

export async function tell(app: App, path: string, body: unknown): Promise<void> {
  const answer = await fetch(app.config.standin + path, { method: "POST", body: JSON.stringify(body) });
  if (!answer.ok) throw new Error(await answer.text());
}

/** Fills an empty database. The web server must run, since recipients open, click and book. */
export async function makeWorld(app: App, ports: Ports, report: (words: string) => void): Promise<void> {
  // A world that is thrown away if its making is cut short need not wait for the disk.
  app.db.pragma("synchronous = OFF");
  const begins = Date.parse(BEGINS_AT);
  const opens = Date.parse(OPENS_AT);
  const { users, mailboxIds } = await setUpTeam(app, ports, begins);
  const marta = users[0] as number;
  const rep = martaOf(users);
  await connectNetwork(app, rep);
  await addPeople(app, marta);
  const starts = SEQUENCES.map((sequence) => ({
    id: addSequence(app, marta, sequence, mailboxIds),
    at: Date.parse(sequence.startsAt ?? OPENS_AT),
  }));

  const engine = new Engine(app);
  const evenings = Array.from({ length: 30 }, (_, day) => begins + day * DAY + 10.5 * 3_600_000);
  const stations = [
    ...starts.map(({ id, at }) => ({ at, act: () => void value(startSequence(app, marta, id)) })),
    ...evenings
      .filter((at) => at < opens - DAY)
      .map((at) => ({
        at,
        act: () => {
          // Those since Thursday evening wait for whoever opens the demo.
          if (at < opens - 4 * DAY) workThroughReplies(app, rep, at);
          workThroughTouches(app, rep, at);
          noteMeetings(app, rep, at);
        },
      })),
    { at: opens - 14 * DAY, act: () => writeRules(app, marta, users[2] as number) },
    { at: opens - 5 * DAY, act: () => connectReceiver(app, marta, ports) },
    { at: opens - 4 * DAY, act: () => connectLedger(app, users[2] as number, ports) },
    { at: opens, act: () => {} },
  ].sort((a, b) => a.at - b.at);
  for (const { at, act } of stations) {
    await advance(engine, { id: 0, kind: "until", until: at }, () => true, false);
    await act();
    report(`${new Date(at).toUTCString().slice(0, 16)} has passed`);
  }
  await stepWithLedger(app);
  await buildLists(app, users as [number, number]);
  addSequence(app, marta, DRAFT, mailboxIds);
  await makePages(app, marta, (path) =>
    addSequence(app, marta, { ...DRAFT, name: "On film", path }, mailboxIds),
  );
  for (const domain of uncheckedDomains(app)) await checkDomain(app, domain);
  await engine.tick();
  await engine.close();
  // What she was told of in the weeks before, she has seen.
  sql(app.db, "UPDATE notices SET seen_at = at WHERE at < @from").run({
    from: opens - DAY / 2,
  });
}

/** The team and its mailboxes, at an instant; where the seasons before are there, both have a new place only. `limit`: of every mailbox a day. */
export async function setUpTeam(
  app: App,
  ports: Ports,
  at: number,
  limit?: number,
): Promise<{ users: number[]; mailboxIds: Map<string, number> }> {
  setDemoClock(app.db, at, false);
  await moveStandin(app, at, false);
  let users = sql(app.db, "SELECT id FROM users ORDER BY id")
    .all<{ id: number }>([])
    .map(({ id }) => id);
  if (users.length === 0) {
    users = [];
    for (const user of USERS) users.push(value(await createUser(app, { ...user, password: DEMO_PASSWORD })));
    value(saveCompany(app, null, { name: "Quillwater", country: "PT" }));
    value(saveSendingSettings(app, null, { blockZones: [BLOCK_ZONE] }));
  }
  return { users, mailboxIds: await addMailboxes(app, martaOf(users), ports, limit) };
}

export function martaOf(users: readonly number[]): User {
  const [marta] = USERS;
  return { ...marta, id: users[0] as number, bookingSlug: "" };
}

async function addMailboxes(
  app: App,
  user: User,
  ports: Ports,
  limit?: number,
): Promise<Map<string, number>> {
  const ids = new Map<string, number>();
  await tell(app, "/mailboxes", { address: NEW_MAILBOX, password: DEMO_PASSWORD, imapPort: ports.newImap });
  for (const [index, { address, dailyLimit, rampStart, rampStep, pools = "" }] of MAILBOXES.entries()) {
    const imapPort = ports.imap + index;
    await tell(app, "/mailboxes", { address, password: DEMO_PASSWORD, imapPort });
    const known = sql(app.db, "SELECT id FROM mailboxes WHERE address = @address").get<{ id: number }>({
      address,
    });
    const saved = saveMailbox(app, user, {
      ...(known && { id: known.id }),
      address,
      senderName: "Marta Quintela",
      signature: SIGNATURE,
      smtpHost: "127.0.0.1",
      smtpPort: ports.smtp,
      smtpSecurity: "none",
      imapHost: "127.0.0.1",
      imapPort,
      imapSecurity: "none",
      username: address,
      password: DEMO_PASSWORD,
      ...(limit === undefined ? { dailyLimit, rampStart, rampStep } : { dailyLimit: limit }),
      pools,
      gapLeast: 9,
      gapMost: 14,
    });
    ids.set(address, value(saved));
  }
  return ids;
}

/** The planning desk's program and the team's chat are told of whoever wants to talk; they hear the last days once everything runs. */
function connectReceiver(app: App, marta: number, { receiver }: Ports): void {
  const at = `http://127.0.0.1:${receiver}`;
  const news = ["reply.labelled", "meeting.booked", "meeting.cancelled"];
  value(
    makeWebhook(app, marta, {
      ...{ name: "Planning desk", url: `${at}/hooks/planning` },
      kinds: [...news, "prospect.stage_changed", "mailbox.rests"],
    }),
  );
  value(
    makeWebhook(app, marta, {
      ...{ name: "Loans chat", url: `${at}/channel/loans`, kinds: news },
      channel: { words: USUAL_WORDS, quietFrom: "20:00", quietUntil: "07:30" },
    }),
  );
}

/** Forty people of theirs are known to the CRM of the sales team, each with a deal; Helga keeps both sides in step. */
async function connectLedger(app: App, manager: number, { crm }: Ports): Promise<void> {
  const url = `http://127.0.0.1:${crm}`;
  const people = sql(
    app.db,
    `SELECT p.email, p.first_name AS first, p.last_name AS last, p.title, p.city, p.country, p.stage, p.company, c.domain
     FROM prospects p JOIN companies c ON c.id = p.company_id
     WHERE p.first_name != '' AND p.title != '' AND p.id IN (
       SELECT * FROM (SELECT id FROM prospects WHERE live = 1 AND stage NOT IN ('new', 'contacted', 'lost') ORDER BY id DESC LIMIT 20)
       UNION SELECT * FROM (SELECT prospect_id FROM journeys WHERE state = 'active' AND next_at IS NOT NULL ORDER BY next_at, id LIMIT 60))
     ORDER BY p.stage IN ('new', 'contacted'), p.id LIMIT ${LEDGER_DEALS}`,
  ).all<LedgerPerson>([]);
  const seeded = await fetch(`${url}/seed`, {
    method: "POST",
    body: JSON.stringify({ refreshToken: LEDGER_TOKEN, things: ledgerThings(people) }),
  });
  const [view, firstStage] = ((await seeded.json()) as { ids: string[] }).ids;
  value(await connectCrm(app, manager, { name: "Ledgerhouse", url, key: LEDGER_TOKEN }));
  value(
    saveCrm(app, manager, {
      ...USUAL_SETTINGS,
      view,
      fields: USUAL_SETTINGS.fields.map((each) => (each.field === "title" ? { ...each, wins: "ask" } : each)),
      deals: { at: "booked", name: "{{company}}", stage: firstStage },
    }),
  );
  value(tryCrm(app, manager));
  await stepWithLedger(app);
  value(switchCrm(app, manager, true));
  await stepWithLedger(app);
}

/** As the worker would, until there is nothing to do. */
async function stepWithLedger(app: App): Promise<void> {
  const carrier = new CrmCarrier(app, (error) => {
    throw error;
  });
  carrier.look();
  await carrier.rest();
}

/** Two of Marta's: her manager hears of every yes, and who is won is left in peace. */
function writeRules(app: App, marta: number, manager: number): void {
  const won = RULE_EXAMPLES.find(({ rule }) => rule.when.kind === "stage");
  const rules = [
    {
      name: "Helga hears of every yes",
      rule: {
        when: { kind: "label", label: "interested" },
        isOnce: true,
        steps: [
          {
            after: { kind: "now" },
            act: {
              kind: "notify",
              userId: manager,
              text: "{{first_name}} {{last_name}} of {{company}} wants to talk.",
            },
          },
        ],
      },
    },
    { name: won?.name, rule: won?.rule },
  ];
  for (const each of rules) value(switchRule(app, marta, value(saveRule(app, marta, null, each)), true));
}

/** Marta's account of the social network: connected, and used by no sequence yet. */
async function connectNetwork(app: App, user: User): Promise<void> {
  const url = app.config.socialStandin;
  if (url === null) return;
  const account = { token: SOCIAL_TOKEN, name: "Marta Quintela" };
  await fetch(`${url}/accounts`, { method: "POST", body: JSON.stringify(account) });
  value(await connectAccount(app, user, { url, token: SOCIAL_TOKEN }));
}

async function addPeople(app: App, userId: number): Promise<void> {
  const people = inventPeople(SEED);
  for (const { list, countries, gone } of SEQUENCES) {
    const own = people.filter(({ country }) => countries.includes(country));
    // Spread over the list, so that they are not met all in one morning.
    const every = Math.floor(own.length / (gone + 1));
    await tell(
      app,
      "/people",
      own.map(({ email, firstName, lastName, zone }, index) => ({
        address: email,
        firstName,
        lastName,
        zone,
        gone: index % every === every - 1 && index < every * gone,
      })),
    );
    value(
      await importProspects(app, userId, {
        name: `${list.toLowerCase().replace(/[^a-z]+/g, "-")}.csv`,
        bytes: new TextEncoder().encode(peopleAsCsv(own)),
        listName: list,
      }),
    );
  }
  await verifyAddresses(app, {}, unwatched);
}

/** Calls that took place, and the thanks that she wrote for them. */
export function noteMeetings(app: App, marta: User, at: number): void {
  const over = sql(
    app.db,
    "SELECT token FROM meetings WHERE ends_at < @at AND held_at IS NULL AND cancelled_at IS NULL",
  ).all<{ token: string }>({ at });
  for (const { token } of over) noteMeeting(app, marta.id, { token, how: "held" });
  for (const { id } of sql(
    app.db,
    "SELECT id FROM reminders WHERE kind = 'thanks' AND ended_at IS NULL",
  ).all<{ id: number }>([]))
    endReminder(app, marta, id, "done");
}

/** What the reps have at hand on the morning: a search of the directory half worked through, and a pile of cards. */
async function buildLists(app: App, [marta, rui]: [number, number]): Promise<void> {
  const definition = value(await describeProfile(app, PROFILE.description));
  const profileId = value(saveProfile(app, marta, { id: null, ...PROFILE, definition }));
  const searchId = value(startSearch(app, marta, profileId));
  await runSearch(app, searchId, unwatched);
  const found = foundPeople(app, null, searchId, "fits", 0);
  value(keepFound(app, marta, { searchId, listName: PROFILE.name, ids: found.map(({ id }) => id) }));
  value(
    await importProspects(app, rui, {
      name: "cards-from-the-fair.csv",
      bytes: new TextEncoder().encode(CARDS_CSV),
      listName: "Cards from the fair",
    }),
  );
  // They met these people together.
  const cards = listIdOf(app.db, "Cards from the fair");
  value(share(app, rui, { kind: "list", id: cards, sharing: "change" }));
  value(applyBlocks(app, marta, { text: BLOCKED.join("\n"), mode: "append", note: "customers already" }));
  value(saveFilter(app, marta, { name: "Opened, never replied", definition: JSON.stringify(OPENED_SILENT) }));
  await workOutColumns(app, marta);
  // What these left for the worker is done before the rep looks.
  await verifyAddresses(app, {}, unwatched);
  app.db.exec("UPDATE jobs SET state = 'done' WHERE state = 'waiting' AND not_before = 0");
}

export function addSequence(
  app: App,
  userId: number,
  sequence: Pick<DemoSequence, "name" | "list" | "mailboxes" | "hours" | "path">,
  mailboxIds: Map<string, number>,
): number {
  const id = value(createSequence(app, userId, { name: sequence.name }));
  const list = sql(app.db, "SELECT id FROM lists WHERE name = @name").get<{ id: number }>({
    name: sequence.list,
  });
  value(
    saveSequence(app, {
      id,
      name: sequence.name,
      listId: list?.id ?? null,
      zone: "Europe/Lisbon",
      days: [1, 2, 3, 4, 5],
      ...sequence.hours,
      settings: { tracksOpens: true, tracksClicks: true },
      mailboxIds: sequence.mailboxes.map((address) => mailboxIds.get(address)),
      path: sequence.path,
    }),
  );
  return id;
}

/** Whose colleague answered some days ago is let go on. */
export function letColleaguesGo(app: App, at: number): void {
  const held = sql(app.db, "SELECT scope_id AS companyId, since FROM holds WHERE scope = 'company'").all<{
    companyId: number;
    since: number;
  }>([]);
  for (const { companyId, since } of held) if (at - since > 2 * DAY) releaseCompany(app, null, companyId);
}

/** Some accept an invitation, a day or two later. */
const SHARE_ACCEPTING = 0.4;

/** What Marta does with her own touches at half past five: all of the day's, as she would, and she says yes to her drafts. */
function workThroughTouches(app: App, marta: User, at: number): void {
  const open = ownTouches(app, marta);
  for (const { id, kind } of open.shown)
    value(
      endTouch(
        app,
        marta,
        { id, ...(kind === "call" ? { outcome: id % 3 === 0 ? "reached" : "voicemail" } : {}) },
        "done",
      ),
    );
  const invited = sql(
    app.db,
    `SELECT prospect_id AS prospectId, ended_at AS endedAt FROM touches t WHERE kind = 'invitation' AND state = 'done'
       AND NOT EXISTS (SELECT 1 FROM events e WHERE e.kind = 'accepted' AND e.prospect_id = t.prospect_id)`,
  ).all<{ prospectId: number; endedAt: number }>([]);
  for (const { prospectId, endedAt } of invited)
    if (
      seeded("accepts", prospectId)() < SHARE_ACCEPTING &&
      at - endedAt > seeded("accepts in", prospectId)() * 2 * DAY
    )
      markAccepted(app, marta, prospectId);
  letColleaguesGo(app, at);
  approveDrafts(
    app,
    marta,
    draftsToApprove(app, marta).shown.map(({ id }) => id),
  );
}

const ANSWERED = new Set(["interested", "question", "not_now"]);

/** What Marta does with the day's replies at half past five: she agrees with what they read as, and answers who waits for it. */
function workThroughReplies(app: App, marta: User, at: number): void {
  const unread = sql(
    app.db,
    `SELECT id, prospect_id AS prospectId, reading ->> '$.label' AS label FROM replies
     WHERE read_at IS NULL AND kind IN ('person', 'left') AND reading IS NOT NULL ORDER BY id`,
  ).all<{ id: number; prospectId: number; label: string }>([]);
  for (const { id, prospectId, label } of unread) {
    labelReply(app, 1, { replyId: id, label });
    // With most who want to talk she plans what comes next; a few slip, as in life.
    if (label === "interested" || label === "question")
      if (seeded("next", id)() < 0.8)
        remindMe(app, marta, {
          prospectId,
          kind: "next_step",
          text: "Ask how the trial goes.",
          day: dayOf(Date.parse(OPENS_AT) + (1 + (id % 12)) * DAY, marta.zone),
        });
    if (ANSWERED.has(label))
      answerReply(
        app,
        { id: 1, zone: "Europe/Lisbon" },
        { replyId: id, text: ANSWERS[id % ANSWERS.length], key: `demo-${at}-${id}` },
      );
  }
}
