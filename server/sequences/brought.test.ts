/** What texts brought stands beside them where one writes, and gives the better wording more of whoever comes. */
import { beforeAll, describe, expect, it } from "vitest";
import { DAY } from "../../core/calendar.ts";
import type { AppTx } from "../app.ts";
import { apply } from "../consequences/apply.ts";
import { prospectById } from "../db/prospects.ts";
import { sequenceById } from "../db/sequences.ts";
import { decidedShares } from "../db/wording-shares.ts";
import {
  addJourney,
  addPeople,
  addUnasked,
  createWorld,
  email,
  inCopyOf,
  openCopy,
  TUESDAY,
} from "../tests/world.ts";
import { createSequence } from "./create-sequence.ts";
import { createFrom, putOnShelf, shelf, startingPoints } from "./keep-sequences.ts";
import { sequenceForm } from "./open-sequence.ts";
import { allPieces, keepPiece } from "./pieces.ts";
import { renderStep } from "./render-step.ts";
import { saveSequence } from "./save-sequence.ts";
import { shareWordings, wordingsSoFar } from "./share-wordings.ts";
import { writtenEmails } from "./written-emails.ts";

const PEOPLE = 240;
const [PLAIN, BOLD] = ["We lend frames that fit.", "Shall I send you ours to hang for a week?"];
const step = {
  ...email("one", 0, { name: "Opening", subject: "Frames" }),
  favoursBetter: true as const,
  variants: [
    { id: "a", weight: 1, subject: "Frames", body: PLAIN },
    { id: "b", weight: 1, subject: "Frames", body: `Hello,\n\n${BOLD}` },
  ],
};
const idOf = (made: ReturnType<typeof createSequence>): number => {
  if (!made.ok) throw new Error(JSON.stringify(made.errors));
  return made.value;
};

let image: Buffer;
let id: number;

/** Odd people got the first wording, of whom few answered; even ones the second, of whom many did. */
beforeAll(async () => {
  const world = await createWorld({ standin: false });
  const { app } = world;
  addUnasked(world);
  const listId = addPeople(
    world,
    Array.from({ length: PEOPLE }, (_, nth) => `p${nth}`),
  );
  id = idOf(createSequence(app, 1, { name: "Frames" }, [step]));
  app.db.exec(`UPDATE sequences SET state = 'running', list_id = ${listId}`);
  for (let person = 1; person <= PEOPLE; person++) {
    const variant = person % 2 === 1 ? "a" : "b";
    addJourney(world, id, person);
    const { lastInsertRowid } = app.db
      .prepare(
        `INSERT INTO touches (kind, journey_id, step_id, version, variant_id, prospect_id, mailbox_id, state, at, due_at, sent_at, message_id)
         SELECT 'email', id, 'one', 1, ?, prospect_id, 1, 'sent', ?, ?, ?, '<' || id || '@q.example>' FROM journeys WHERE prospect_id = ?`,
      )
      .run(variant, TUESDAY, TUESDAY, TUESDAY, person);
    if (variant === "b" ? person % 8 === 0 : person % 60 === 1)
      apply(
        app.db,
        { kind: "booked", at: TUESDAY + DAY },
        { at: TUESDAY + 1, prospectId: person, journeyId: person, touchId: Number(lastInsertRowid) },
      );
  }
  image = app.db.serialize();
  await world.close();
});
const inCopy = <T>(work: (app: AppTx) => T): T => inCopyOf(image, work);
async function inOwnCopy(work: (app: AppTx) => Promise<void>): Promise<void> {
  const app = openCopy(image);
  await work(app).finally(app.close);
}
const sequence = (app: AppTx) => {
  const found = sequenceById(app.db, id);
  if (!found) throw new Error("no sequence");
  return found;
};
const BROUGHT = {
  a: { reached: 120, answered: 0, positive: 4 },
  b: { reached: 120, answered: 0, positive: 30 },
};

