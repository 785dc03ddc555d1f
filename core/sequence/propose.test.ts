import { expect, it } from "vitest";
import { everyStep, type Path } from "./path.ts";
import { propose } from "./propose.ts";

const email = (id: string, variants = ["a"]): Path[number] => ({
  ...{
    id,
    kind: "email",
    name: id,
    note: "",
    wait: { days: 1, working: true },
    format: "formatted",
    quotes: false,
  },
  ...{
    attachments: [],
    variants: variants.map((each) => ({ id: each, weight: 1, subject: each, body: each })),
  },
});
const path: Path = [
  email("one", ["a", "b"]),
  {
    ...{
      id: "fork",
      kind: "fork",
      name: "",
      ask: { about: "profile" },
      patience: { days: 1, working: true },
    },
    ...{ yes: [email("two"), email("three")], no: [email("four", ["a", "b"])] },
  } as Path[number],
  email("five"),
];
const ids = (of: Path) => everyStep(of).map(({ id }) => id);

it("keeps one wording, wherever its step lies, and takes none away that it does not know", () => {
  const [one] = propose(path, { keep: { stepId: "one", variantId: "b" } });
  expect(one).toMatchObject({ variants: [{ id: "b" }] });
  expect(everyStep(propose(path, { keep: { stepId: "four", variantId: "a" } }))[3]).toMatchObject({
    variants: [{ id: "a" }],
  });
  expect(propose(path, { keep: { stepId: "one", variantId: "z" } })).toEqual(path);
});

it("ends after so many touches, counted on each way", () => {
  expect(ids(propose(path, { endAfter: 1 }))).toEqual(["one"]);
  expect(ids(propose(path, { endAfter: 2 }))).toEqual(["one", "two", "four"]);
  expect(ids(propose(path, { endAfter: 3 }))).toEqual(["one", "two", "three", "four"]);
  expect(propose(path, { endAfter: 9 })).toEqual(path);
  expect(propose(path, { endAfter: 0 })).toEqual(path);
});
