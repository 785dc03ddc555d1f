import Papa from "papaparse";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Filter } from "../../../core/prospects/filter.ts";
import { allCustomFields, type Prospect, prospectById, prospectValues } from "../../db/prospects.ts";
import { startSequence } from "../../sequences/start-sequence.ts";
import { stopByRep } from "../../sequences/stop-by-rep.ts";
import { addPeople, addSequence, createWorld, rows, type World } from "../../tests/world.ts";
import { offeredUndos, undoChange, undoChanges } from "../../undo/undo-change.ts";
import { applyBlocks, listBlocked, previewBlocks, unblock } from "../block-list/block-list.ts";
import { optOutProspect } from "../block-list/opt-out.ts";
import { countRules, listCleanings, refuseRule } from "../cleaning/cleanings.ts";
import { decideDuplicates, openDuplicates } from "../duplicates/duplicates.ts";
import { findAndMerge } from "../duplicates/find-and-merge.ts";
import { mergeProspects } from "../duplicates/merge-prospects.ts";
import { formOfList, HONEYPOT, saveForm, takeEntry } from "../forms/forms.ts";
import { importProspects } from "../imports/import-prospects.ts";
import { addNote, addProspect } from "../people/add-prospect.ts";
import { bulkEdit, undoBulk } from "../people/bulk-edit.ts";
import { exportCsv, exportVcards } from "../people/export-prospects.ts";
import { listProspects, prospectsQuery } from "../people/list-prospects.ts";
import { prospectStory } from "../people/prospect-story.ts";
import { saveProspect } from "../people/save-prospect.ts";
import { eraseProspect } from "../privacy/erase-prospect.ts";
import { personData } from "../privacy/person-data.ts";
import { deleteList, renameList, usesOfList } from "./change-list.ts";
import { listState } from "./list-state.ts";
import { allLists } from "./lists.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
});
afterEach(() => world.close());

async function bring(csv: string, listName = "Museums") {
  const outcome = await importProspects(world.app, world.userId, {
    name: "a.csv",
    bytes: new TextEncoder().encode(csv),
    listName,
  });
  if (!outcome.ok) throw new Error(JSON.stringify(outcome.errors));
  return outcome.value;
}
const find = (query: Record<string, string>) => listProspects(world.app, null, prospectsQuery.parse(query));
const names = (query: Record<string, string>) =>
  find({ sort: "name", dir: "asc", ...query }).rows.map(({ name }) => name);
const where = (...conditions: [field: string, op: string, value: string][]) => ({
  f: JSON.stringify({
    match: "all",
    groups: [{ match: "all", conditions: conditions.map(([field, op, value]) => ({ field, op, value })) }],
  } satisfies Filter),
});

