import { describe, expect, it } from "vitest";
import { judgeLoads, type Load, networkOf, type Trust } from "./loads.ts";

const SENT = 1_000_000;
const BROWSER = "Mozilla/5.0 (X11; Linux x86_64) Gecko/20100101";
const PHONE = "Mozilla/5.0 (Mobile; rv:128.0)";
const load = (seconds: number, change: Partial<Load> = {}): Load => ({
  ...{ kind: "opened", at: SENT + seconds * 1_000, agent: BROWSER, network: "198.51.100", url: null },
  ...{ isHead: false, isOwn: false },
  ...change,
});
const click = (seconds: number, url = "https://q.example/a", change: Partial<Load> = {}) =>
  load(seconds, { kind: "clicked", url, ...change });

describe("a load of an email", () => {
  it.each<[string, Load[], Trust[]]>([
    ["opened in the morning", [load(4_000)], ["person"]],
    [
      "opened three times by the same program",
      [load(4_000), load(9_000), load(90_000)],
      ["person", "person", "person"],
    ],
    ["opened, and its link followed half a minute later", [load(4_000), click(4_030)], ["person", "person"]],
    ["a link followed where pictures are not loaded", [click(4_000)], ["person"]],
    [
      "on the phone, then at the desk",
      [load(4_000, { agent: PHONE, network: "203.0.113" }), load(9_000)],
      ["person", "person"],
    ],
    [
      "two links, a minute between them",
      [click(4_000), click(4_060, "https://q.example/b")],
      ["person", "person"],
    ],
    ["the same link twice in a hurry", [click(4_000), click(4_001)], ["person", "person"]],
    ["loaded two seconds after it was delivered", [load(2)], ["proxy"]],
    [
      "loaded by a proxy of pictures, hours later",
      [load(9_000, { agent: "Mozilla/5.0 (via ImageProxy)" })],
      ["proxy"],
    ],
    ["a proxy, then a person", [load(3), load(5_000)], ["proxy", "person"]],
    ["a link followed on delivery", [click(5)], ["scanner"]],
    ["picture and link within a second", [load(4_000), click(4_000.4)], ["scanner", "scanner"]],
    [
      "all of its links at once",
      [click(4_000), click(4_001, "https://q.example/b"), click(4_002, "https://q.example/c")],
      ["scanner", "scanner", "scanner"],
    ],
    [
      "all links at once, and the same addresses later",
      [click(4_000), click(4_001, "https://q.example/b"), load(9_000)],
      ["scanner", "scanner", "scanner"],
    ],
    [
      "a scanner on delivery, a person elsewhere later",
      [click(5, undefined, { network: "192.0.2" }), load(5_000), click(5_040)],
      ["scanner", "person", "person"],
    ],
    ["asked for the head of a link", [click(4_000, undefined, { isHead: true })], ["scanner"]],
    ["by a program without a name", [load(4_000, { agent: "" })], ["scanner"]],
    [
      "by a crawler",
      [click(4_000, undefined, { agent: "Mozilla/5.0 (compatible; linkbot/2.1)" })],
      ["scanner"],
    ],
    ["looked at by us", [load(4_000, { isOwn: true })], ["own"]],
    [
      "passed on: a third place and program",
      [
        load(4_000),
        load(9_000, { agent: PHONE, network: "203.0.113" }),
        load(20_000, { agent: "Mozilla/5.0 (Other)", network: "192.0.2" }),
      ],
      ["person", "person", "forward"],
    ],
    [
      "the same program from a third place",
      [load(4_000), load(9_000, { network: "203.0.113" }), load(20_000, { network: "192.0.2" })],
      ["person", "person", "person"],
    ],
    ["before its server said yes", [load(-1)], ["proxy"]],
  ])("%s", (_, loads, trusts) => {
    const judged = judgeLoads(SENT, loads);
    expect(judged.map(({ trust }) => trust)).toEqual(trusts);
    for (const { because } of judged) expect(because).not.toBe("");
  });

  it("is kept with its block of addresses only", () => {
    expect(networkOf("198.51.100.77")).toBe("198.51.100");
    expect(networkOf("::ffff:198.51.100.77")).toBe("198.51.100");
    expect(networkOf("2001:db8:12:34::1")).toBe("2001:db8:12");
    expect(networkOf("2001:db8::1")).toBe("2001:db8:0");
    expect(networkOf("")).toBe("");
  });
});
