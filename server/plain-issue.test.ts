import { expect, it } from "vitest";
import { z } from "zod";
import { fieldErrors } from "./errors.ts";

it("what a schema finds wrong without saying it is said in plain words", () => {
  const schema = z.object({
    name: z.string().min(1),
    password: z.string().min(10),
    note: z.string().max(3),
    days: z.number().int().min(1).max(7),
    share: z.number().gt(0),
    kind: z.enum(["a", "b"]),
    day: z.iso.date(),
    missing: z.string(),
    list: z.array(z.number()).min(2),
  });
  const read = schema.safeParse({
    name: "",
    password: "short",
    note: "long",
    days: 9,
    share: 0,
    kind: "c",
    day: "tomorrow",
    list: [1],
  });
  expect(read.success ? {} : fieldErrors(read.error)).toEqual({
    name: "Fill this in.",
    password: "At least 10 characters.",
    note: "At most 3 characters.",
    days: "At most 7.",
    share: "More than 0.",
    kind: "Choose one of the values that are offered.",
    day: "This is not written as it should be.",
    missing: "Fill this in.",
    list: "At least 2 entries.",
  });
});