describe("the list of prospects", () => {
  it("is found by name, address or company, sorted by name and company, and paged", async () => {
    const lines = Array.from(
      { length: 60 },
      (_, nth) => `p${nth}@kai.example,Ana,Name${String(nth).padStart(2, "0")},Kai`,
    );
    await bring(
      `email,first name,last name,company\n${lines.join("\n")}\nx@other.example,Bia,Solo,Another house`,
    );
    expect(find({}).total).toBe(61);
    expect(find({ sort: "name", dir: "asc", page: "2" }).rows[0]?.name).toBe("Ana Name50");
    expect(find({ sort: "company", dir: "asc" }).rows[0]?.name).toBe("Bia Solo");
    expect(names({ q: "another ho" })).toEqual(["Bia Solo"]);
    expect(find({ q: "bia solo" }).total).toBe(1);
    expect(find({ q: "%" }).total).toBe(61);
    expect(find({ sort: "; DROP", page: "-3", size: "9999" }).rows).toHaveLength(25);
  });

  it("is filtered by any field, in groups of all and any, by outcome, list and block", async () => {
    await bring(
      "email,first name,city,rooms,job title\na@a.example,Ana,Faro,7,Keeper\nb@b.example,Bia,Porto,9,Keeper\nc@c.example,Caio,Faro,,Archivist\n",
    );
    expect(names(where(["city", "is", "faro"]))).toEqual(["Ana", "Caio"]);
    expect(names(where(["city", "is", "faro"], ["title", "contains_not", "arch"]))).toEqual(["Ana"]);
    expect(names(where(["custom:rooms", "filled", ""]))).toEqual(["Ana", "Bia"]);
    expect(names(where(["verdict", "is", "unchecked"], ["added", "within", "1"]))).toEqual([
      "Ana",
      "Bia",
      "Caio",
    ]);
    const either = {
      match: "any",
      groups: [
        { match: "all", conditions: [{ field: "firstName", op: "is", value: "bia" }] },
        {
          match: "any",
          conditions: [
            { field: "custom:rooms", op: "is", value: "7" },
            { field: "city", op: "empty", value: "" },
          ],
        },
      ],
    };
    expect(names({ f: JSON.stringify(either) })).toEqual(["Ana", "Bia"]);
    applyBlocks(world.app, world.userId, { text: "a.example", mode: "append" });
    expect(names(where(["blocked", "is", "yes"]))).toEqual(["Ana"]);
    const sequence = addSequence(world, 1, []);
    world.app.db.exec(`INSERT INTO journeys (id, sequence_id, prospect_id, due_at, started_at) VALUES (1, ${sequence}, 2, 0, 0), (2, ${sequence}, 3, 0, 0);
      INSERT INTO events (at, kind, prospect_id, journey_id) VALUES (1, 'opened', 2, 1), (1, 'opened', 3, 2), (2, 'replied', 3, 2)`);
    expect(names(where(["outcome", "is", `${sequence} opened_silent`]))).toEqual(["Bia"]);
    expect(names(where(["outcome", "is", "any not_started"]))).toEqual(["Ana"]);
    expect(
      find({
        f: '{"match":"all","groups":[{"match":"all","conditions":[{"field":"x\' OR 1","op":"is","value":""}]}]}',
      }).total,
    ).toBe(3);
  });

  it("is exported whole, with cells that no spreadsheet takes for a formula", async () => {
    await bring('email,first name,remark\na@a.example,Ana,"=HYPERLINK(""x"")"\n');
    const read = Papa.parse<Record<string, string>>(exportCsv(world.app, null, {}), { header: true }).data;
    expect(read).toMatchObject([{ Email: "a@a.example", remark: '\'=HYPERLINK("x")', Lists: "Museums" }]);
    expect(exportVcards(world.app, null, { q: "ana" })).toContain("EMAIL:a@a.example");
  });
});

describe("a bulk edit", () => {
  it("changes everybody whom the query means, and is taken back where nobody changed it again", () => {
    addPeople(world, ["ana", "bia", "caio"]);
    const done = bulkEdit(world.app, world.user, {
      ids: null,
      query: { q: "a museum" },
      action: { kind: "set", field: "stage", value: "won" },
    });
    expect(done).toMatchObject({ ok: true, value: { count: 2 } });
    saveProspect(world.app, world.userId, { id: 2, stage: "lost" });
    expect(done.ok && undoBulk(world.app, world.userId, done.value.batch as number)).toMatchObject({
      value: 1,
    });
    expect(rows(world, "SELECT stage FROM prospects ORDER BY id")).toEqual([
      { stage: "new" },
      { stage: "lost" },
      { stage: "new" },
    ]);
  });

  it("refuses a stage that there is not, and puts nobody on a list twice", () => {
    addPeople(world, ["ana"]);
    expect(
      bulkEdit(world.app, world.user, { ids: [1], action: { kind: "set", field: "stage", value: "x" } }).ok,
    ).toBe(false);
    const put = () =>
      bulkEdit(world.app, world.user, { ids: [1], action: { kind: "add_to_list", name: "New" } });
    expect([put(), put()]).toMatchObject([{ value: { count: 1 } }, { value: { count: 0 } }]);
  });
});

