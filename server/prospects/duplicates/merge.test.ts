/** A merge of any two entries loses nothing of either, and is as strict as the stricter of the two. */
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { STAGES } from "../../../core/prospects/stages.ts";
import { readField, type StoredField, writeField } from "../../db/fields.ts";
import { type Prospect, prospectById, unreadFields } from "../../db/prospects.ts";
import { addPeople, addSequence, createWorld, rows, type World } from "../../tests/world.ts";
import { undoChange } from "../../undo/undo-change.ts";
import { addNote } from "../people/add-prospect.ts";
import { mergeCompanies } from "./merge-companies.ts";
import { mergeProspects } from "./merge-prospects.ts";

let world: World;
let sequences: number[];
beforeAll(async () => {
  world = await createWorld({ standin: false });
  sequences = [1, 2].map(() => addSequence(world, addPeople(world, [], "None"), []));
});
afterAll(() => world.close());

interface Side {
  email: boolean;
  lists: string[];
  city: string;
  phone: string;
  rooms: string;
  stage: (typeof STAGES)[number];
  notes: number;
  block: "none" | "added_by_rep" | "bounced" | "opted_out";
  /** For each sequence: not on it, on it, or through with it. */
  journeys: ("none" | "active" | "finished")[];
  events: number;
}
const side: fc.Arbitrary<Side> = fc.record({
  email: fc.boolean(),
  lists: fc.uniqueArray(fc.constantFrom("North", "South", "Fair"), { maxLength: 3 }),
  city: fc.constantFrom("", "Faro", "Porto"),
  phone: fc.constantFrom("", "+351210000000"),
  rooms: fc.constantFrom("", "7", "12"),
  stage: fc.constantFrom(...STAGES),
  notes: fc.nat({ max: 2 }),
  block: fc.constantFrom("none", "added_by_rep", "bounced", "opted_out"),
  journeys: fc.constantFrom<Side["journeys"][]>(
    ["none", "none"],
    ["active", "none"],
    ["none", "active"],
    ["finished", "none"],
    ["finished", "active"],
  ),
  events: fc.nat({ max: 2 }),
});

let made = 0;
/** Somebody new as drawn; their id and the address that they have, or "". */
function make(drawn: Side): { id: number; email: string } {
  const name = `person${++made}`;
  const { db } = world.app;
  addPeople(world, [name], "Everybody");
  const id = rows<{ id: number }>(world, "SELECT max(id) AS id FROM prospects")[0]?.id as number;
  const email = drawn.email ? `${name}@${name}-museum.example` : "";
  if (!drawn.email) db.exec(`UPDATE prospects SET email = NULL WHERE id = ${id}`);
  for (const list of drawn.lists) {
    db.exec(`INSERT INTO lists (name, created_at) VALUES ('${list}', 0) ON CONFLICT DO NOTHING`);
    db.exec(
      `INSERT INTO list_prospects (list_id, prospect_id) SELECT id, ${id} FROM lists WHERE name = '${list}'`,
    );
  }
  writeField(db, id, "city", drawn.city);
  writeField(db, id, "phone", drawn.phone);
  if (drawn.rooms !== "") writeField(db, id, "custom:rooms", drawn.rooms);
  db.exec(`UPDATE prospects SET stage = '${drawn.stage}' WHERE id = ${id}`);
  for (let note = 0; note < drawn.notes; note++)
    addNote(world.app, world.userId, { id, text: `note ${note}` });
  if (drawn.block !== "none" && email !== "")
    db.exec(
      `INSERT INTO block_list (kind, value, reason, at) VALUES ('address', '${email}', '${drawn.block}', 0)`,
    );
  drawn.journeys.forEach((state, nth) => {
    if (state !== "none")
      db.exec(`INSERT INTO journeys (sequence_id, prospect_id, due_at, started_at, state, ended_at)
        VALUES (${sequences[nth]}, ${id}, 0, 0, '${state}', ${state === "active" ? "NULL" : 1})`);
  });
  for (let event = 0; event < drawn.events; event++)
    db.exec(`INSERT INTO events (at, kind, prospect_id) VALUES (1, 'opened', ${id})`);
  return { id, email };
}

const count = (table: string, id: number) =>
  rows<{ n: number }>(world, `SELECT count(*) AS n FROM ${table} WHERE prospect_id = ${id}`)[0]?.n;
const listsOf = (id: number) =>
  rows<{ name: string }>(
    world,
    `SELECT l.name FROM list_prospects lp JOIN lists l ON l.id = lp.list_id WHERE lp.prospect_id = ${id} ORDER BY 1`,
  ).map(({ name }) => name);

/** All that is stored of people, but for the changes that are written down. */
const everythingOf = (ids: number[], emails: string[]) =>
  [
    "SELECT email, first_name, city, phone, custom, stage, merged_into, live FROM prospects WHERE id IN (IDS)",
    "SELECT * FROM journeys WHERE prospect_id IN (IDS)",
    "SELECT * FROM list_prospects WHERE prospect_id IN (IDS)",
    "SELECT * FROM notes WHERE prospect_id IN (IDS)",
    "SELECT * FROM events WHERE kind = 'opened' AND prospect_id IN (IDS)",
    `SELECT value, reason FROM block_list WHERE value IN ('${emails.join("','")}')`,
  ].map((query) => rows(world, `${query.replace("IDS", ids.join())} ORDER BY 1, 2`));

