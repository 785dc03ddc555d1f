/** What becomes of somebody on a sequence once their reply has a label, and of their colleagues. */
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { DAY, HOUR } from "../../core/calendar.ts";
import type { Path } from "../../core/sequence/path.ts";
import { fork, task } from "../../core/sequence/test-paths.ts";
import { setDemoClock } from "../clock.ts";
import { apply } from "../consequences/apply.ts";
import { sql } from "../db/open.ts";
import { labelReply, undoLabel } from "../replies/label-reply.ts";
import { labelByCode } from "../replies/labels.ts";
import { labelFacts, previewLabel } from "../replies/preview-label.ts";
import { planAndRecord } from "../sending/plan.ts";
import { addPeople, addSequence, createWorld, rows, TUESDAY, type World } from "../tests/world.ts";
import { endTouch } from "../today/end-touch.ts";
import { heldCompanies, ownTouches } from "../today/own-touches.ts";
import { releaseCompany } from "../today/release-company.ts";
import { startSequence } from "./start-sequence.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
  world.app.db.exec(
    `INSERT INTO mailboxes (id, user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port,
       imap_security, username, password_sealed, daily_limit, gap_least, gap_most, connected_wall, created_at)
     VALUES (1, ${world.userId}, 'marta@quillwater.example', 'Marta Quintela', 'h', 1, 'none', 'h', 1, 'none', 'u', '', 30, 9, 14, 1, 0)`,
  );
});
afterEach(() => world.close());

const interested = { about: "label", is: "interested" } as const;
/** A call, then whoever is interested gets a parcel, the others are rung up again. */
const PATH: Path = [
  task("ring", "call"),
  fork("f", interested, [task("parcel", "errand")], [task("again", "call")]),
];

function begun(settings: Record<string, unknown> = {}, path = PATH): void {
  startSequence(
    world.app,
    world.userId,
    addSequence(world, addPeople(world, ["ana"]), [1], { path, settings }),
  );
  at(TUESDAY);
  for (const { id } of ownTouches(world.app, world.user).shown)
    endTouch(world.app, world.user, { id }, "done");
  at(TUESDAY);
}
function at(now: number): void {
  setDemoClock(world.app.db, now, false);
  planAndRecord(world.app, now);
}
const todo = () => ownTouches(world.app, world.user).shown.map(({ stepName }) => stepName);
const state = () =>
  sql(world.app.db, "SELECT state, stop_reason AS reason FROM journeys WHERE id = @id").get<{
    state: string;
    reason: string | null;
  }>({ id: 1 });

function replies(now: number): void {
  setDemoClock(world.app.db, now, false);
  sql(
    world.app.db,
    `INSERT INTO replies (id, mailbox_id, message_id, prospect_id, touch_id, kind, certainty, from_address, from_name, subject, text, at)
     VALUES (1, 1, 'r-1', 1, 1, 'person', 'sure', @from, 'Ana', 'Re: S', 'Yes', @now)`,
  ).run({ now, from: "ana@x.example" });
  apply(world.app.db, { kind: "replied" }, { at: now, prospectId: 1, journeyId: 1, replyId: 1 });
}
function labels(label: string, now: number): void {
  setDemoClock(world.app.db, now, false);
  const done = labelReply(world.app, world.userId, { replyId: 1, label });
  if (!done.ok) throw new Error(JSON.stringify(done.errors));
  planAndRecord(world.app, now);
}
const lines = (code: string) => {
  const label = labelByCode(world.app.db, code);
  const facts = labelFacts(world.app.db, 1, () => 1);
  if (!label || !facts) throw new Error("gone");
  return previewLabel(label, facts, null).map(({ verb, words }) => `${verb} ${words}`);
};