describe("a rule that is refused", () => {
  it("gives one value or all of a list back as they came, and cleans them again", async () => {
    const { listId } = await bring(
      "email,first name,company\na@a.example,ANA 🚀,Casa Lda\nb@b.example,BIA,Mar Lda\n",
    );
    expect(countRules(world.app, listId)).toContainEqual({ rule: "capitals", applied: 2, refused: 0 });
    refuseRule(world.app, null, { listId, rule: "capitals", prospectId: 1, refuse: true });
    expect(rows(world, "SELECT first_name AS n FROM prospects ORDER BY id")).toEqual([
      { n: "ANA" },
      { n: "Bia" },
    ]);
    refuseRule(world.app, null, { listId, rule: "legal_form", refuse: true });
    expect(rows(world, "SELECT company AS c FROM prospects ORDER BY id")).toEqual([
      { c: "Casa Lda" },
      { c: "Mar Lda" },
    ]);
    expect(listCleanings(world.app, listId, "legal_form", 0)).toMatchObject([
      { refused: ["legal_form"] },
      { refused: ["legal_form"] },
    ]);
    saveProspect(world.app, world.userId, { id: 1, firstName: "Aninha" });
    refuseRule(world.app, null, { listId, rule: "capitals", refuse: false });
    expect(rows(world, "SELECT first_name AS n FROM prospects ORDER BY id")).toEqual([
      { n: "Aninha" },
      { n: "Bia" },
    ]);
  });
});

describe("a merge", () => {
  it("keeps history, lists, notes, the later stage and the strictest block, and the other address leads to who remains", async () => {
    const list = addPeople(world, ["ana", "bia"]);
    addPeople(world, ["bia"], "Second");
    startSequence(world.app, world.userId, addSequence(world, list, [1], { mailboxIds: [] }));
    addNote(world.app, world.userId, { id: 2, text: "rang her" });
    saveProspect(world.app, world.userId, { id: 2, city: "Faro", stage: "won" });
    optOutProspect(world.app, 2);
    expect(mergeProspects(world.app, { keepId: 1, goneId: 2 }, world.userId).ok).toBe(true);
    const story = prospectStory(world.app, null, 2);
    expect(story).toMatchObject({
      prospect: { id: 1, city: "Faro", stage: "won" },
      blocked: true,
      otherAddresses: ["bia@bia-museum.example"],
    });
    expect(story.lists.map(({ name }) => name)).toEqual(["Museums", "Second"]);
    expect(story.notes).toHaveLength(1);
    expect(story.events.map(({ kind }) => kind)).toContain("opted_out");
    expect(find({}).total).toBe(1);
    expect(mergeProspects(world.app, { keepId: 1, goneId: 2 }, world.userId).ok).toBe(false);
  });

  it("happens by itself only where one of two of a name has no address; others are asked about", async () => {
    await bring(
      "email,first name,last name,company,website\nilse@kai.example,Ilse,Brandt,Kai,kai.example\nmarta@kai.example,Marta,Solheim,Kai,kai.example\n",
      "One",
    );
    const { report } = await bring(
      "email,first name,last name,company,website\n,Ilse,Brandt,Kai,kai.example\nm.solheim@kai.example,Marta,Solhem,Kai,kai.example\nx@kai-nord.example,Xaver,Ohlsen,Kaimuseum Nord GmbH,\ny@kainord.example,Yaro,Harms,KAIMUSEUM NORD,\n",
      "Two",
    );
    expect(report).toMatchObject({ merged: 1, likely: 2 });
    const { groups } = openDuplicates(world.app, null, null);
    expect(groups.map(({ kind, reasons }) => [kind, reasons])).toEqual([
      ["person", ["near_name"]],
      ["company", ["same_name"]],
    ]);
    const [people, companies] = groups;
    const decide = (choice: object) => decideDuplicates(world.app, world.user, choice);
    expect(decide({ pairs: people?.pairIds.join() })).toMatchObject({ ok: true, value: [] });
    const [keepId, goneId] = companies?.sides.map(({ id }) => id) ?? [];
    const merged = decide({ pairs: companies?.pairIds.join(), keepId, same: `${keepId},${goneId}` });
    if (!merged.ok) throw new Error(JSON.stringify(merged.errors));
    expect(await findAndMerge(world.app, { importId: null })).toEqual({ merged: 0, likely: 0 });
    expect(rows(world, "SELECT DISTINCT company FROM prospects WHERE company LIKE 'kaim%'")).toEqual([
      { company: "Kaimuseum Nord" },
    ]);
    // Two again, and neither asked about nor merged another time.
    expect(undoChanges(world.app, world.user, merged.value)).toMatchObject({ ok: true, value: 0 });
    expect(rows(world, "SELECT DISTINCT company_id FROM prospects WHERE company LIKE 'kaim%'")).toHaveLength(
      2,
    );
    expect(await findAndMerge(world.app, { importId: null })).toEqual({ merged: 0, likely: 0 });
  });

  it("of many spellings is one question, some of which can be others", async () => {
    await bring(
      ["Kaimuseum Nord GmbH", "KAIMUSEUM NORD", "Kaimuseum Nord AG", "The Kaimuseum Nord"]
        .map((company, nth) => `p${nth}@kai${nth}.example,${company}`)
        .reduce((text, line) => `${text}${line}\n`, "email,company\n"),
    );
    const [group, ...others] = openDuplicates(world.app, null, null).groups;
    expect(others).toEqual([]);
    const [a, b, c, d] = group?.sides.map(({ id }) => id) ?? [];
    const merged = decideDuplicates(world.app, world.user, {
      pairs: group?.pairIds.join(),
      keepId: a,
      same: [a, b, d].join(),
    });
    expect(merged).toMatchObject({ ok: true, value: [expect.any(Number), expect.any(Number)] });
    expect(rows(world, "SELECT id, merged_into AS into_id FROM companies ORDER BY id")).toEqual([
      { id: a, into_id: null },
      { id: b, into_id: a },
      { id: c, into_id: null },
      { id: d, into_id: a },
    ]);
    expect(openDuplicates(world.app, null, null).groups).toEqual([]);
  });
});

