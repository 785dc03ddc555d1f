/** The way to the first email: what is done of it, what each step still lacks, and where it leads. */
import { afterEach, beforeEach, expect, it } from "vitest";
import {
  addJourney,
  addPeople,
  addSequence,
  addUnasked,
  createWorld,
  email,
  TUESDAY,
  type World,
} from "../tests/world.ts";
import { firstSteps } from "./first-steps.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
});
afterEach(() => world.close());
const exec = (text: string) => world.app.db.exec(text);
const step = (name: string) => firstSteps(world.app)?.find((each) => each.name === name);

it("on an empty installation nothing is done, and each step leads to where it begins", () => {
  expect(firstSteps(world.app)).toEqual([
    { name: "mailbox", isDone: false, what: "", count: 0, lacks: [], to: "/sending/mailboxes/new" },
    { name: "list", isDone: false, what: "", count: 0, lacks: [], to: "/prospects/import" },
    { name: "sequence", isDone: false, what: "", count: 0, lacks: [], to: "/sequences/new" },
    { name: "start", isDone: false, what: "", count: 0, lacks: [], to: "/sequences" },
  ]);
});

it("a mailbox is done once it has connected; one that has is shown before one that has not", () => {
  const first = addUnasked(world);
  exec("UPDATE mailboxes SET connected_wall = NULL");
  expect(step("mailbox")).toMatchObject({
    isDone: false,
    what: "marta@quillwater.example",
    lacks: [{ kind: "not_connected" }],
    to: `/sending/mailboxes/${first}`,
  });
  const second = addUnasked(world, "m.q@quillwater.example");
  exec(`UPDATE mailboxes SET connected_wall = iif(id = ${second}, 1, NULL)`);
  expect(step("mailbox")).toMatchObject({
    isDone: true,
    what: "m.q@quillwater.example",
    count: 2,
    lacks: [],
  });
});

it("of several lists the longest counts, with what its people lack, and the next sequence is for it", () => {
  addPeople(world, ["ana"], "Short");
  const listId = addPeople(world, ["bia", "caio", "dora"], "Long");
  exec("UPDATE prospects SET email = NULL WHERE id = 2; UPDATE prospects SET verdict = 'good' WHERE id = 3");
  expect(step("list")).toEqual({
    name: "list",
    isDone: true,
    what: "Long",
    count: 3,
    lacks: [
      { kind: "no_address", count: 1, to: `/lists/${listId}/addresses?show=missing` },
      { kind: "unchecked", count: 1, to: `/lists/${listId}/addresses` },
    ],
    to: `/prospects?list=${listId}`,
  });
  expect(step("sequence")?.to).toBe(`/sequences/new?list=${listId}`);
});

it("a list without anybody is none", () => {
  addPeople(world, []);
  expect(step("list")).toMatchObject({ isDone: false, what: "", to: "/prospects/import" });
});

it("a sequence is done once its texts are whole and it has a list", () => {
  const mailboxId = addUnasked(world);
  const listId = addPeople(world, ["ana"]);
  const id = addSequence(world, listId, [mailboxId], {
    path: [email("one", 0, { subject: "S", body: "Hi {{ frist_name }}" })],
  });
  expect(step("sequence")).toMatchObject({
    isDone: false,
    what: "Loans",
    lacks: [{ kind: "texts", count: 1, to: `/sequences/${id}` }],
  });
  exec("UPDATE sequences SET list_id = NULL");
  expect(step("sequence")?.lacks.map(({ kind }) => kind)).toEqual(["texts", "no_list"]);
  exec("UPDATE sequences SET archived_at = 1");
  expect(step("sequence")).toMatchObject({ isDone: false, what: "" });
  addSequence(world, listId, [mailboxId]);
  expect(step("sequence")).toMatchObject({ isDone: true, lacks: [] });
});

it("one that runs is the one that is spoken of, until its first email has gone", () => {
  const mailboxId = addUnasked(world);
  const listId = addPeople(world, ["ana"]);
  const running = addSequence(world, listId, [mailboxId], { name: "Runs" });
  const draft = addSequence(world, listId, [mailboxId], { name: "Draft" });
  expect(step("start")).toMatchObject({ count: 0, to: `/sequences/${draft}/start` });
  exec(`UPDATE sequences SET state = 'running' WHERE id = ${running}`);
  expect(step("start")).toMatchObject({ what: "Runs", lacks: [{ kind: "waits", at: null }] });
  addJourney(world, running, 1);
  exec(`UPDATE journeys SET next_at = ${TUESDAY}`);
  expect(step("start")).toEqual({
    name: "start",
    isDone: false,
    what: "Runs",
    count: 1,
    lacks: [{ kind: "waits", at: TUESDAY }],
    to: `/sequences/${running}/people`,
  });
  const sent = (kind: string, journey: string) =>
    exec(`INSERT INTO touches (kind, journey_id, step_id, prospect_id, mailbox_id, message_id, state, sent_at)
      VALUES ('${kind}', ${journey}, 1, ${mailboxId}, '<${kind}>', 'sent', 1)`);
  sent("test", "NULL, NULL");
  expect(firstSteps(world.app)).not.toBeNull();
  sent("email", "1, 'one'");
  expect(firstSteps(world.app)).toBeNull();
});
