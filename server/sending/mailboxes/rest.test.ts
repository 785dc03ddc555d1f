/** A mailbox rests by what came of its mail, comes back low, and never against what a person did to it meanwhile. */
import { beforeAll, describe, expect, it } from "vitest";
import { DAY, HOUR } from "../../../core/calendar.ts";
import type { BounceKind, EventKind } from "../../../core/events.ts";
import type { App, AppTx } from "../../app.ts";
import { recordEvent } from "../../db/events.ts";
import { allMailboxes, mailboxById } from "../../db/mailboxes.ts";
import { addPeople, addUnasked, createWorld, inCopyOf, TUESDAY } from "../../tests/world.ts";
import { mailboxHealth } from "./health.ts";
import { restMailboxes } from "./rest.ts";
import { setMailboxState } from "./save-mailbox.ts";

const MARTA = {
  ...{ id: 1, name: "Marta Quintela", email: "marta@quillwater.example", zone: "Europe/Lisbon" },
  ...{ bookingSlug: "", role: "rep" as const },
};
const SENT = 50;
let image: Buffer;

/** Fifty emails within the last days. */
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  addPeople(world, ["ana"]);
  addUnasked(world);
  world.app.db.exec(`WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < ${SENT})
    INSERT INTO touches (kind, prospect_id, mailbox_id, state, message_id, sent_at)
    SELECT 'answer', 1, 1, 'sent', '<' || i || '@q>', ${TUESDAY - DAY} - i FROM n`);
  image = world.app.db.serialize();
  await world.close();
});

const inCopy = <T>(work: (app: AppTx) => T): T => inCopyOf(image, work);
const cameBack = (
  app: App,
  times: number,
  bounce: BounceKind | null,
  kind: EventKind = "bounced",
  ago = HOUR,
) => {
  for (let nth = 0; nth < times; nth++)
    recordEvent(app.db, { at: TUESDAY - ago, kind, mailboxId: 1, prospectId: 1, bounce });
};
const looked = (app: App, now = TUESDAY) => {
  restMailboxes(app.db, allMailboxes(app.db), now);
  const { state, restReason, restUntil, rampStart, rampStep, rampSince } = mailboxById(app.db, 1) ?? {};
  return {
    state,
    reason: restReason && JSON.parse(restReason),
    restUntil,
    ramp: [rampStart, rampStep, rampSince],
  };
};

describe("it rests", () => {
  it("from four percent of bounces on that are the address's or its own fault, for five working days, to their morning", () => {
    inCopy((app) => {
      cameBack(app, 1, "hard");
      cameBack(app, 1, "policy");
      expect(looked(app).state).toBe("active");
      expect(mailboxHealth(app)).toMatchObject([{ verdict: "watch", week: { sent: SENT, bounced: 2 } }]);
      cameBack(app, 1, "hard");
      expect(looked(app)).toMatchObject({
        state: "resting",
        reason: { sent: SENT, bounced: 3, of: "bounced" },
        restUntil: Date.parse("2026-06-16T08:00:00+01:00"),
      });
      expect(mailboxHealth(app)[0]?.verdict).toBe("resting");
    });
  });

  it("of two reports as unwanted; not of bounces for now, of opt-outs, nor of what is longer ago than its week", () => {
    inCopy((app) => {
      cameBack(app, 9, "soft");
      cameBack(app, 9, null, "opted_out");
      cameBack(app, 9, "hard", "bounced", 7 * DAY + 1);
      cameBack(app, 1, null, "complained");
      expect(looked(app).state).toBe("active");
      cameBack(app, 1, null, "complained");
      expect(looked(app)).toMatchObject({ state: "resting", reason: { of: "complained", complained: 2 } });
    });
  });

  it("no sooner than it has sent enough to tell", () => {
    inCopy((app) => {
      app.db.exec("DELETE FROM touches WHERE id > 24");
      cameBack(app, 9, "hard");
      expect([looked(app).state, mailboxHealth(app)[0]?.verdict]).toEqual(["active", "unknown"]);
    });
  });
});

describe("it comes back", () => {
  it("when its time is over, on a lowered limit that rises, and what it rested for counts no more", () => {
    inCopy((app) => {
      cameBack(app, 3, "hard");
      const until = looked(app).restUntil ?? 0;
      expect(looked(app, until - 1).state).toBe("resting");
      expect(looked(app, until)).toMatchObject({
        state: "active",
        reason: null,
        restUntil: null,
        ramp: [12, 5, until],
      });
      expect(looked(app, until + 1).state).toBe("active");
    });
  });

  it("by hand, too; one that was paused while it rested stays paused", () => {
    inCopy((app) => {
      cameBack(app, 3, "hard");
      const until = looked(app).restUntil ?? 0;
      const read = allMailboxes(app.db);
      setMailboxState(app, MARTA, 1, "paused");
      restMailboxes(app.db, read, until);
      expect(mailboxById(app.db, 1)?.state).toBe("paused");
    });
  });
});

it("one that is paused, after the engine read it and before it would rest, stays paused", () => {
  inCopy((app) => {
    cameBack(app, 3, "hard");
    const read = allMailboxes(app.db);
    setMailboxState(app, MARTA, 1, "paused");
    restMailboxes(app.db, read, TUESDAY);
    expect(mailboxById(app.db, 1)?.state).toBe("paused");
  });
});