describe("what is taken back", () => {
  const undo = (outcome: { ok: boolean; value?: unknown }) =>
    undoChange(world.app, world.user, Number(outcome.value));

  it("a deleted list has its people, its form and its sequence again", () => {
    const listId = addPeople(world, ["ana", "bia"]);
    addSequence(world, listId, [], {});
    saveForm(world.app, world.userId, { listId });
    const form = formOfList(world.app, null, listId);
    expect(undo(deleteList(world.app, world.userId, listId))).toMatchObject({ ok: true, value: { kept: 0 } });
    expect(rows(world, "SELECT prospect_id AS id FROM list_prospects")).toEqual([{ id: 1 }, { id: 2 }]);
    expect(formOfList(world.app, null, listId)).toEqual(form);
    expect(usesOfList(world.app, null, listId).sequences).toEqual(["Loans"]);
  });

  it("people who were blocked go on where they were, and an entry that was taken off is back", () => {
    const list = addPeople(world, ["ana"]);
    startSequence(world.app, world.userId, addSequence(world, list, [1], { mailboxIds: [] }));
    world.app.db.exec(
      "INSERT INTO journeys (sequence_id, prospect_id, due_at, started_at) SELECT 1, 1, 0, 0 WHERE NOT EXISTS (SELECT 1 FROM journeys)",
    );
    const blocked = bulkEdit(world.app, world.user, { ids: [1], action: { kind: "block" } });
    expect(rows(world, "SELECT state FROM journeys")).toEqual([{ state: "stopped" }]);
    if (!blocked.ok) throw new Error("not blocked");
    expect(undoChange(world.app, world.user, blocked.value.undoId ?? 0).ok).toBe(true);
    expect(rows(world, "SELECT state FROM journeys")).toEqual([{ state: "active" }]);
    expect(rows(world, "SELECT * FROM block_list")).toEqual([]);

    applyBlocks(world.app, world.userId, { text: "one.example", mode: "append", note: "customers" });
    const [entry] = listBlocked(world.app, "one", 0).rows;
    undo(unblock(world.app, world.userId, { id: entry?.id }));
    expect(listBlocked(world.app, "one", 0).rows).toEqual([entry]);
  });

  it("somebody whose follow-ups were stopped goes on where they were", () => {
    const list = addPeople(world, ["ana"]);
    startSequence(world.app, world.userId, addSequence(world, list, [1], { mailboxIds: [] }));
    world.app.db.exec(
      "INSERT INTO journeys (sequence_id, prospect_id, due_at, started_at) SELECT 1, 1, 0, 0 WHERE NOT EXISTS (SELECT 1 FROM journeys)",
    );
    const stopped = stopByRep(world.app, 1, world.userId);
    if (!stopped.ok) throw new Error("not stopped");
    const undoId = stopped.value;
    expect(rows(world, "SELECT state FROM journeys")).toEqual([{ state: "stopped" }]);
    expect(undoChange(world.app, world.user, undoId)).toMatchObject({ ok: true, value: { kept: 0 } });
    expect(rows(world, "SELECT state, stop_reason FROM journeys")).toEqual([
      { state: "active", stop_reason: null },
    ]);
  });

  it("is offered to who did it, and not to somebody else", () => {
    const deleted = deleteList(world.app, world.userId, addPeople(world, ["ana"]));
    expect(offeredUndos(world.app, world.user)).toMatchObject([
      { kind: "list", what: expect.stringContaining("deleted") },
    ]);
    const other = { ...world.user, id: 999, role: "rep" as const };
    expect(offeredUndos(world.app, other)).toEqual([]);
    expect(undoChange(world.app, other, deleted.ok ? deleted.value : 0)).toMatchObject({ ok: false });
    expect(undo(deleted).ok).toBe(true);
    expect(undo(deleted)).toMatchObject({
      errors: { form: expect.stringContaining("nothing to take back") },
    });
  });
});

