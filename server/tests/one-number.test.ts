/** What two screens say of one thing is one number: asked of worlds that are drawn at random. */
import fc from "fast-check";
import { afterAll, beforeAll, expect, it } from "vitest";
import { startingOf } from "../../core/sequence/standing.ts";
import { forgetCounts } from "../db/kept-counts.ts";
import { type Sequence, sequenceById } from "../db/sequences.ts";
import { listState } from "../prospects/lists/list-state.ts";
import { countProspects, prospectsQuery } from "../prospects/people/list-prospects.ts";
import { lookQuery } from "../results/look.ts";
import { overview } from "../results/overview.ts";
import { waitingJourneys } from "../sending/waiting.ts";
import { previewAdd } from "../sequences/add-people.ts";
import { listSequences } from "../sequences/list-sequences.ts";
import { rehearsalMaterial } from "../sequences/rehearsal-input.ts";
import { sequencePeople, standingsOf } from "../sequences/sequence-people.ts";
import { startAddresses, startCheck, startPeople } from "../sequences/start-check.ts";
import { todoList } from "../today/todo-list.ts";
import { addPeople, addSequence, createWorld, type World } from "./world.ts";

const LOOK = lookQuery.parse({});
const NAMES = "ana bia caio dora eva fabio gil hana ivo jana".split(" ");
let world: World;
let running: number;
let draft: Sequence;
let listId: number;

beforeAll(async () => {
  world = await createWorld({ standin: false });
  world.app.db.exec(`INSERT INTO mailboxes (id, user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port,
    imap_security, username, password_sealed, daily_limit, gap_least, gap_most, created_at)
    VALUES (1, 1, 'marta@own.example', 'Marta', 'h', 1, 'none', 'h', 1, 'none', 'm', '', 5, 1, 2, 1)`);
  listId = addPeople(world, NAMES);
  running = addSequence(world, listId, [1]);
  draft = sequenceById(world.app.db, addSequence(world, listId, [1], { writesTo: "likely" })) as Sequence;
  world.app.db.exec(`UPDATE sequences SET state = 'running' WHERE id = ${running}`);
});
afterAll(() => world.close());

const person = fc.record({
  verdict: fc.constantFrom(null, "good", "risky", "bad", "unknown"),
  reason: fc.constantFrom("not_probed", "role"),
  hasEmail: fc.boolean(),
  journey: fc.constantFrom(
    "none",
    "in_line",
    "address_not_good",
    "merge_field_empty",
    "mailbox_resting",
    "stopped",
  ),
  isBlocked: fc.boolean(),
});

it("on lists, before a start, on Today, on Sending and among a sequence's people", () => {
  const { app, user } = world;
  fc.assert(
    fc.property(fc.array(person, { minLength: NAMES.length, maxLength: NAMES.length }), (people) => {
      app.db.exec("SAVEPOINT drawn");
      try {
        for (const [nth, each] of people.entries()) draw(nth + 1, each);
        const state = listState(app, listId);
        const sum = (counts: Record<string, number>) =>
          Object.values(counts).reduce((all, one) => all + one, 0);
        expect(sum(state.verdicts)).toBe(state.people);
        expect(countProspects(app, user.id, prospectsQuery.parse({ list: listId }))).toBe(state.people);

        const { counts } = startCheck(app, draft);
        expect(sum(counts)).toBe(state.people);
        expect(startPeople(app, draft, null, 0)).toHaveLength(state.people);
        expect(sum(startAddresses(app, draft))).toBe(startingOf(counts));
        const material = rehearsalMaterial(app, draft);
        expect(material.people).toHaveLength(counts.ready);
        expect(material.others.reduce((all, { count }) => all + count, counts.ready)).toBe(state.people);
        const added = previewAdd(
          app,
          user,
          draft.id,
          NAMES.map((_, nth) => nth + 1),
        );
        expect(
          added.ok && Object.fromEntries(added.value.standings.map((each) => [each.standing, each.count])),
        ).toEqual(Object.fromEntries(Object.entries(counts).filter(([, count]) => count > 0)));

        const [listed] = listSequences(app, user.id).filter(({ id }) => id === running);
        const standings = standingsOf(app, running).states;
        const active = standings
          .filter((each) => each.state === "active")
          .reduce((all, { count }) => all + count, 0);
        expect(listed?.figures.active).toBe(active);
        expect(listed?.figures.started).toBe(
          sequencePeople(app, running, { standing: "", placeId: null, search: "" }, 0).total,
        );
        expect(
          overview(app, user.id, LOOK, "UTC").lines.find(({ id }) => id === running)?.figures.started ?? 0,
        ).toBe(listed?.figures.started);

        const items = todoList(app, user).items;
        for (const reason of ["address_not_good", "merge_field_empty"] as const) {
          const onToday = items.flatMap((item) =>
            (item.kind === "hold" && item.reason === reason) ||
            (item.kind === "field" && reason === "merge_field_empty")
              ? [item.people]
              : [],
          );
          expect(onToday.reduce((all, one) => all + one, 0)).toBe(waitingJourneys(app, reason, 0).total);
        }
        const resting = items.find((item) => item.kind === "mailbox");
        expect(resting?.kind === "mailbox" ? resting.people : 0).toBe(
          waitingJourneys(app, "mailbox_resting", 0).total,
        );
      } finally {
        app.db.exec("ROLLBACK TO drawn; RELEASE drawn");
        // A count that took long on a busy machine serves for a moment: this world's would be told of the next one.
        forgetCounts(app.db);
      }
    }),
    { numRuns: 60 },
  );
});

function draw(id: number, each: typeof person extends fc.Arbitrary<infer Drawn> ? Drawn : never): void {
  const { db } = world.app;
  const email = `${NAMES[id - 1]}@${NAMES[id - 1]}-museum.example`;
  db.exec(`UPDATE prospects SET email = ${each.hasEmail ? `'${email}'` : "NULL"},
    verdict = ${each.hasEmail && each.verdict ? `'${each.verdict}'` : "NULL"}, verdict_reason = '${each.reason}' WHERE id = ${id};
    UPDATE mailboxes SET state = 'resting', rest_reason = '{}' WHERE id = 1`);
  if (each.isBlocked)
    db.exec(
      `INSERT INTO block_list (kind, value, reason, at) VALUES ('address', '${email}', 'added_by_rep', 1)`,
    );
  if (each.journey === "none") return;
  const isOver = each.journey === "stopped";
  db.exec(`INSERT INTO journeys (sequence_id, prospect_id, version, place_id, since, due_at, started_at, state, stop_reason, ended_at, mailbox_id, wait_reason, wait_detail)
    VALUES (${running}, ${id}, 1, 'one', 0, 0, 0, '${isOver ? "stopped" : "active"}', ${isOver ? "'replied'" : "NULL"}, ${isOver ? 1 : "NULL"}, 1,
      ${isOver ? "NULL" : `'${each.journey}'`}, ${each.journey === "merge_field_empty" ? "'city'" : "NULL"})`);
}
