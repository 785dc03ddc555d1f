import fc from "fast-check";
import { expect, it } from "vitest";
import { employeesText, readEmployees } from "./employees.ts";

it.each([
  [80, { from: 80, to: 80 }],
  ["80", { from: 80, to: 80 }],
  ["51-200", { from: 51, to: 200 }],
  ["51 – 200 employees", { from: 51, to: 200 }],
  ["51 bis 200", { from: 51, to: 200 }],
  ["1,001-5,000", { from: 1_001, to: 5_000 }],
  ["1.001–5.000", { from: 1_001, to: 5_000 }],
  ["1000+", { from: 1_000, to: null }],
  ["more than 500", { from: 500, to: null }],
  ["< 50", { from: 0, to: 50 }],
  ["up to 10", { from: 0, to: 10 }],
  ["1.2k", { from: 1_200, to: 1_200 }],
  ["200-51", { from: 51, to: 200 }],
  ["many", null],
  ["", null],
  [null, null],
])("a size of %j is %j", (value, size) => expect(readEmployees(value)).toEqual(size));

it("what is written of a size is read as the same again", () => {
  fc.assert(
    fc.property(fc.nat({ max: 500_000 }), fc.option(fc.nat({ max: 500_000 })), (from, more) => {
      const size = { from, to: more === null ? null : from + more };
      expect(readEmployees(employeesText(size))).toEqual(size);
    }),
  );
});
