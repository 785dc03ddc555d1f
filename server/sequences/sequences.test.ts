import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { sequenceById } from "../db/sequences.ts";
import { optOutProspect } from "../prospects/block-list/opt-out.ts";
import { addPeople, addSequence, createWorld, email, rows, type World } from "../tests/world.ts";
import { checkSequence } from "./check-sequence.ts";
import { sequenceForm } from "./open-sequence.ts";
import { previewStep } from "./preview-step.ts";
import { saveSequence } from "./save-sequence.ts";
import { startSequence } from "./start-sequence.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
  world.app.db.exec(
    `INSERT INTO mailboxes (id, user_id, address, sender_name, smtp_host, smtp_port, smtp_security, imap_host, imap_port,
       imap_security, username, password_sealed, daily_limit, gap_least, gap_most, created_at)
     VALUES (1, ${world.userId}, 'marta@quillwater.example', 'Marta Quintela', 'h', 1, 'none', 'h', 1, 'none', 'u', '', 30, 9, 14, 0)`,
  );
});
afterEach(() => world.close());

const open = (id: number) => {
  const sequence = sequenceById(world.app.db, id);
  if (!sequence) throw new Error("gone");
  return sequence;
};
const start = (id: number) => startSequence(world.app, world.userId, id);

describe("starting a sequence", () => {
  it("takes everybody of the list but those blocked, on another sequence, or started before", () => {
    const list = addPeople(world, ["ana", "bia", "caio", "dora"]);
    const first = addSequence(world, addPeople(world, ["ana"], "One"), [1]);
    start(first);
    optOutProspect(world.app, 2);
    const second = addSequence(world, list, [1]);
    expect(start(second)).toMatchObject({
      ok: true,
      value: { started: 2, counts: { elsewhere: 1, blocked: 1, already: 0 } },
    });
    expect(start(second)).toMatchObject({ ok: true, value: { started: 0, counts: { already: 2 } } });
  });

  it("is refused with what to do while something is missing", () => {
    const list = addPeople(world, ["ana"]);
    const words = (id: number) => {
      const outcome = start(id);
      return outcome.ok ? "started" : outcome.errors.form;
    };
    expect(words(addSequence(world, list, []))).toContain("Choose at least one mailbox");
    const id = addSequence(world, list, [1]);
    saveSequence(world.app, { ...sequenceForm(open(id)), listId: null });
    expect(words(id)).toContain("Choose the list");
    const path = [email("one", 0, { subject: "S", body: "Hi {{ frist_name }}" })];
    expect(words(addSequence(world, list, [1], { path }))).toContain("Did you mean “first_name”?");
    expect(rows(world, "SELECT 1 FROM journeys")).toEqual([]);
  });

  it("counts beforehand whose merge fields are empty", () => {
    const list = addPeople(world, ["ana", "bia", "caio"]);
    world.app.db.exec("UPDATE prospects SET first_name = '' WHERE id > 1");
    expect(checkSequence(world.app, open(addSequence(world, list, [1]))).missing).toEqual([
      { field: "first_name", count: 2 },
    ]);
  });
});

describe("saving a sequence", () => {
  it("makes a new version once it has been started, and keeps a draft one version", () => {
    const id = addSequence(world, addPeople(world, ["ana"]), [1]);
    expect(open(id).version).toBe(1);
    start(id);
    const form = sequenceForm(open(id));
    expect(saveSequence(world.app, form)).toEqual({ ok: true, value: 1 });
    const longer = { ...form, revision: undefined, path: [...form.path, email("four", 2)] };
    expect(saveSequence(world.app, longer)).toEqual({ ok: true, value: 2 });
  });

  it("refuses hours that close before they open, and keeps what was there", () => {
    const id = addSequence(world, null as unknown as number, [1]);
    const before = sequenceForm(open(id));
    expect(saveSequence(world.app, { ...before, name: "X", opens: "18:00" })).toMatchObject({
      errors: { closes: expect.any(String) },
    });
    expect(sequenceForm(open(id))).toEqual(before);
  });
});

describe("a preview", () => {
  it("shows the step as the chosen prospect gets it, and leafs round the list", () => {
    const listId = addPeople(world, ["ana", "bia"]);
    const { path } = open(addSequence(world, listId, [1]));
    const look = (index: number) =>
      previewStep(world.app, { path, stepId: "two", listId, mailboxIds: [1], index });
    expect(look(0)).toMatchObject({
      prospect: { name: "ana" },
      sameThread: true,
      rendered: { ok: true, subject: "Loans at ana museum" },
    });
    expect(look(-1).prospect?.name).toBe("bia");
    expect(look(0).rendered).toMatchObject({
      body: expect.stringMatching(/\/book\/marta-quintela-.*\n\n.*Not for you\?/s),
    });
  });
});
