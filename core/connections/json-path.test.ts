import { expect, it } from "vitest";
import { pathSchema, putAt, valueAt } from "./json-path.ts";

it("finds nothing on paths that lead elsewhere", () => {
  const body = { a: { b: [{ c: 5 }] }, long: "x".repeat(500) };
  expect(valueAt(body, "a.b.0.c")).toBe("5");
  for (const path of ["", "a", "a.b", "__proto__", "constructor.name", "a.b.9.c"])
    expect(valueAt(body, path), path).toBe("");
  expect(valueAt(body, "long")).toHaveLength(200);
});

it("writes a value with what has to be around it, and beside what is there", () => {
  const body: Record<string, unknown> = { name: { first: "Ana" }, job: "x" };
  for (const path of ["name.last", "address.city", "job"]) putAt(body, path, "v");
  expect(body).toEqual({ name: { first: "Ana", last: "v" }, address: { city: "v" }, job: "v" });
});

it("takes no path that JavaScript keeps for itself", () => {
  const isTaken = (path: string) => pathSchema.safeParse(path).success;
  expect(["a", "a.b-c.0", "__proto__.x", "a.constructor", "a..b", "a b", ""].map(isTaken)).toEqual([
    ...[true, true, false, false, false, false, false],
  ]);
});
