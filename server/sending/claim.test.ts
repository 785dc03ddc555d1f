/**
 * What changes between the plan and the claim wins. Each rule that a claim asks has a world in which it alone says no; the
 * compiler asks for one as soon as there is a rule, and each world was sure to send before it was changed.
 */
import { beforeAll, describe, expect, it } from "vitest";
import { DAY, HOUR, MINUTE } from "../../core/calendar.ts";
import type { RuleAt } from "../../core/sending/may-go.ts";
import type { App } from "../app.ts";
import { enterTouch } from "../db/ledger.ts";
import { mailboxById } from "../db/mailboxes.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { openDoors } from "../tests/doors.ts";
import { addPeople, addSequence, addUnasked, createWorld, openCopy, TUESDAY } from "../tests/world.ts";
import { planAhead } from "./plan.ts";
import { saveSendingSettings } from "./rules.ts";
import { sendFrom } from "./send.ts";
import { sendServiceMails } from "./service-mail.ts";

/** Of two people the second: the first began before them. */
const SECOND = 2;
const NOW = TUESDAY + 30 * MINUTE;
let image: Buffer;

beforeAll(async () => {
  const world = await createWorld({ standin: false });
  const id = addSequence(world, addPeople(world, ["ana", "bia"]), [addUnasked(world)]);
  startSequence(world.app, world.userId, id);
  image = world.app.db.serialize();
  await world.close();
});

/** Plans, lets the world change, and sends what was planned. Returns how many emails left. */
async function sentAfter(
  change: (app: App) => void,
  prepare: (app: App) => void = () => {},
): Promise<number> {
  const app = openCopy(image);
  try {
    prepare(app);
    const { touches } = planAhead(app.db, NOW, NOW + DAY);
    const planned = touches.find(({ journeyId }) => journeyId === SECOND);
    if (!planned) throw new Error("nothing is planned");
    change(app);
    const box = openDoors();
    await sendFrom(app, box.doors, 1, [{ ...planned, at: NOW }], NOW);
    return box.sent.length;
  } finally {
    app.close();
  }
}

const run = (text: string) => (app: App) => {
  app.db.exec(text);
};
const settings = (change: object) =>
  run(
    `UPDATE sequences SET settings = json_patch(settings, '${JSON.stringify(change)}'), revision = revision + 1`,
  );

/** An email that the first one got, so long ago. */
const sentBefore =
  (ago: number, change: { prospectId?: number; recipient?: string } = {}) =>
  (app: App): void => {
    enterTouch(app.db, {
      kind: "email",
      journeyId: 1,
      stepId: "one",
      version: 1,
      prospectId: 1,
      mailboxId: 1,
      recipient: "ana@ana-museum.example",
      state: "claimed",
      messageId: "<before@quillwater.example>",
      ...{ inReplyTo: null, references: "", subject: "Before", body: "Before", markup: null },
      ...{ claimedAt: NOW - ago, claimedWall: 0 },
      ...change,
    });
    app.db.exec(`UPDATE touches SET state = 'sent', sent_at = ${NOW - ago}`);
  };
const both =
  (...changes: ((app: App) => void)[]) =>
  (app: App): void => {
    for (const change of changes) change(app);
  };

