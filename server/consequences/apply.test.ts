/** For everything that can happen to somebody, what of them is otherwise afterwards; and what is not, of whom it does not concern. */

import { beforeAll, describe, expect, it } from "vitest";
import type { Happening } from "../../core/replies/consequences.ts";
import { effectsOf } from "../../core/replies/label-effects.ts";
import type { AppTx } from "../app.ts";
import { transact } from "../db/open.ts";
import { startSequence } from "../sequences/start-sequence.ts";
import { addPeople, addSequence, addUnasked, createWorld, inCopyOf, TUESDAY } from "../tests/world.ts";
import { apply } from "./apply.ts";
import { remember, takeBack } from "./remember.ts";
import { ofProspects } from "./scopes.ts";

const [ANA, BIA, CAIO, OLD] = [1, 2, 3, 4];
const AT = TUESDAY + 60_000;
const ADDRESS = "ana@ana-museum.example";
const OLD_ADDRESS = "old@old-museum.example";
let image: Buffer;

/** Ana, who was merged with an entry of an older address, Bia of the same house, and Caio, who has a provider's address; all under way. */
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  const { db } = world.app;
  const id = addSequence(world, addPeople(world, ["ana", "bia", "caio"]), [addUnasked(world)]);
  addPeople(world, ["old"], "Elsewhere");
  db.exec(`UPDATE prospects SET company_id = (SELECT company_id FROM prospects WHERE id = ${ANA}) WHERE id = ${BIA};
    UPDATE companies SET domain = 'gmx.de' WHERE id = (SELECT company_id FROM prospects WHERE id = ${CAIO});
    UPDATE prospects SET merged_into = ${ANA} WHERE id = ${OLD};
    UPDATE sequences SET settings = json_patch(settings, '{"holdsCompany":true,"awayDays":5,"thenErrand":"Ring","stops":{"stages":["won"],"click":true}}'),
      revision = revision + 1`);
  startSequence(world.app, world.userId, id);
  db.exec(`INSERT INTO touches (id, kind, journey_id, step_id, prospect_id, user_id, state, due_at) VALUES
      (1, 'call', 1, 'ring', ${ANA}, 1, 'open', 1), (2, 'email', 1, 'read', ${ANA}, 1, 'draft', 1), (3, 'call', 2, 'ring', ${BIA}, 1, 'open', 1);
    INSERT INTO touches (id, kind, prospect_id, mailbox_id, state, message_id, due_at)
      VALUES (4, 'answer', ${ANA}, 1, 'queued', '<later@q.example>', ${AT + 1});
    INSERT INTO lists (id, name, created_at) VALUES (77, 'Warm', 0)`);
  image = db.serialize();
  await world.close();
});

const inCopy = <T>(work: (app: AppTx) => T): T => inCopyOf(image, work);
const all = <Row>(app: AppTx, text: string) => app.db.prepare<[], Row>(text).all();

/** What is said of the world in one line each, so that a row that nobody expected shows. */
function standing(app: AppTx): string[] {
  const line = (text: string) => app.db.prepare<[], string>(text).pluck().all();
  return [
    ...line(
      `SELECT 'journey ' || prospect_id || ' ' || state || coalesce(' ' || stop_reason, '') || coalesce(' waits ' || wait_reason, '') FROM journeys ORDER BY id`,
    ),
    ...line("SELECT 'touch ' || id || ' ' || kind || ' ' || state FROM touches WHERE id < 5 ORDER BY id"),
    ...line("SELECT 'errand ' || prospect_id || ' ' || body FROM touches WHERE kind = 'errand'"),
    ...line("SELECT 'stage ' || id || ' ' || stage FROM prospects WHERE stage != 'new' ORDER BY id"),
    ...line("SELECT 'block ' || value || ' ' || reason FROM block_list ORDER BY value"),
    ...line(
      "SELECT 'hold ' || scope || ' ' || reason || iif(until IS NULL, '', ' until ' || date(until / 1000, 'unixepoch')) FROM holds ORDER BY 1",
    ),
    ...line(
      "SELECT 'event ' || kind || coalesce(' ' || bounce, '') || coalesce(' ' || detail, '') FROM events WHERE kind != 'journey_started' ORDER BY id",
    ),
    ...line("SELECT 'list ' || prospect_id FROM list_prospects WHERE list_id = 77"),
    ...line("SELECT 'reminder ' || kind FROM reminders"),
  ];
}

