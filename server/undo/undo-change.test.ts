/** Taking back: who may, what goes back together or not at all, and what stays because it was changed since. */
import { beforeAll, describe, expect, it } from "vitest";
import { DAY } from "../../core/calendar.ts";
import type { User } from "../accounts/session.ts";
import type { AppTx } from "../app.ts";
import { setDemoClock } from "../clock.ts";
import { applyBlocks } from "../prospects/block-list/block-list.ts";
import { mergeProspects } from "../prospects/duplicates/merge-prospects.ts";
import { deleteList } from "../prospects/lists/change-list.ts";
import { addPeople, createWorld, inCopyOf } from "../tests/world.ts";
import { offeredUndos, undoChange, undoChanges } from "./undo-change.ts";

let image: Buffer;
let marta: User;
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  marta = world.user;
  addPeople(world, ["ana", "bia", "caio"]);
  world.app.db.exec(
    "INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, created_at, role) VALUES (2, 'r@q.example', 'Rui', 'x', 'UTC', 'r', 0, 'rep'), (3, 'h@q.example', 'Helga', 'x', 'UTC', 'h', 0, 'manager')",
  );
  image = world.app.db.serialize();
  await world.close();
});

const inCopy = <T>(work: (app: AppTx) => T): T => inCopyOf(image, work);
const rui = (): User => ({ ...marta, id: 2, name: "Rui", role: "rep" });
const helga = (): User => ({ ...marta, id: 3, name: "Helga", role: "manager" });
const block = (app: AppTx, text: string): number => {
  const done = applyBlocks(app, 1, { text, mode: "append", note: "" });
  if (!done.ok) throw new Error(JSON.stringify(done.errors));
  return done.value.undoId;
};
const blocked = (app: AppTx) => app.db.prepare("SELECT value FROM block_list ORDER BY value").pluck().all();
const GONE = { form: "There is nothing to take back any more." };

describe("taking back", () => {
  it("is done once, and by whoever did it or a manager", () =>
    inCopy((app) => {
      const id = block(app, "away.example");
      expect(undoChange(app, rui(), id)).toMatchObject({ ok: false, code: "not_yours" });
      expect(blocked(app)).toEqual(["away.example"]);
      expect(undoChange(app, { ...marta, role: "rep" }, id)).toEqual({
        ok: true,
        value: { kind: "block", kept: 0 },
      });
      expect(blocked(app)).toEqual([]);
      expect(undoChange(app, marta, id)).toMatchObject({ ok: false, errors: GONE });
      const other = block(app, "away.example");
      expect(undoChange(app, helga(), other).ok).toBe(true);
    }));

  it("of several is all or nothing", () =>
    inCopy((app) => {
      const [one, two] = [block(app, "one.example"), block(app, "two.example")];
      expect(undoChanges(app, marta, [one, 999])).toMatchObject({ ok: false, errors: GONE });
      expect(undoChanges(app, rui(), [one, two])).toMatchObject({ ok: false });
      expect(blocked(app)).toEqual(["one.example", "two.example"]);
      expect(undoChanges(app, marta, [one, two])).toEqual({ ok: true, value: 0 });
      expect(blocked(app)).toEqual([]);
      expect(undoChanges(app, marta, [])).toEqual({ ok: true, value: 0 });
    }));

  it("says how much stays as it is now", () =>
    inCopy((app) => {
      const id = block(app, "one.example");
      app.db.exec("UPDATE block_list SET reason = 'opted_out'");
      expect(undoChange(app, marta, id)).toEqual({ ok: true, value: { kind: "block", kept: 1 } });
      expect(blocked(app)).toEqual(["one.example"]);
    }));

  it("brings a deleted list back with its people", () =>
    inCopy((app) => {
      const gone = deleteList(app, 1, 1);
      const lists = () => app.db.prepare("SELECT count(*) FROM list_prospects").pluck().get();
      expect(lists()).toBe(0);
      expect(undoChange(app, marta, gone.ok ? gone.value : 0)).toMatchObject({ value: { kind: "list" } });
      expect(lists()).toBe(3);
    }));

  it("of two that became one makes them two, who are not taken for one again", () =>
    inCopy((app) => {
      app.db.exec(
        "INSERT INTO duplicates (kind, a_id, b_id, reason, state, at) VALUES ('person', 1, 2, 'name', 'open', 0), ('person', 2, 3, 'name', 'open', 0)",
      );
      const merged = mergeProspects(app, { keepId: 2, goneId: 1 }, 1);
      const states = () =>
        app.db
          .prepare("SELECT a_id || '-' || b_id || ' ' || state FROM duplicates ORDER BY a_id")
          .pluck()
          .all();
      expect(states()[0]).toBe("1-2 merged");
      expect(undoChange(app, marta, merged.ok ? merged.value : 0)).toMatchObject({
        value: { kind: "merge_people" },
      });
      expect(states()[0]).toBe("1-2 apart");
      expect(app.db.prepare("SELECT merged_into FROM prospects WHERE id = 1").pluck().get()).toBeNull();
    }));
});

describe("what is offered", () => {
  it("is one's own, a manager's what nobody did, the latest first, and not what was taken back", () =>
    inCopy((app) => {
      const [one, two] = [block(app, "one.example"), block(app, "two.example")];
      const ids = (user: User) => offeredUndos(app, user).map(({ id }) => id);
      expect(ids({ ...marta, role: "rep" })).toEqual([two, one]);
      expect(ids(rui())).toEqual([]);
      expect(ids(helga())).toEqual([]);
      app.db.exec(`UPDATE undo_records SET user_id = NULL WHERE id = ${one}`);
      expect(ids(helga())).toEqual([one]);
      app.db.exec(`UPDATE undo_records SET user_id = 1 WHERE id = ${one}`);
      undoChange(app, marta, two);
      expect(ids(marta)).toEqual([one]);
    }));

  it("is so for thirty days", () =>
    inCopy((app) => {
      const at = app.clock.now();
      setDemoClock(app.db, at, false);
      block(app, "one.example");
      setDemoClock(app.db, at + 30 * DAY, false);
      expect(offeredUndos(app, marta)).toHaveLength(1);
      setDemoClock(app.db, at + 30 * DAY + 1, false);
      expect(offeredUndos(app, marta)).toEqual([]);
    }));
});