/** For each rule what happens between the plan and the claim. */
const BETWEEN: Record<RuleAt<"email">, (app: App) => void> = {
  settling:
    run(`INSERT INTO touches (kind, journey_id, step_id, prospect_id, mailbox_id, state, message_id, claimed_at, claimed_wall)
    VALUES ('email', ${SECOND}, 'zero', ${SECOND}, 1, 'claimed', '<x@y>', ${NOW - HOUR}, 1)`),
  undecided:
    run(`INSERT INTO touches (kind, journey_id, step_id, prospect_id, mailbox_id, state, message_id, claimed_at, claimed_wall, undecided_at)
    VALUES ('email', ${SECOND}, 'zero', ${SECOND}, 1, 'claimed', '<x@y>', ${NOW - HOUR}, 1, 1)`),
  blocked: run(
    "INSERT INTO block_list (kind, value, reason, at) VALUES ('domain', 'bia-museum.example', 'added_by_rep', 1)",
  ),
  sequence_paused: run("UPDATE sequences SET state = 'paused', revision = revision + 1"),
  held: run(
    `INSERT INTO holds (scope, scope_id, reason, since) VALUES ('prospect', ${SECOND}, 'away', ${NOW - HOUR})`,
  ),
  likely_reply: run("UPDATE journeys SET wait_reason = 'likely_reply'"),
  text: run("UPDATE journeys SET wait_reason = 'text_broken'"),
  no_address: run("UPDATE prospects SET email = NULL"),
  address_not_good: run(
    "UPDATE sequences SET writes_to = 'likely', revision = revision + 1; UPDATE prospects SET verdict = 'unknown'",
  ),
  draft_open: run(`INSERT INTO touches (kind, journey_id, step_id, prospect_id, mailbox_id, state)
    VALUES ('email', ${SECOND}, 'one', ${SECOND}, 1, 'draft')`),
  first_ones: settings({ approval: "first", approveFirst: 1 }),
  approval: settings({ approval: "all" }),
  no_mailbox: run("UPDATE mailboxes SET removed_at = 1"),
  mailbox_paused: run("UPDATE mailboxes SET state = 'paused'"),
  mailbox_resting: run("UPDATE mailboxes SET state = 'resting', rest_until = NULL"),
  mailbox_stopped: run("UPDATE mailboxes SET smtp_stopped = 1"),
  mailbox_new: run("UPDATE mailboxes SET connected_wall = NULL"),
  mailbox_unread: run("UPDATE mailboxes SET trouble = 'the password is wrong'"),
  mailbox_unreachable: run(
    `UPDATE mailboxes SET smtp_trouble = 'no answer', smtp_retry_at = ${NOW + MINUTE}`,
  ),
  wait_days: run(`UPDATE journeys SET due_at = ${NOW + MINUTE}`),
  touched_lately: both(
    (app) => saveSendingSettings(app, null, { daysBetween: 2 }),
    run(`INSERT INTO touches (kind, journey_id, step_id, prospect_id, state, ended_at)
      VALUES ('call', ${SECOND}, 'zero', ${SECOND}, 'done', ${NOW - DAY})`),
  ),
  outside_hours: run("UPDATE prospects SET time_zone = 'Asia/Tokyo'"),
  own_hours: run(`UPDATE mailboxes SET hours = '{"days":[1,2,3,4,5],"opens":"13:00","closes":"17:00"}'`),
  rest: run(`UPDATE mailboxes SET state = 'resting', rest_until = ${NOW + MINUTE}`),
  daily_limit: both(run("UPDATE mailboxes SET daily_limit = 1"), sentBefore(30 * MINUTE)),
  gap: sentBefore(8 * MINUTE),
  hour_limit: both(run("UPDATE mailboxes SET hourly_limit = 1"), sentBefore(30 * MINUTE)),
  new_a_day: both(settings({ newADay: 1 }), sentBefore(30 * MINUTE)),
  pace: both(settings({ perHour: 1 }), sentBefore(30 * MINUTE)),
  domain_cap: both(
    (app) => saveSendingSettings(app, null, { domainADay: 1 }),
    sentBefore(30 * MINUTE, { recipient: "colleague@bia-museum.example" }),
  ),
};

describe("an email that was planned does not leave once", () => {
  it("nothing happens: it does", async () => {
    expect(await sentAfter(() => {})).toBe(1);
    // What half of the worlds below start from is no hindrance by itself.
    expect(await sentAfter(sentBefore(30 * MINUTE))).toBe(1);
    expect(await sentAfter(run("UPDATE prospects SET verdict = 'unknown'"))).toBe(1);
  });

  for (const [name, change] of Object.entries(BETWEEN))
    it(`${name.replaceAll("_", " ")} came between`, async () => {
      expect(await sentAfter(change)).toBe(0);
    });

  const MORE: Record<string, (app: App) => void> = {
    "it is a holiday there": both(
      settings({ holidays: true }),
      // The tenth of June is Portugal's national day: a look a day later.
      run("UPDATE prospects SET country = 'PT'"),
    ),
    "its address alone is blocked": run(
      "INSERT INTO block_list (kind, value, reason, at) VALUES ('address', 'bia@bia-museum.example', 'bounced', 1)",
    ),
    "the journey stopped": run(
      "UPDATE journeys SET state = 'stopped', stop_reason = 'replied', ended_at = 1",
    ),
    "they stand before another step": run("UPDATE journeys SET place_id = 'two'"),
    "a young mailbox's day is full": both(
      run("UPDATE mailboxes SET ramp_start = 1, ramp_step = 1, ramp_since = 0"),
      sentBefore(30 * MINUTE),
    ),
    "minutes must lie between": both(settings({ minutesBetween: 45 }), sentBefore(30 * MINUTE)),
    "it was sent":
      run(`INSERT INTO touches (kind, journey_id, step_id, prospect_id, mailbox_id, state, message_id, sent_at)
      VALUES ('email', ${SECOND}, 'one', ${SECOND}, 1, 'sent', '<x@y>', ${NOW - DAY})`),
    "a company's other person answered": run(
      `INSERT INTO holds (scope, scope_id, reason, since, cause_prospect_id)
       SELECT 'company', company_id, 'colleague_replied', 1, 1 FROM prospects WHERE id = ${SECOND}`,
    ),
    "the rep paused them": run(
      `INSERT INTO holds (scope, scope_id, reason, since) VALUES ('journey', ${SECOND}, 'paused_by_rep', 1)`,
    ),
  };
  for (const [name, change] of Object.entries(MORE))
    it(name, async () => {
      const isTomorrow = name.includes("holiday");
      expect(isTomorrow ? await sentOnHoliday(change) : await sentAfter(change)).toBe(0);
    });

  async function sentOnHoliday(change: (app: App) => void): Promise<number> {
    const app = openCopy(image);
    const at = NOW + DAY;
    try {
      const planned = { journeyId: SECOND, stepId: "one", senderId: 1, at, followUp: false };
      change(app);
      const box = openDoors();
      await sendFrom(app, box.doors, 1, [planned], at);
      const without = openDoors();
      app.db.exec("UPDATE prospects SET country = ''");
      await sendFrom(app, without.doors, 1, [planned], at);
      return without.sent.length === 1 ? box.sent.length : Number.NaN;
    } finally {
      app.close();
    }
  }
});

