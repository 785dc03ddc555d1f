/** Paths, facts and calendars for tests. */
import fc from "fast-check";
import { type Calendar, NO_HOLIDAYS } from "../calendar.ts";
import type { Condition } from "./condition.ts";
import type { Facts } from "./holds.ts";
import type { EmailStep, End, Fork, Path, PathNode, RepStep } from "./path.ts";
import type { Wait } from "./wait.ts";

export const days = (count: number): Wait => ({ days: count, working: true });

export const email = (id: string, wait = 0, more: Partial<EmailStep> = {}): EmailStep => ({
  id,
  kind: "email",
  name: id,
  note: "",
  wait: days(wait),
  variants: [{ id: "a", weight: 1, subject: wait === 0 ? "Loans" : "", body: "Hello" }],
  format: "formatted",
  quotes: false,
  attachments: [],
  ...more,
});

export const task = (id: string, kind: RepStep["kind"], wait = 0, more: Partial<RepStep> = {}): RepStep => ({
  id,
  kind,
  name: id,
  note: "",
  wait: days(wait),
  text: "Do it",
  journey: "waits",
  skipAfter: null,
  asNote: false,
  ...more,
});

export const fork = (id: string, ask: Condition, yes: Path, no: Path, patience = days(3)): Fork => ({
  id,
  kind: "fork",
  name: "",
  ask,
  patience,
  yes,
  no,
});
export const end = (id: string): End => ({ id, kind: "end" });

/** Lisbon, working days 9:00 to 17:00. */
export const lisbon: Calendar = {
  zone: "Europe/Lisbon",
  hours: { days: [1, 2, 3, 4, 5], opens: "09:00", closes: "17:00" },
  holidays: NO_HOLIDAYS,
};

export const nothingKnown: Facts = {
  hasAddress: true,
  hasProfile: false,
  fieldValue: () => "",
  acceptedAt: null,
  openedAt: new Map(),
  clickedAt: new Map(),
  visitedAt: null,
  watchedAt: new Map(),
  labels: [],
};

const anyWait: fc.Arbitrary<Wait> = fc.oneof(
  fc.record({ days: fc.integer({ min: 0, max: 9 }), working: fc.boolean() }),
  fc.record({ hours: fc.integer({ min: 0, max: 90 }) }),
  fc.record({ weekday: fc.integer({ min: 1, max: 7 }), time: fc.constantFrom("07:00", "10:30", "20:00") }),
  fc.record({ date: fc.constantFrom("2026-06-12", "2026-07-04", "2026-01-01"), time: fc.constant("10:00") }),
);

export const anyCondition: fc.Arbitrary<Condition> = fc
  .tuple(
    fc.oneof<fc.Arbitrary<Condition>[]>(
      fc.record({ about: fc.constantFrom("address" as const, "profile" as const) }),
      fc.record({ about: fc.constant("accepted" as const) }),
      fc.record({
        about: fc.constantFrom("opened" as const, "clicked" as const),
        stepId: fc.constantFrom("n1", "n2", "n3"),
      }),
      fc.record({
        about: fc.constant("field" as const),
        field: fc.constant("city"),
        op: fc.constantFrom("is" as const, "filled" as const),
        value: fc.constant("Porto"),
      }),
      fc.record({
        about: fc.constant("label" as const),
        is: fc.constantFrom("interested" as const, "away" as const),
      }),
    ),
    fc.boolean(),
  )
  .map(([condition, not]) => (not ? { ...condition, not: true } : condition));

/** Any path, nested up to two deep, with ids n1, n2 … in the order of reading. */
export const anyPath: fc.Arbitrary<Path> = (() => {
  const touch: fc.Arbitrary<PathNode> = fc.oneof(
    fc.tuple(anyWait, fc.option(anyCondition, { nil: undefined })).map(([wait, onlyIf]) => ({
      ...email("x"),
      wait,
      ...(onlyIf ? { onlyIf } : {}),
    })),
    fc
      .record({
        kind: fc.constantFrom("call" as const, "invitation" as const),
        wait: anyWait,
        journey: fc.constantFrom("waits" as const, "goes_on" as const),
        skipAfter: fc.option(fc.integer({ min: 1, max: 5 })),
      })
      .map((more) => task("x", more.kind, 0, more)),
    fc.constant(end("x")),
  );
  const pathOf = (inner: fc.Arbitrary<Path>): fc.Arbitrary<Path> =>
    fc.array(
      fc.oneof(
        { weight: 4, arbitrary: touch },
        {
          weight: 1,
          arbitrary: fc
            .tuple(anyCondition, inner, inner, anyWait)
            .map(([ask, yes, no, patience]) => fork("x", ask, yes, no, patience)),
        },
      ),
      { maxLength: 5 },
    );
  const leaf = fc.array(touch, { maxLength: 3 });
  return pathOf(pathOf(leaf)).map((path) => {
    let number = 0;
    const name = (nodes: Path): Path =>
      nodes.map((node) => {
        const id = `n${++number}`;
        return node.kind === "fork"
          ? { ...node, id, yes: name(node.yes), no: name(node.no) }
          : { ...node, id };
      });
    return name(path);
  });
})();

const anyInstant = fc.integer({ min: Date.parse("2026-06-01T00:00Z"), max: Date.parse("2026-08-30T00:00Z") });
const anyTimes = fc
  .array(fc.tuple(fc.constantFrom("n1", "n2", "n3"), anyInstant), { maxLength: 3 })
  .map((entries) => new Map(entries));

export const anyFacts: fc.Arbitrary<Facts> = fc.record({
  hasAddress: fc.boolean(),
  hasProfile: fc.boolean(),
  fieldValue: fc.constantFrom(
    () => "",
    () => "Porto",
  ),
  acceptedAt: fc.option(anyInstant),
  openedAt: anyTimes,
  clickedAt: anyTimes,
  visitedAt: fc.constant(null),
  watchedAt: fc.constant(new Map()),
  labels: fc
    .array(fc.record({ label: fc.constantFrom("interested" as const, "away" as const), at: anyInstant }), {
      maxLength: 2,
    })
    .map((labels) => labels.sort((a, b) => a.at - b.at)),
});
