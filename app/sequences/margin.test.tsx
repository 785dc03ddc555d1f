/** The margin beside a sequence: what is still to do, whom it reaches, and how much of the mailboxes it takes. */
import { describe, expect, it } from "vitest";
import type { EmailStep } from "../../core/sequence/path";
import { DEFAULT_SETTINGS } from "../../core/sequence/settings";
import { STANDINGS, type Standing } from "../../core/sequence/standing";
import { shown } from "../components/test-markup";
import { SequenceMargin } from "./margin";

type Props = Parameters<typeof SequenceMargin>[0];
const opening = (words: number): EmailStep => ({
  id: "one",
  kind: "email",
  name: "Opening",
  note: "",
  wait: { days: 0, working: true },
  variants: [{ id: "a", weight: 1, subject: "Loans", body: "word ".repeat(words) }],
  format: "formatted",
  quotes: false,
  attachments: [],
});
const node = opening(120);
const nobody = Object.fromEntries(STANDINGS.map((each) => [each, 0])) as Record<Standing, number>;
const props: Props = {
  form: {
    id: 1,
    name: "Loans",
    listId: 5,
    zone: "Europe/Lisbon",
    days: [1, 2, 3, 4, 5],
    opens: "08:30",
    closes: "17:00",
    writesTo: "good",
    isPersonal: false,
    settings: DEFAULT_SETTINGS,
    poolId: null,
    mailboxIds: [1, 2],
    path: [node],
  },
  check: {
    problems: [],
    remarks: [],
    missing: [],
    start: { ...nobody, ready: 412 },
    fields: [],
    has: {},
  },
  node,
  variantId: "a",
  preview: null,
  lists: [{ id: 5, name: "Museums", count: 412 }],
  mailboxes: [
    { id: 1, address: "marta@quillwater.example", aDay: 30, state: "active", notYours: null },
    { id: 2, address: "m.q@quillwater.example", aDay: 20, state: "active", notYours: null },
    { id: 3, address: "spare@quillwater.example", aDay: 50, state: "active", notYours: null },
  ],
  isChanged: false,
  onSettings: () => {},
};
const words = (change: Partial<Props> = {}) => shown(<SequenceMargin {...props} {...change} />);
const start = (change: Partial<Props["check"]["start"]>) =>
  words({ check: { ...props.check, start: { ...props.check.start, ...change } } });

describe("beside a sequence that can start", () => {
  it("everything is ticked, and what it takes is counted from the chosen mailboxes alone", () => {
    const all = words();
    expect(all).toMatch(/^Before it goes out ✓ Every merge field exists The text of “Opening”/);
    expect(all).toContain("120 words, about 30 seconds to read");
    expect(all).toContain("412 prospects of “Museums” are ready to start.");
    expect(all).toContain(
      "Mon–Fri, 08:30–17:00 where they are, not on their public holidays from 2 mailboxes in turn, 50 a day together",
    );
    expect(all).toContain("412 first emails alone fill 9 days of these mailboxes.");
  });

  it("a mailbox that does not send now is not counted", () => {
    const mailboxes = props.mailboxes.map((each) => (each.id === 2 ? { ...each, state: "resting" } : each));
    expect(words({ mailboxes })).toContain("in turn, 30 a day together (1 not sending now)");
    expect(words({ mailboxes })).toContain("fill 14 days");
  });

  it("days that are no run are named one by one", () => {
    expect(words({ form: { ...props.form, days: [1, 3, 4] } })).toContain("Mon, Wed, Thu, 08:30");
  });
});

describe("what stands in the way", () => {
  it("is named first: broken fields, empty ones, no list, no mailbox, a text that is too long", () => {
    const check: Props["check"] = {
      ...props.check,
      problems: [{ nodeId: "one", field: "body", message: "There is no field “frist_name”." }],
      missing: [
        { field: "first_name", count: 1 },
        { field: "rooms", count: 12 },
      ],
    };
    const all = words({
      check,
      form: { ...props.form, listId: null, mailboxIds: [] },
      node: opening(200),
      isChanged: true,
    });
    expect(all).toMatch(/^Before it goes out ! There is no field “frist_name”\./);
    expect(all).toContain("! 1 prospect has no first name. They wait until you fill it in.");
    expect(all).toContain("! 12 prospects have no rooms.");
    expect(all).toContain("! Choose the list that it writes to.");
    expect(all).toContain("! Choose a mailbox to send from.");
    expect(all).toContain("! 200 words");
    expect(all).toContain("! Not saved yet.");
    expect(all).not.toContain("Every merge field exists");
    expect(all).toContain("Nobody yet. Choose a list");
  });

  it("of the people is counted by its reason, and left out where there is none", () => {
    expect(start({ ready: 1 })).toContain("1 prospect of “Museums” is ready to start. Stops");
    const all = start({
      already: 3,
      elsewhere: 2,
      blocked: 4,
      address_bad: 5,
      no_address: 2,
      address_not_good: 4,
    });
    for (const part of [
      "3 started before.",
      "2 on another sequence.",
      "4 on the block list.",
      "5 left out: their addresses are bad.",
      "Of these, 6 start and wait",
    ])
      expect(all).toContain(part);
  });
});
