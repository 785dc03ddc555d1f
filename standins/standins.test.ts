/** The simulated world is as untidy as the real one, in the measure that it says, and the same in every run. */
import { expect, it } from "vitest";
import { directory } from "./directory/people.ts";
import { DOMAIN_KINDS, isThere, kindOf } from "./domains.ts";

const { people, companies } = directory();
const share = (part: number) => part / people.length;

it("the directory knows 20,000 people at 3,000 invented companies, all of them at .example", () => {
  expect(people).toHaveLength(20_000);
  expect(companies).toHaveLength(3_000);
  expect(new Set(people.map(({ id }) => id)).size).toBe(people.length);
  for (const { domain } of companies) expect(domain).toMatch(/^[a-z-]+\.example$/);
});

it("it lacks the addresses of 10 to 40 % and writes many names untidily", () => {
  expect(share(people.filter(({ email }) => email === "").length)).toBeGreaterThan(0.1);
  expect(share(people.filter(({ email }) => email === "").length)).toBeLessThan(0.4);
  const shouted = people.filter(({ lastName }) => lastName !== "" && lastName === lastName.toUpperCase());
  expect(share(shouted.length)).toBeGreaterThan(0.05);
  expect(share(people.filter(({ lastName }) => lastName === "").length)).toBeGreaterThan(0.03);
});

it("whoever has left is not there, and everybody else is where the company's pattern says", () => {
  const gone = people.filter(({ trueEmail }) => trueEmail === "");
  expect(share(gone.length)).toBeGreaterThan(0.02);
  for (const { email } of gone.slice(0, 50)) if (email) expect(isThere(email)).toBe(false);
  for (const { trueEmail } of people.slice(0, 200)) if (trueEmail) expect(isThere(trueEmail)).toBe(true);
  expect(isThere("somebody@unknown-house.example")).toBe(true);
  expect(isThere("nobody-12ab@unknown-house.example")).toBe(false);
});

it("every kind of domain is met, most of them take mail, and a name can ask for its kind", () => {
  const kinds = companies.map(({ domain }) => kindOf(domain));
  expect(new Set(kinds)).toEqual(new Set(DOMAIN_KINDS));
  expect(kinds.filter((kind) => kind === "mail").length / kinds.length).toBeGreaterThan(0.7);
  expect(kindOf("silent-house.example")).toBe("silent");
  expect(kindOf("house.example")).toBe("mail");
});
