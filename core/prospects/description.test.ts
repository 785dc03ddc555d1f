import { expect, it } from "vitest";
import { unreadWords } from "./description.ts";
import { profileSchema } from "./profile.ts";

const profile = profileSchema.parse({
  titles: ["conservator"],
  industries: ["Museums"],
  countries: ["PT"],
  employeesFrom: 300,
  employeesTo: 900,
  titlesWithout: ["assistant"],
});

it("words that nothing in the profile stands for are named, in the order in which they stand", () => {
  expect(
    unreadWords(
      "We sell archive software. We are looking for preventive conservators at family-owned museums in Portugal with a depot, 300 to 900 employees, no assistants.",
      profile,
    ),
  ).toEqual(["family-owned", "depot"]);
});

it("nothing is left over from what was read whole, nor from what the seller says of themselves", () => {
  expect(unreadWords("Conservators at Portuguese museums.", profile)).toEqual([]);
  expect(unreadWords("Wir verkaufen Messgeräte. Conservators, please!", profile)).toEqual([]);
});
