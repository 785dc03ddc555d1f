/** A sequence that somebody keeps to themselves is for the others as if it were not there, and one that was deleted for everybody. */
import { beforeAll, describe, expect, it } from "vitest";
import type { App, AppTx } from "../app.ts";
import { sequenceById } from "../db/sequences.ts";
import { filterChoices } from "../prospects/filters/filter-choices.ts";
import { formOfList, saveForm, takeEntry } from "../prospects/forms/forms.ts";
import { usesOfList } from "../prospects/lists/change-list.ts";
import { lookQuery } from "../results/look.ts";
import { overview } from "../results/overview.ts";
import { sequenceChoices } from "../sequences/add-people.ts";
import { deleteSequence } from "../sequences/keep-sequences.ts";
import { listSequences } from "../sequences/list-sequences.ts";
import { startJourneys, startSequence } from "../sequences/start-sequence.ts";
import { addPeople, addSequence, addUnasked, createWorld, inCopyOf } from "../tests/world.ts";
import { find } from "./find.ts";

const [MARTA, RUI, BOSS] = [1, 2, 3];
let image: Buffer;
let id: number;
let listId: number;

beforeAll(async () => {
  const world = await createWorld({ standin: false });
  const { app } = world;
  app.db.exec(`INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, role, created_at) VALUES
    (${RUI}, 'r@q.example', 'Rui', 'x', 'UTC', 'rui', 'rep', 0), (${BOSS}, 'b@q.example', 'Helga', 'x', 'UTC', 'h', 'manager', 0);
    UPDATE users SET role = 'rep' WHERE id = ${MARTA}`);
  listId = addPeople(world, ["ana"]);
  id = addSequence(world, listId, [addUnasked(world)]);
  startSequence(app, MARTA, id);
  saveForm(app, MARTA, { listId, sequenceId: id });
  image = app.db.serialize();
  await world.close();
});

const inCopy = <T>(work: (app: AppTx) => T): T => inCopyOf(image, work);

/** Every place that names sequences, and whether it names this one. */
const PLACES: Record<string, (app: App, by: number) => boolean> = {
  "the finder": (app, by) => find(app, by, "loans").some(({ to }) => to === `/sequences/${id}`),
  "the list of sequences": (app, by) => listSequences(app, by).some((each) => each.id === id),
  results: (app, by) => overview(app, by, lookQuery.parse({}), "UTC").lines.some((each) => each.id === id),
  "a filter's choices": (app, by) => filterChoices(app, by).sequences.some((each) => each.id === id),
  "what a list is used for": (app, by) => usesOfList(app, by, listId).sequences.includes("Loans"),
  "a list's form": (app, by) => formOfList(app, by, listId)?.sequenceName === "Loans",
};
const named = (app: App, by: number) =>
  Object.entries(PLACES)
    .filter(([, names]) => names(app, by))
    .map(([place]) => place);

describe("a sequence", () => {
  it("of the team is named everywhere, to everybody", () => {
    inCopy((app) => {
      for (const by of [MARTA, RUI, BOSS]) expect(named(app, by)).toEqual(Object.keys(PLACES));
      expect([MARTA, RUI].map((by) => sequenceChoices(app, by).length)).toEqual([1, 0]);
    });
  });

  it("that is personal is named to its owner and to managers alone", () => {
    inCopy((app) => {
      app.db.exec("UPDATE sequences SET is_personal = 1, revision = revision + 1");
      for (const by of [MARTA, BOSS]) expect(named(app, by)).toEqual(Object.keys(PLACES));
      expect(named(app, RUI)).toEqual([]);
      expect(formOfList(app, RUI, listId)?.sequenceName).toBe("a colleague's own sequence");
    });
  });

  it("that was deleted is named to nobody, and starts for nobody: not from its form, and not by an open page", () => {
    inCopy((app) => {
      expect(deleteSequence(app, MARTA, id).ok).toBe(true);
      for (const by of [MARTA, RUI, BOSS]) expect(named(app, by)).toEqual([]);
      const form = formOfList(app, MARTA, listId);
      expect(form?.sequenceName).toBe("a sequence that was deleted");
      takeEntry(app, form?.token ?? "", { email: "new@kai.example" });
      const gone = sequenceById(app.db, id);
      expect(gone && startJourneys(app, MARTA, gone, [2])).toEqual([]);
      expect(app.db.prepare("SELECT count(*) FROM journeys WHERE state = 'active'").pluck().get()).toBe(0);
      expect(saveForm(app, MARTA, { listId, sequenceId: id }).ok).toBe(false);
    });
  });
});
