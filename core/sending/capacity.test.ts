import { expect, it } from "vitest";
import { capacityOf } from "./capacity.ts";

const base = { people: 450, emails: 4, pathDays: 0, perHour: null, hoursOpen: 8.5, newADay: null };

it("15 mailboxes at 30 are 450 a day, and nobody is missing", () => {
  expect(capacityOf({ ...base, limits: Array<number>(15).fill(30) })).toEqual({
    aDay: 450,
    needed: 1_800,
    daysToBegin: 1,
    daysInAll: 4,
    missing: 0,
  });
});

it("says how many mailboxes are missing to begin with everybody within a week", () => {
  expect(capacityOf({ ...base, people: 900, limits: [30, 30, 30] })).toMatchObject({
    daysToBegin: 10,
    missing: 3,
  });
  expect(capacityOf({ ...base, limits: [] })).toMatchObject({ aDay: 0, daysToBegin: null, missing: 3 });
});

it("counts a pace of its own as a limit, which no mailbox more would lift", () => {
  const paced = capacityOf({
    ...base,
    people: 2_000,
    perHour: 20,
    hoursOpen: 10,
    limits: Array<number>(15).fill(30),
  });
  expect(paced).toMatchObject({ aDay: 200, daysToBegin: 10, missing: 0 });
});

it("is not done before the last who begins has gone the way", () => {
  const slow = { ...base, people: 130, emails: 3, newADay: 10, pathDays: 9, limits: [30, 30, 30, 30, 30] };
  expect(capacityOf(slow)).toMatchObject({ daysToBegin: 13, daysInAll: 22 });
  expect(capacityOf({ ...slow, newADay: null, limits: [20] })).toMatchObject({
    daysToBegin: 7,
    daysInAll: 20,
  });
});