const about = { at: AT, prospectId: ANA, journeyId: 1, recipient: ADDRESS };
const change = (happening: Happening, prepare?: (app: AppTx) => void): { gone: string[]; come: string[] } =>
  inCopy((app) => {
    prepare?.(app);
    const before = standing(app);
    transact(app, (app) => apply(app.db, happening, about));
    const after = standing(app);
    return {
      gone: before.filter((line) => !after.includes(line)),
      come: after.filter((line) => !before.includes(line)),
    };
  });

const stopped = (reason: string) => [
  `journey 1 stopped ${reason}`,
  "touch 1 call skipped",
  "touch 2 email skipped",
  "touch 4 answer skipped",
];
const ended = (reason: string) => `event journey_stopped ${reason}`;
const stopsFor = (app: AppTx, reason: "replied" | "stopped_by_rep" | "bounced") => {
  const happening: Happening =
    reason === "bounced" ? { kind: "bounced", hard: true, words: "gone" } : { kind: reason };
  transact(app, (app) => apply(app.db, happening, about));
};
const effects = { ...effectsOf(null, {}), stops: false, listId: 77, task: "Send the sheet" };

/** By happening what comes to be; the compiler asks for each. */
const COMES: Record<
  Happening["kind"],
  [happening: Happening, come: string[], prepare?: (app: AppTx) => void]
> = {
  sent: [{ kind: "sent" }, ["stage 1 contacted", "event email_sent"]],
  answered: [{ kind: "answered" }, ["event answered"]],
  refused: [
    { kind: "refused", words: "no" },
    [...stopped("refused"), "event email_refused no", ended("refused")],
  ],
  page_visited: [{ kind: "page_visited" }, ["event page_visited"]],
  booking_begun: [{ kind: "booking_begun" }, ["event booking_begun"]],
  film_watched: [{ kind: "film_watched", share: 50 }, ["event film_watched 50"]],
  file_saved: [{ kind: "file_saved", name: "sheet.pdf" }, ["event file_saved sheet.pdf"]],
  file_opened: [{ kind: "file_opened", name: "sheet.pdf" }, ["event file_opened sheet.pdf"]],
  replied: [
    { kind: "replied" },
    [
      ...stopped("replied"),
      "stage 1 in_conversation",
      "hold company colleague_replied",
      "event replied",
      ended("replied"),
    ],
  ],
  likely_reply: [{ kind: "likely_reply" }, ["journey 1 active waits likely_reply", "event likely_reply"]],
  away: [
    { kind: "away", because: "holidays", day: "2026-06-19" },
    // A Friday; the Monday after.
    ["hold prospect away until 2026-06-22", "event away holidays"],
  ],
  challenged: [
    { kind: "challenged", because: "prove it" },
    ["hold prospect challenged", "event challenged prove it"],
  ],
  labelled: [
    { kind: "labelled", label: "own", name: "Warm", effects, day: null },
    ["event labelled Warm", "list 1", "reminder reminder"],
  ],
  left_company: [
    { kind: "left_company", because: "gone" },
    [...stopped("left_company"), "event left_company gone", ended("left_company")],
  ],
  bounced: [
    { kind: "bounced", hard: true, words: "no such user" },
    [...stopped("bounced"), `block ${ADDRESS} bounced`, "event bounced hard no such user", ended("bounced")],
  ],
  complained: [
    { kind: "complained", because: "spam" },
    [
      ...stopped("complained"),
      `block ${ADDRESS} opted_out`,
      `block ${OLD_ADDRESS} opted_out`,
      "event complained spam",
      ended("complained"),
    ],
  ],
  opted_out: [
    { kind: "opted_out" },
    [
      ...stopped("opted_out"),
      `block ${ADDRESS} opted_out`,
      `block ${OLD_ADDRESS} opted_out`,
      ended("opted_out"),
      "event opted_out",
    ],
  ],
  booked: [
    { kind: "booked", at: 7 },
    [
      ...stopped("booked"),
      "errand 1 Ring",
      "stage 1 meeting_booked",
      "hold company colleague_replied",
      "event booked 7",
      ended("booked"),
    ],
  ],
  opened: [{ kind: "opened" }, ["event opened"]],
  clicked: [
    { kind: "clicked", url: "https://q.example" },
    [...stopped("clicked"), "event clicked https://q.example", ended("clicked")],
  ],
  accepted: [{ kind: "accepted" }, ["event accepted"]],
  talked: [{ kind: "talked" }, ["stage 1 in_conversation"]],
  stage_set: [
    { kind: "stage_set", stage: "won" },
    [...stopped("stage"), "stage 1 won", "event stage_set won", ended("stage")],
  ],
  field_met: [{ kind: "field_met" }, [...stopped("field"), ended("field")]],
  meeting_held: [{ kind: "meeting_held" }, ["event meeting_held"]],
  meeting_missed: [{ kind: "meeting_missed" }, ["event meeting_missed"]],
  booking_cancelled: [{ kind: "booking_cancelled", at: 7 }, ["event booking_cancelled 7"]],
  booking_moved: [{ kind: "booking_moved", at: 7 }, ["event booking_moved 7"]],
  blocked_by_rep: [
    { kind: "blocked_by_rep" },
    [
      ...stopped("blocked"),
      `block ${ADDRESS} added_by_rep`,
      `block ${OLD_ADDRESS} added_by_rep`,
      ended("blocked"),
    ],
  ],
  blocked: [{ kind: "blocked" }, [...stopped("blocked"), ended("blocked")]],
  stopped_by_rep: [{ kind: "stopped_by_rep" }, [...stopped("stopped_by_rep"), ended("stopped_by_rep")]],
  merged: [{ kind: "merged" }, [...stopped("merged"), ended("merged")]],
  became_one: [
    { kind: "became_one", stage: "in_conversation", ended: "replied" },
    [...stopped("replied"), "stage 1 in_conversation", ended("replied")],
  ],
  erased: [{ kind: "erased" }, [...stopped("erased"), ended("erased")]],
  // What the stop closed is open again; an answer that was to go later has been overtaken for good.
  unblocked: [
    { kind: "unblocked" },
    [
      "journey 1 active",
      "touch 1 call open",
      "touch 2 email draft",
      "event unblocked",
      "event journey_resumed",
    ],
    (app) => stopsFor(app, "bounced"),
  ],
  restored: [
    { kind: "restored" },
    ["journey 1 active", "touch 1 call open", "touch 2 email draft", "event journey_resumed"],
    (app) => stopsFor(app, "stopped_by_rep"),
  ],
};

