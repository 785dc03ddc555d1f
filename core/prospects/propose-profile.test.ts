import { expect, it } from "vitest";
import { profileSchema } from "./profile.ts";
import { type Proven, proposeProfile } from "./propose-profile.ts";

const MUSEUMS = profileSchema.parse({
  industries: ["Museums", "Archives"],
  countries: ["PT", "DE"],
  titles: ["registrar", "conservator"],
  employeesFrom: 20,
  employeesTo: 1_000,
});
const proposed = (attribute: Proven["attribute"], value: string, isMore: boolean) =>
  proposeProfile(MUSEUMS, { attribute, value, isMore });

it("looks for those who come to it more often", () => {
  expect(proposed("industry", "Archives", true)).toEqual({ ...MUSEUMS, industries: ["Archives"] });
  expect(proposed("country", "DE", true)).toEqual({ ...MUSEUMS, countries: ["DE"] });
  expect(proposed("title", "registrar", true)).toEqual({ ...MUSEUMS, titles: ["registrar"] });
  expect(proposed("seniority", "head", true)).toEqual({ ...MUSEUMS, seniorities: ["head"] });
  expect(proposed("size", "51 to 200", true)).toEqual({ ...MUSEUMS, employeesFrom: 51, employeesTo: 200 });
  expect(proposed("size", "over 1,000", true)).toEqual({
    ...MUSEUMS,
    employeesFrom: 1_000,
    employeesTo: null,
  });
});

it("leaves out those who come to it less often, as far as a profile can say so", () => {
  expect(proposed("industry", "Archives", false)?.industries).toEqual(["Museums"]);
  expect(proposed("country", "PT", false)?.countries).toEqual(["DE"]);
  expect(proposed("title", "conservator", false)?.titlesWithout).toEqual(["conservator"]);
  expect(proposed("seniority", "junior", false)?.seniorities).toEqual([
    ...["owner", "executive", "head", "manager", "specialist"],
  ]);
  expect(proposed("size", "11 to 50", false)?.employeesFrom).toBe(51);
  expect(proposed("size", "51 to 200", false)).toBeNull();
  expect(proposed("industry", "Breweries", false)).toBeNull();
});

it("proposes nothing where it is so already", () => {
  const before = { ...MUSEUMS, countries: ["DE"] };
  expect(proposeProfile(before, { attribute: "country", value: "DE", isMore: true })).toBeNull();
  expect(proposeProfile(before, { attribute: "country", value: "DE", isMore: false })).toBeNull();
});
