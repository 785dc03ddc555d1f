import { expect, it } from "vitest";
import { needsRest } from "./rest.ts";

it("a mailbox rests when one email in 25 bounces, and not after a single bad address", () => {
  expect(needsRest(75, 3)).toEqual({ sent: 75, bounced: 3 });
  expect(needsRest(76, 3)).toBeNull();
  expect(needsRest(10, 2)).toBeNull();
  expect(needsRest(24, 24)).toBeNull();
});