describe("the block list", () => {
  const paste = (text: string, mode = "append") => ({ text, mode, note: "customers" });

  it("reads what people paste, says what changes, and stops whoever is on the way", () => {
    const list = addPeople(world, ["ana", "bia"]);
    startSequence(world.app, world.userId, addSequence(world, list, [1], { mailboxIds: [] }));
    world.app.db.exec(
      "INSERT INTO journeys (sequence_id, prospect_id, due_at, started_at) SELECT 1, 1, 0, 0 WHERE NOT EXISTS (SELECT 1 FROM journeys)",
    );
    const text =
      "Email\nAna <ANA@ana-museum.example>\nhttps://www.heron.example/x, otter.example\n\nnothing here";
    expect(previewBlocks(world.app, paste(text))).toMatchObject({
      ok: true,
      value: {
        add: [
          { value: "ana@ana-museum.example" },
          { kind: "domain", value: "heron.example" },
          { value: "otter.example" },
        ],
        stops: 1,
        broken: [{ line: 5 }],
      },
    });
    applyBlocks(world.app, world.userId, paste(text));
    expect(rows(world, "SELECT state, stop_reason FROM journeys WHERE prospect_id = 1")).toEqual([
      { state: "stopped", stop_reason: "blocked" },
    ]);
  });

  it("is replaced without losing who opted out, who comes off only with the reason in words", () => {
    addPeople(world, ["ana"]);
    optOutProspect(world.app, 1);
    applyBlocks(world.app, world.userId, paste("one.example\ntwo.example"));
    expect(
      applyBlocks(world.app, world.userId, paste("two.example\nthree.example", "replace")),
    ).toMatchObject({
      value: { add: [{ value: "three.example" }], remove: [{ value: "one.example" }], same: 1, stay: 1 },
    });
    const entry = listBlocked(world.app, "ana@", 0).rows[0];
    expect(unblock(world.app, null, { id: entry?.id, why: "ok" }).ok).toBe(false);
    expect(unblock(world.app, null, { id: entry?.id, why: "she asked for the price list by phone" }).ok).toBe(
      true,
    );
    expect(listBlocked(world.app, "", 0).total).toBe(2);
    expect(rows(world, "SELECT why FROM block_removals WHERE reason = 'opted_out'")).toHaveLength(1);
  });
});