describe("what texts brought", () => {
  it("puts what worked first among what was written before, and says of how many", () =>
    inOwnCopy(async (app) => {
      idOf(createSequence(app, 1, { name: "Newer" }, [email("one", 0, { body: "Something new." })]));
      expect((await writtenEmails(app, 1, "")).map(({ body, brought }) => [body, brought.positive])).toEqual([
        [step.variants[1]?.body, 30],
        [PLAIN, 4],
        ["Something new.", 0],
      ]);
      expect((await writtenEmails(app, 1, "lend"))[0]?.brought).toEqual(BROUGHT.a);
    }));

  it("counts for the same words in another sequence, which stand once", () =>
    inOwnCopy(async (app) => {
      idOf(createSequence(app, 1, { name: "Copy" }, [email("other", 0, { subject: "Frames", body: PLAIN })]));
      const found = await writtenEmails(app, 1, "lend");
      expect(found.map(({ from, brought }) => [from, brought])).toEqual([["Copy, other", BROUGHT.a]]);
    }));

  it("is told of a piece by the emails that hold it", () =>
    inOwnCopy(async (app) => {
      keepPiece(app, 1, { name: "A", body: "Nobody ever sent this." });
      keepPiece(app, 1, { name: "B", body: PLAIN });
      keepPiece(app, 1, { name: "C", body: BOLD });
      expect((await allPieces(app, 1)).map(({ name, brought }) => [name, brought.positive])).toEqual([
        ["C", 30],
        ["B", 4],
        ["A", 0],
      ]);
    }));

  it("is told of a starting point by what began from it, and by what it was made of", () =>
    inCopy((app) => {
      putOnShelf(app, 1, id, "Ours");
      const own = shelf(app, 1)[0];
      expect([own?.name, own?.brought]).toEqual(["Frames", { reached: 240, answered: 0, positive: 34 }]);
      const point = startingPoints(app)[0]?.id ?? "";
      const begun = idOf(createFrom(app, 1, point, "Begun"));
      app.db.exec(`UPDATE journeys SET sequence_id = ${begun} WHERE prospect_id <= 40`);
      expect(shelf(app, 1).find((each) => each.id === point)?.brought.reached).toBe(40);
    }));

  it("leaves out what a colleague keeps to themselves", () =>
    inOwnCopy(async (app) => {
      app.db.exec(`INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, role, created_at)
        VALUES (2, 'r@q.example', 'Rui', 'x', 'UTC', 'rui', 'rep', 0); UPDATE sequences SET is_personal = 1`);
      keepPiece(app, 2, { name: "Same", body: PLAIN });
      expect(await writtenEmails(app, 2, "")).toEqual([]);
      expect((await allPieces(app, 2))[0]?.brought.reached).toBe(0);
    }));
});

describe("a step that gives the better wording more", () => {
  it("decides once a day, keeps why, and draws by it", () =>
    inCopy((app) => {
      expect([shareWordings(app), shareWordings(app)]).toEqual([1, 0]);
      const [decided] = decidedShares(app.db, id, "one");
      expect(decided).toEqual({
        day: "2026-06-09",
        shares: [
          { id: "a", part: 4, whole: 120, weight: 10 },
          { id: "b", part: 30, whole: 120, weight: 90 },
        ],
      });
      expect(wordingsSoFar(app, sequence(app))["one b"]).toEqual({ brought: BROUGHT.b, share: 90 });
      const drawn = drawnOf(app);
      expect(drawn.filter((variant) => variant === "b").length / drawn.length).toBeGreaterThan(0.8);
      expect(drawnOf(app)).toEqual(drawn);
    }));

  it("moves nobody to a wording that got less", () =>
    inCopy((app) => {
      const before = drawnOf(app);
      shareWordings(app);
      const moved = drawnOf(app).filter((variant, nth) => variant !== before[nth]);
      expect(new Set(moved)).toEqual(new Set(["b"]));
    }));

  it("begins anew with a text that was changed, and leaves out one that is to take nobody", () =>
    inCopy((app) => {
      const { path: _, ...form } = sequenceForm(sequence(app));
      const save = (variants: typeof step.variants) => {
        const now = sequenceForm(sequence(app));
        return saveSequence(app, { ...form, revision: now.revision, path: [{ ...step, variants }], id }, 1);
      };
      const [a, b] = step.variants as [(typeof step.variants)[0], (typeof step.variants)[0]];
      expect(save([a, { ...b, body: "Something else." }]).ok).toBe(true);
      expect(wordingsSoFar(app, sequence(app))["one b"]?.brought.reached).toBe(0);
      expect(save([a, b]).ok).toBe(true);
      expect(wordingsSoFar(app, sequence(app))["one b"]?.brought).toEqual(BROUGHT.b);
      expect(save([{ ...a, weight: 0 }, b]).ok).toBe(true);
      expect(shareWordings(app)).toBe(0);
      expect(new Set(drawnOf(app))).toEqual(new Set(["b"]));
    }));
});

function drawnOf(app: AppTx): (string | null)[] {
  const { path } = sequence(app);
  const [own] = path;
  if (own?.kind !== "email") throw new Error("no email");
  const mailbox = { senderName: "Marta", signature: "", userId: 1 };
  return Array.from({ length: PEOPLE }, (_, nth) => {
    const prospect = prospectById(app.db, nth + 1);
    if (!prospect) throw new Error("no prospect");
    return renderStep(app, { path, step: own, prospect, mailbox, sequenceId: id }).variantId;
  });
}
