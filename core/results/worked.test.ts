import { describe, expect, it } from "vitest";
import { bestFirst } from "./worked.ts";

const text = (name: string, reached: number, answered: number, positive: number) => ({
  name,
  brought: { reached, answered, positive },
});
const order = (...texts: ReturnType<typeof text>[]) => bestFirst(texts).map(({ name }) => name);

describe("texts that worked", () => {
  it("stand first by what they surely brought, not by a lucky few", () => {
    expect(order(text("lucky", 24, 6, 4), text("proven", 400, 80, 48))).toEqual(["proven", "lucky"]);
  });

  it("go by who wants to talk before answers, which may all be refusals", () => {
    expect(order(text("refused", 200, 60, 2), text("wanted", 200, 20, 12))).toEqual(["wanted", "refused"]);
    expect(order(text("silent", 200, 0, 0), text("answered", 200, 20, 0))).toEqual(["answered", "silent"]);
  });

  it("say nothing of few, which stay as they come", () => {
    expect(order(text("new", 0, 0, 0), text("few", 19, 19, 19), text("known", 60, 9, 5))).toEqual([
      "known",
      "new",
      "few",
    ]);
  });
});