describe("at a fork that waits for a label", () => {
  it("the label leads on its way, although a reply ends the sequence", () => {
    begun();
    replies(TUESDAY + HOUR);
    expect(state()).toEqual({ state: "stopped", reason: "replied" });
    expect(lines("interested")[0]).toMatch(/^Lets go on .* on the way of this label$/);
    labels("interested", TUESDAY + 2 * HOUR);
    expect([state()?.state, todo()]).toEqual(["active", ["parcel"]]);
  });

  it("it leads there as well if the rep reads it days after the fork's patience", () => {
    begun();
    replies(TUESDAY + HOUR);
    labels("interested", TUESDAY + 9 * DAY);
    expect(todo()).toEqual(["parcel"]);
  });

  it("another label ends the sequence, and undoing the one leaves it stopped", () => {
    begun();
    replies(TUESDAY + HOUR);
    labels("not_interested", TUESDAY + 2 * HOUR);
    expect(state()).toEqual({ state: "stopped", reason: "replied" });
    labels("interested", TUESDAY + 3 * HOUR);
    expect(state()?.state).toBe("active");
    expect(undoLabel(world.app, world.userId, 1).ok).toBe(true);
    expect(state()).toEqual({ state: "stopped", reason: "replied" });
  });

  it("no answer is no, after its patience", () => {
    begun();
    at(TUESDAY + 8 * DAY);
    expect(todo()).toEqual(["again"]);
  });
});

describe("where a reply ends nothing", () => {
  const goesOn = { stops: { reply: false } };

  it("neither does a label that a fork ahead waits for, and another ends it as it is set to", () => {
    const later: Path = [task("ring", "call"), task("view", "profile_view", 5), ...PATH.slice(1)];
    begun(goesOn, later);
    replies(TUESDAY + HOUR);
    labels("interested", TUESDAY + 2 * HOUR);
    expect(state()?.state).toBe("active");
    labels("not_interested", TUESDAY + 3 * HOUR);
    expect(state()).toEqual({ state: "stopped", reason: "replied" });
  });

  it("the sequence says which labels end it; an opt-out always does", () => {
    begun({ stops: { reply: false, labels: [] } });
    replies(TUESDAY + HOUR);
    labels("not_interested", TUESDAY + 2 * HOUR);
    expect(state()?.state).toBe("active");
    // Another label than the one that is waited for is no at once.
    expect(todo()).toEqual(["again"]);
    labels("opt_out", TUESDAY + 3 * HOUR);
    expect(state()).toEqual({ state: "stopped", reason: "opted_out" });
  });
});

describe("the colleagues", () => {
  function company(settings: Record<string, unknown>): void {
    const list = addPeople(world, ["ana", "bia", "caio"]);
    world.app.db.exec("UPDATE prospects SET company_id = (SELECT company_id FROM prospects WHERE id = 1)");
    const id = addSequence(world, list, [1], { path: PATH, settings });
    startSequence(world.app, world.userId, id);
    at(TUESDAY);
  }
  const held = () =>
    heldCompanies(world.app, world.user).flatMap(({ people }) => people.map(({ prospectId }) => prospectId));

  it("wait from the reply on, and a label keeps that", () => {
    company({ holdsCompany: true });
    replies(TUESDAY + HOUR);
    expect(held()).toEqual([2, 3]);
    labels("question", TUESDAY + 2 * HOUR);
    expect(held()).toEqual([2, 3]);
    labels("not_interested", TUESDAY + 3 * HOUR);
    expect(held()).toEqual([]);
  });

  it("are held by no label where the sequence holds nobody", () => {
    company({ holdsCompany: false });
    replies(TUESDAY + HOUR);
    labels("interested", TUESDAY + 2 * HOUR);
    expect(held()).toEqual([]);
    expect(lines("interested").join()).not.toContain("colleague");
  });

  it("go on one by one, or all; who was let go on waits again when yet another answers", () => {
    company({ holdsCompany: true });
    replies(TUESDAY + HOUR);
    const [first] = heldCompanies(world.app, world.user);
    releaseCompany(world.app, world.userId, first?.companyId ?? 0, 2);
    at(TUESDAY + HOUR);
    expect(held()).toEqual([3]);
    expect(
      rows(world, "SELECT id FROM journeys WHERE state = 'active' AND wait_reason = 'colleague_replied'"),
    ).toEqual([{ id: 3 }]);
    // What keeps the hold keeps who was let go on.
    labels("question", TUESDAY + 2 * HOUR);
    expect(held()).toEqual([3]);
    apply(world.app.db, { kind: "replied" }, { at: TUESDAY + 3 * HOUR, prospectId: 3, journeyId: 3 });
    expect(held()).toEqual([2]);
  });
});
