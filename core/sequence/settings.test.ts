import { describe, expect, it } from "vitest";
import { DEFAULT_SETTINGS, sequenceSettingsSchema } from "./settings.ts";

const problem = (change: object) =>
  sequenceSettingsSchema
    .safeParse(change)
    .error?.issues.map(({ path, message }) => `${path.join(".")}: ${message}`)[0];

describe("what a sequence is set to", () => {
  it("is, where nothing is said, what nobody regrets", () => {
    expect(DEFAULT_SETTINGS).toEqual({
      zoneOf: "prospect",
      holidays: true,
      startsOn: null,
      newADay: null,
      perHour: null,
      minutesBetween: null,
      threadElsewhere: "waits",
      accountId: null,
      cc: "",
      bcc: "",
      crm: "",
      tracksOpens: false,
      tracksClicks: false,
      goal: "reply",
      stops: {
        reply: true,
        labels: null,
        meeting: true,
        click: false,
        open: false,
        stages: [],
        field: null,
      },
      holdsCompany: true,
      thenErrand: "",
      thenOn: ["interested", "question"],
      awayDays: 5,
      approval: "none",
      approveFirst: 10,
      sendsUnread: false,
      pageId: null,
      tags: [],
    });
  });

  it.each(["cc", "bcc", "crm"])("takes addresses as people write them for %s", (name) => {
    for (const fits of [
      "",
      " ",
      "a@b.example",
      "a@b.example, c@d.example",
      "a@b.example;c@d.example",
      "a@b.example c@d.example\ne@f.example",
    ])
      expect(problem({ [name]: fits }), fits).toBeUndefined();
    for (const bad of [
      "a",
      "a@b",
      "a@b.example,",
      "a b@c.example",
      "<a@b.example>",
      '"a"@b.example',
      "a@@b.example",
    ])
      expect(problem({ [name]: bad }), bad).toBe(
        `${name}: Write addresses like seller@quillwater.example, several with commas between.`,
      );
    expect(problem({ [name]: "a".repeat(501) })).toBeDefined();
  });

  it.each([
    ["newADay", 1, 5_000],
    ["perHour", 1, 5_000],
    ["minutesBetween", 1, 240],
    ["awayDays", 0, 60],
    ["approveFirst", 1, 500],
  ])("keeps %s within its bounds", (name, least, most) => {
    for (const [value, fits] of [
      [least, true],
      [most, true],
      [least - 1, false],
      [most + 1, false],
      [least + 0.5, false],
    ] as const)
      expect(problem({ [name]: value }) === undefined, `${value}`).toBe(fits);
  });

  it("keeps words short, and trims them", () => {
    expect(sequenceSettingsSchema.parse({ thenErrand: "  Ring  ", tags: [" spring "] })).toMatchObject({
      thenErrand: "Ring",
      tags: ["spring"],
    });
    expect(problem({ thenErrand: "x".repeat(301) })).toBeDefined();
    expect(problem({ tags: ["x".repeat(31)] })).toBeDefined();
    expect(problem({ tags: [" "] })).toBeDefined();
    expect(problem({ tags: Array.from({ length: 9 }, (_, index) => `t${index}`) })).toBeDefined();
    expect(problem({ startsOn: "9 June" })).toBeDefined();
  });
});