describe("a person who is erased", () => {
  it("leaves no word behind, and no file, form or hand brings them back", async () => {
    const { listId } = await bring("email,first name,last name\nilse@kai.example,Ilse,Brandt\n");
    addNote(world.app, world.userId, { id: 1, text: "Ilse rang" });
    optOutProspect(world.app, 1);
    expect(JSON.stringify(personData(world.app, 1))).toContain("Ilse rang");
    expect(eraseProspect(world.app, null, { id: 1, name: "Ilse" }).ok).toBe(false);
    expect(eraseProspect(world.app, null, { id: 1, name: "ilse brandt" }).ok).toBe(true);
    const tables = rows<{ name: string }>(
      world,
      "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT IN ('users', 'column_uses')",
    );
    for (const { name } of tables)
      expect(JSON.stringify(rows(world, `SELECT * FROM ${name}`)).toLowerCase(), name).not.toMatch(
        /ilse|brandt/,
      );
    expect(
      (
        await importProspects(world.app, null, {
          name: "a.csv",
          bytes: new TextEncoder().encode("email,x\nilse@kai.example,1\nb@b.example,1\n"),
          listName: "Again",
        })
      ).ok,
    ).toBe(true);
    expect(addProspect(world.app, world.userId, { email: "ILSE@kai.example", listName: "A" })).toMatchObject({
      errors: { email: expect.stringContaining("erased") },
    });
    saveForm(world.app, world.userId, { listId });
    takeEntry(world.app, formOfList(world.app, null, listId)?.token ?? "", { email: "ilse@kai.example" });
    expect(names({})).toEqual([""]);
    expect(() => prospectStory(world.app, null, 1)).toThrow("does not exist");
  });
});

describe("a web form", () => {
  it("brings people to its list, cleaned, and starts the running sequence; programs and the blocked are thanked and not kept", () => {
    const listId = addPeople(world, ["ana"]);
    const sequence = addSequence(world, listId, [1], { mailboxIds: [] });
    world.app.db.exec("UPDATE sequences SET state = 'running'");
    saveForm(world.app, world.userId, { listId, sequenceId: String(sequence), fields: ["Rooms about"] });
    const token = formOfList(world.app, null, listId)?.token ?? "";
    expect(
      takeEntry(world.app, token, {
        email: "odessa@cedar.example",
        first_name: "ODESSA",
        "Rooms (about)": "12",
        rank: "1",
      }).ok,
    ).toBe(true);
    takeEntry(world.app, token, { email: "robot@cedar.example", [HONEYPOT]: "https://spam.example" });
    applyBlocks(world.app, world.userId, { text: "heron.example", mode: "append" });
    takeEntry(world.app, token, { email: "isla@heron.example" });
    expect(takeEntry(world.app, token, { email: "broken" })).toMatchObject({
      errors: { email: expect.any(String) },
    });
    expect(takeEntry(world.app, "other", { email: "a@b.example" }).ok).toBe(false);
    expect(rows(world, "SELECT email, first_name, custom FROM prospects WHERE origin = 'form'")).toEqual([
      { email: "odessa@cedar.example", first_name: "Odessa", custom: '{"rooms_about":"12"}' },
    ]);
    // A stranger's field that nobody asked for is no field of the team's.
    expect(allCustomFields(world.app.db)).toEqual(["rooms_about"]);
    expect(rows(world, "SELECT state FROM journeys")).toEqual([{ state: "active" }]);
    // What is not named stays as it was.
    saveForm(world.app, world.userId, { listId, sequenceId: "" });
    expect(formOfList(world.app, null, listId)).toMatchObject({ sequenceId: null, fields: ["rooms_about"] });
  });
});