it("of two entries that are one, the other's stage moves nobody back, and stops nothing that nobody ended", () => {
  expect(change({ kind: "became_one", stage: "new", ended: null })).toEqual({ come: [], gone: [] });
});

describe("what happened to one of three", () => {
  for (const [kind, [happening, come, prepare]] of Object.entries(COMES))
    it(kind.replaceAll("_", " "), () => {
      const changed = change(happening, prepare);
      expect(changed.come.toSorted()).toEqual(come.toSorted());
      // What went is what became otherwise, and only hers.
      expect(
        changed.gone.filter((line) => /^(journey [23]|touch 3|hold|block|stage [23])/.test(line)),
      ).toEqual([]);
    });
});

describe("a hold of the company", () => {
  it("is none where the company is a provider for everybody", () => {
    inCopy((app) => {
      transact(app, (app) =>
        apply(app.db, { kind: "replied" }, { ...about, prospectId: CAIO, journeyId: 3 }),
      );
      expect(all(app, "SELECT * FROM holds")).toEqual([]);
    });
  });
  it("is not set where the sequence says so, by a reply or a booking", () => {
    const off = (app: AppTx) =>
      app.db.exec(
        "UPDATE sequences SET settings = json_set(settings, '$.holdsCompany', json('false')), revision = revision + 1",
      );
    for (const happening of [{ kind: "replied" }, { kind: "booked", at: 7 }] as const)
      expect(change(happening, off).come.filter((line) => line.startsWith("hold"))).toEqual([]);
  });
});