it("for any two", () => {
  fc.assert(
    fc.property(side, side, (one, other) => {
      const [kept, gone] = [make(one), make(other)];
      const before = everythingOf([kept.id, gone.id], [kept.email, gone.email]);
      const merged = mergeProspects(world.app, { keepId: kept.id, goneId: gone.id }, world.userId);
      if (!merged.ok) throw new Error(JSON.stringify(merged.errors));

      // Nothing is lost.
      expect(listsOf(kept.id)).toEqual([...new Set(["Everybody", ...one.lists, ...other.lists])].toSorted());
      expect(count("notes", kept.id)).toBe(one.notes + other.notes);
      expect(
        rows(world, `SELECT 1 FROM events WHERE kind = 'opened' AND prospect_id = ${kept.id}`),
      ).toHaveLength(one.events + other.events);
      const { db } = world.app;
      const value = (field: string) => readField(db, kept.id, field as StoredField);
      expect(value("city")).toBe(one.city || other.city);
      expect(value("phone")).toBe(one.phone || other.phone);
      expect(value("custom:rooms")).toBe(one.rooms || other.rooms);
      expect(value("email")).toBe(kept.email || gone.email);

      // The later stage, and what has ended under either name does not begin again.
      const stage = rows<{ stage: Side["stage"] }>(
        world,
        `SELECT stage FROM prospects WHERE id = ${kept.id}`,
      )[0]?.stage;
      const later = Math.max(STAGES.indexOf(one.stage), STAGES.indexOf(other.stage));
      expect(STAGES.indexOf(stage as Side["stage"])).toBe(later);
      const active = rows(
        world,
        `SELECT 1 FROM journeys WHERE prospect_id IN (${kept.id}, ${gone.id}) AND state = 'active'`,
      );
      expect(active.length).toBeLessThanOrEqual(1);
      for (const [nth, sequenceId] of sequences.entries())
        if (one.journeys[nth] !== "none" || other.journeys[nth] !== "none")
          expect(
            rows(
              world,
              `SELECT 1 FROM journeys WHERE prospect_id = ${kept.id} AND sequence_id = ${sequenceId}`,
            ),
          ).not.toEqual([]);

      // The strictest block is on every address, and nobody blocked is on their way.
      const blocks = [kept.email && one.block, gone.email && other.block];
      for (const email of [kept.email, gone.email].filter(Boolean)) {
        const reason = rows<{ reason: string }>(
          world,
          `SELECT reason FROM block_list WHERE value = '${email}'`,
        )[0]?.reason;
        if (blocks.includes("opted_out")) expect(reason).toBe("opted_out");
        else if (blocks.includes("added_by_rep")) expect(reason).toBeDefined();
        if (reason !== undefined && email === (kept.email || gone.email)) expect(active).toEqual([]);
      }

      // And one press makes them two again, as they were.
      expect(undoChange(world.app, world.user, merged.value)).toMatchObject({ ok: true, value: { kept: 0 } });
      expect(everythingOf([kept.id, gone.id], [kept.email, gone.email])).toEqual(before);
    }),
    { numRuns: 150 },
  );
});

describe("what columns found", () => {
  const columns = `INSERT OR IGNORE INTO columns (id, name, code, kind, gives, scope, settings, fresh_days, made_at) VALUES
    (1, 'Line', 'line', 'ask', 'text', 'person', '{}', 90, 1), (2, 'News', 'news', 'site', 'text', 'company', '{}', 90, 1);`;
  const of = (id: number) => {
    const { custom, unread, companyId } = prospectById(world.app.db, id) as Prospect;
    return { custom, unread: unreadFields({ custom, unread }), companyId };
  };
  const idOf = (name: string) =>
    rows<{ id: number }>(world, `SELECT id FROM prospects WHERE first_name = '${name}'`)[0]?.id as number;

  it("about one entry is known of both, and a line that nobody has read is no more read for it; taken back, each has its own", () => {
    addPeople(world, ["quill", "inkwell"], "Merged");
    const [keep, gone] = [idOf("quill"), idOf("inkwell")];
    world.app.db.exec(`${columns}
      INSERT INTO column_values (column_id, code, prospect_id, state, value, at) VALUES (1, 'line', ${gone}, 'found', 'Nobody read me.', 1);`);
    const merged = mergeProspects(world.app, { keepId: keep, goneId: gone }, 1);
    if (!merged.ok) throw new Error("not merged");
    expect(of(keep)).toMatchObject({ custom: { line: "Nobody read me." }, unread: ["line"] });
    world.app.db.exec("UPDATE column_values SET read_at = 2 WHERE value = 'Nobody read me.'");
    expect(of(keep).unread).toEqual([]);
    world.app.db.exec("UPDATE column_values SET read_at = NULL WHERE value = 'Nobody read me.'");
    expect(undoChange(world.app, world.user, merged.value).ok).toBe(true);
    expect(of(keep).custom).not.toHaveProperty("line");
    expect(of(gone)).toMatchObject({ custom: { line: "Nobody read me." }, unread: ["line"] });
  });

  it("about a company is known of all who work at the one that remains", () => {
    addPeople(world, ["slate", "chalk"], "Of two companies");
    const [keep, gone] = [idOf("slate"), idOf("chalk")];
    const companies = [of(keep).companyId as number, of(gone).companyId as number] as const;
    world.app.db.exec(`${columns}
      INSERT INTO column_values (column_id, code, company_id, state, value, read_at, at) VALUES (2, 'news', ${companies[1]}, 'found', 'They opened.', 1, 1);`);
    const undone = mergeCompanies(world.app, { keepId: companies[0], goneId: companies[1] }, 1);
    expect([of(keep).custom.news, of(gone).custom.news]).toEqual(["They opened.", "They opened."]);
    expect(undoChange(world.app, world.user, undone as number).ok).toBe(true);
    expect([of(keep).custom.news, of(gone).custom.news]).toEqual([undefined, "They opened."]);
  });
});