it("a list's counts follow its people and their verdicts", () => {
  const listId = addPeople(world, ["ana", "bia", "caio"]);
  expect(listState(world.app, listId).verdicts).toMatchObject({ unchecked: 3, good: 0 });
  world.app.db.exec("UPDATE prospects SET verdict = 'good' WHERE id < 3");
  expect(listState(world.app, listId)).toMatchObject({
    people: 3,
    verdicts: { unchecked: 1, good: 2 },
    blocked: 0,
  });
  bulkEdit(world.app, world.user, { ids: [1], action: { kind: "remove_from_list", listId } });
  applyBlocks(world.app, world.userId, { text: "bia-museum.example", mode: "append" });
  expect(listState(world.app, listId)).toMatchObject({ people: 2, verdicts: { good: 1 }, blocked: 1 });
});

describe("a list", () => {
  it("takes another name, but not one that is taken or none", () => {
    const listId = addPeople(world, ["ana"]);
    addPeople(world, ["bia"], "Fair");
    expect(renameList(world.app, null, listId, { name: "Fair" })).toMatchObject({
      errors: { name: expect.any(String) },
    });
    expect(renameList(world.app, null, listId, { name: "  " })).toMatchObject({
      errors: { name: expect.any(String) },
    });
    expect(renameList(world.app, null, 99, { name: "X" })).toMatchObject({
      errors: { form: expect.any(String) },
    });
    expect(renameList(world.app, null, listId, { name: " Museums, north " }).ok).toBe(true);
    expect(allLists(world.app, null).map(({ name }) => name)).toEqual(["Fair", "Museums, north"]);
  });

  it("goes without its people, who go on where they are; its number is never given again", () => {
    const listId = addPeople(world, ["ana", "bia"]);
    const sequenceId = addSequence(world, listId, [], {});
    world.app.db.exec(
      `INSERT INTO journeys (sequence_id, prospect_id, due_at, started_at) VALUES (${sequenceId}, 1, 0, 0)`,
    );
    saveForm(world.app, world.userId, { listId });
    const token = formOfList(world.app, null, listId)?.token ?? "";
    expect(usesOfList(world.app, null, listId)).toMatchObject({ sequences: ["Loans"], hasForm: true });
    const taken = bulkEdit(world.app, world.user, {
      ids: [2],
      action: { kind: "remove_from_list", listId },
    });
    expect(deleteList(world.app, world.userId, listId).ok).toBe(true);
    expect(deleteList(world.app, world.userId, listId).ok).toBe(false);
    expect(find({}).total).toBe(2);
    expect(rows(world, "SELECT state FROM journeys")).toEqual([{ state: "active" }]);
    expect(takeEntry(world.app, token, { email: "late@cedar.example" }).ok).toBe(false);
    // What took somebody off it can be undone, and puts them on no other list.
    if (!taken.ok) throw new Error("not taken off");
    undoBulk(world.app, world.userId, taken.value.batch ?? 0);
    expect(rows(world, "SELECT * FROM list_prospects")).toEqual([]);
    expect(addPeople(world, ["caio"], "Another")).toBeGreaterThan(listId);
  });

  it("stays while a file is imported into it", async () => {
    const listId = addPeople(world, ["ana"]);
    await bring("email\na@a.example\n");
    world.app.db.exec("UPDATE imports SET state = 'importing'");
    expect(deleteList(world.app, world.userId, listId)).toMatchObject({
      errors: { form: expect.stringContaining("imported") },
    });
  });
});

it("a country is typed, found and written by its name, and kept by its code", () => {
  addPeople(world, ["ana", "bia"]);
  saveProspect(world.app, world.userId, { id: 1, country: "Países Baixos" });
  bulkEdit(world.app, world.user, {
    ids: [2],
    action: { kind: "set", field: "country", value: "Atlantis" },
  });
  expect(rows(world, "SELECT country FROM prospects ORDER BY id")).toEqual([
    { country: "NL" },
    { country: "Atlantis" },
  ]);
  expect(names(where(["country", "is", "netherlands"]))).toEqual(["ana"]);
  expect(names(where(["country", "contains", "lant"]))).toEqual(["bia"]);
  const merged = [1, 2].map((id) => prospectValues(prospectById(world.app.db, id) as Prospect).country);
  expect(merged).toEqual(["Netherlands", "Atlantis"]);
});