describe("an email that came back", () => {
  const bounce = (change: object): Happening => ({ kind: "bounced", hard: false, words: "full", ...change });
  it("for now is noted; twice in a row they wait for the rep", () => {
    expect(change(bounce({})).come).toEqual(["event bounced soft full"]);
    expect(change(bounce({ again: true })).come).toEqual([
      "hold prospect came_back_twice",
      "event bounced soft full",
    ]);
  });
  it("for the mailbox's fault is the mailbox's matter, however often", () => {
    expect(change(bounce({ policy: true, again: true })).come).toEqual(["event bounced policy full"]);
  });
  it("of an address that they no longer have blocks that one, and they go on", () => {
    const come = inCopy((app) => {
      transact(app, (app) =>
        apply(app.db, { kind: "bounced", hard: true, words: "gone" }, { ...about, recipient: OLD_ADDRESS }),
      );
      return standing(app);
    });
    expect(come).toContain("journey 1 active");
    expect(come.filter((line) => line.startsWith("block"))).toEqual([`block ${OLD_ADDRESS} bounced`]);
  });
});

describe("somebody goes on", () => {
  it("only for what they were stopped for, and not where they are on another sequence by now", () => {
    expect(change({ kind: "restored" }, (app) => stopsFor(app, "replied")).come).toEqual([]);
    expect(
      change({ kind: "restored" }, (app) => {
        stopsFor(app, "stopped_by_rep");
        app.db.exec(`INSERT INTO sequences (id, name, user_id, time_zone, created_at) VALUES (9, 'Other', 1, 'UTC', 0);
          INSERT INTO journeys (sequence_id, prospect_id, due_at, started_at) VALUES (9, ${ANA}, 0, 0)`);
      }).come,
    ).toEqual([]);
  });
  it("with nothing that was skipped before the stop", () => {
    const { come } = change({ kind: "restored" }, (app) => {
      app.db.exec("UPDATE touches SET state = 'skipped', ended_at = 5 WHERE id = 1");
      stopsFor(app, "stopped_by_rep");
    });
    expect(come).not.toContain("touch 1 call open");
  });
  it("is considered anew", () => {
    inCopy((app) => {
      stopsFor(app, "stopped_by_rep");
      app.db.exec("DELETE FROM reconsider");
      transact(app, (app) => apply(app.db, { kind: "restored" }, about));
      expect(all(app, "SELECT journey_id FROM reconsider")).toEqual([{ journey_id: 1 }]);
    });
  });
});

describe("a press that is taken back", () => {
  const press = (app: AppTx, happening: Happening) =>
    transact(app, (app) =>
      remember(
        app.db,
        { kind: "block", prospectId: ANA, userId: 1, what: "", at: AT },
        ofProspects(app.db, [ANA]),
        () => void apply(app.db, happening, about),
      ),
    );
  /** The record of what happened stays. */
  const now = (app: AppTx) => standing(app).filter((line) => !line.startsWith("event"));

  // A likely reply comes by itself, and is decided on Replies.
  for (const [kind, [happening, , prepare]] of Object.entries(COMES))
    if (kind !== "likely_reply")
      it(`leaves everything as it was: ${kind.replaceAll("_", " ")}`, () => {
        inCopy((app) => {
          prepare?.(app);
          const before = now(app);
          const id = press(app, happening);
          expect(takeBack(app.db, id, AT)?.kept).toBe(0);
          expect(now(app)).toEqual(before);
          expect(takeBack(app.db, id, AT)).toBeNull();
        });
      });

  it("leaves what somebody changed since: another stage, a longer hold, a stricter block", () => {
    inCopy((app) => {
      const id = press(app, { kind: "stage_set", stage: "won" });
      app.db.exec(`UPDATE prospects SET stage = 'lost' WHERE id = ${ANA}`);
      expect(takeBack(app.db, id, AT)?.kept).toBe(1);
      expect(now(app)).toContain("stage 1 lost");
      expect(now(app)).toContain("journey 1 active");
    });
    inCopy((app) => {
      const id = press(app, { kind: "away", because: "", day: "2026-06-19" });
      app.db.exec(`UPDATE holds SET until = NULL`);
      expect(takeBack(app.db, id, AT)?.kept).toBe(1);
      expect(now(app)).toContain("hold prospect away");
    });
    inCopy((app) => {
      const id = press(app, { kind: "blocked_by_rep" });
      transact(app, (app) => apply(app.db, { kind: "opted_out" }, about));
      expect(takeBack(app.db, id, AT)?.kept).toBe(2);
      expect(now(app)).toContain(`block ${ADDRESS} opted_out`);
    });
  });
});