describe("an answer that waits in the ledger does not leave once", () => {
  const queue = (app: App) => {
    enterTouch(app.db, {
      kind: "answer",
      ...{ journeyId: null, stepId: null, version: null, prospectId: SECOND, mailboxId: 1 },
      recipient: "bia@bia-museum.example",
      state: "queued",
      messageId: "<answer@quillwater.example>",
      ...{ inReplyTo: null, references: "", subject: "Re: Loans", body: "Gladly", markup: null },
      ...{ claimedAt: null, claimedWall: null, dueAt: NOW, unlessReply: 1 as const },
    });
    app.db.exec("UPDATE touches SET at = 1");
  };
  const answered = async (change: (app: App) => void) => {
    const app = openCopy(image);
    try {
      queue(app);
      change(app);
      const box = openDoors();
      await sendFrom(app, box.doors, 1, [], NOW);
      const { state } = app.db.prepare("SELECT state FROM touches").get() as { state: string };
      return [box.sent.length, state];
    } finally {
      app.close();
    }
  };
  const { no_mailbox, mailbox_stopped, mailbox_unread, mailbox_unreachable, blocked } = BETWEEN;
  const ANSWERS: Record<RuleAt<"answer">, [change: (app: App) => void, becomes: string]> = {
    blocked: [blocked, "refused"],
    no_mailbox: [no_mailbox, "queued"],
    mailbox_stopped: [mailbox_stopped, "queued"],
    mailbox_unread: [mailbox_unread, "queued"],
    mailbox_unreachable: [mailbox_unreachable, "queued"],
    overtaken: [
      run(`INSERT INTO events (at, kind, prospect_id) VALUES (${NOW}, 'booked', ${SECOND})`),
      "refused",
    ],
  };

  it("nothing happens: it does, also from a mailbox that is paused or rests", async () => {
    expect(await answered(() => {})).toEqual([1, "sent"]);
    expect(await answered(BETWEEN.mailbox_paused)).toEqual([1, "sent"]);
    expect(await answered(BETWEEN.mailbox_resting)).toEqual([1, "sent"]);
  });
  for (const [name, [change, becomes]] of Object.entries(ANSWERS))
    it(`${name.replaceAll("_", " ")} came between`, async () => {
      expect(await answered(change)).toEqual([0, becomes]);
    });
  for (const kind of ["replied", "opted_out"])
    it(`they ${kind.replace("_", " ")} meanwhile: a nudge is not needed`, async () => {
      expect(
        await answered(
          run(`INSERT INTO events (at, kind, prospect_id) VALUES (${NOW}, '${kind}', ${SECOND})`),
        ),
      ).toEqual([0, "refused"]);
    });
});

describe("an invitation or a notice does not leave once", () => {
  const served = async (change: (app: App) => void) => {
    const app = openCopy(image);
    try {
      app.db.exec(`INSERT INTO service_mails (kind, mailbox_id, prospect_id, recipient, recipient_name, message_id, subject, body, due_at)
        VALUES ('meeting_reminder', 1, ${SECOND}, 'bia@bia-museum.example', 'Bia', '<s@quillwater.example>', 'Tomorrow', 'Until then', ${TUESDAY})`);
      change(app);
      const box = openDoors();
      const mailbox = mailboxById(app.db, 1);
      if (!mailbox) throw new Error("no mailbox");
      await sendServiceMails(app, box.doors, mailbox);
      return box.sent.length;
    } finally {
      app.close();
    }
  };
  const { no_mailbox, mailbox_stopped, mailbox_unread, mailbox_unreachable, blocked } = BETWEEN;
  const SERVICE: Record<RuleAt<"service">, (app: App) => void> = {
    ...{ no_mailbox, mailbox_stopped, mailbox_unread, mailbox_unreachable, blocked },
  };
  it("nothing happens: it does", async () => {
    expect(await served(() => {})).toBe(1);
  });
  for (const [name, change] of Object.entries(SERVICE))
    it(`${name.replaceAll("_", " ")} came between`, async () => {
      expect(await served(change)).toBe(0);
    });
});
