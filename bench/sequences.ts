/** What sequences compute: messages rendered and checked, walks, and a rehearsal, each against a baseline in the same run. */
import { Liquid } from "liquidjs";
import { NO_HOLIDAYS } from "../core/calendar.ts";
import { advance } from "../core/sequence/advance.ts";
import type { Facts } from "../core/sequence/holds.ts";
import type { Path } from "../core/sequence/path.ts";
import { rehearse } from "../core/sequence/rehearse.ts";
import { checkText } from "../core/writing/checks.ts";
import { allMailboxes } from "../server/db/mailboxes.ts";
import { prospectsOfList, prospectValues } from "../server/db/prospects.ts";
import { renderStep } from "../server/sequences/render-step.ts";
import { addMailbox, addPeople, addSequence, createWorld, email } from "../server/tests/world.ts";
import { type Figure, median } from "./figure.ts";

const PEOPLE = 10_000;
const BODY = `Dear {{ first_name }},

when {{ company }} lends a piece, who puts together the humidity record that the lender asks for? We make small loggers that write it themselves.

Would it help if I showed you one such sheet? Any half-hour suits me: {{ booking_link }}`;
const six: Path = Array.from({ length: 6 }, (_, nth) =>
  email(`s${nth}`, nth === 0 ? 0 : 3, { subject: nth === 0 ? "Loans at {{ company }}" : "", body: BODY }),
);

const timed = (work: () => void): number => {
  const began = performance.now();
  work();
  return performance.now() - began;
};

/** All messages of six steps for 10,000 prospects, against bare liquidjs filling in the same templates. */
export async function benchRenderSequence(): Promise<Figure> {
  const world = await createWorld();
  try {
    const { app } = world;
    const id = await addMailbox(world, "marta@quillwater.example");
    const list = addPeople(
      world,
      Array.from({ length: PEOPLE }, (_, nth) => `p${nth}`),
    );
    addSequence(world, list, [id], { path: six });
    const people = prospectsOfList(app.db, list, PEOPLE);
    const [mailbox] = allMailboxes(app.db);
    if (!mailbox) throw new Error("There is no mailbox.");
    const liquid = new Liquid();
    const templates = six.flatMap((step) =>
      step.kind === "email"
        ? step.variants.flatMap(({ subject, body }) => [liquid.parse(subject), liquid.parse(body)])
        : [],
    );
    const bare = timed(() => {
      for (const prospect of people) {
        const values = { ...prospectValues(prospect), booking_link: "https://x.example" };
        for (const template of templates) liquid.renderSync(template, values);
      }
    });
    let rendered = 0;
    const ours = timed(() => {
      for (const prospect of people)
        for (const step of six) {
          if (step.kind !== "email") continue;
          const made = renderStep(app, { path: six, step, prospect, mailbox });
          if (made.ok) rendered++;
        }
      for (const step of six)
        if (step.kind === "email")
          for (const { subject, body } of step.variants)
            checkText({ subject, body, sameThread: false, sample: null });
    });
    return {
      bench: "render-sequence",
      ratio: Number((ours / bare).toFixed(2)),
      limit: 2.9,
      kind: "most",
      messages: rendered,
      oursMs: Math.round(ours),
      bareMs: Math.round(bare),
    };
  } finally {
    await world.close();
  }
}

const calendar = {
  zone: "Europe/Lisbon",
  hours: { days: [1, 2, 3, 4, 5], opens: "08:30", closes: "17:00" },
  holidays: NO_HOLIDAYS,
};
const START = Date.parse("2026-06-09T08:00:00+01:00");

/** Ten times the prospects in a rehearsal of six steps with 40 mailboxes over 60 days. */
export async function benchRehearsal(): Promise<Figure> {
  const run = (people: number) =>
    timed(() =>
      rehearse({
        path: six,
        calendars: [calendar],
        people: Array.from({ length: people }, () => ({ calendar: 0, hasAddress: true, hasProfile: true })),
        mailboxes: Array.from({ length: 40 }, (_, nth) => ({
          id: nth + 1,
          dailyLimit: 30,
          gapMinutes: { least: 5, most: 9 },
          zone: "Europe/Lisbon",
          sentToday: 0,
          lastSentAt: null,
          restsUntil: null,
        })),
        now: START,
        days: 60,
        rates: { reply: 0.05, open: 0.4, click: 0.1, meeting: 0.3, accept: 0.3 },
        seenEmails: 500,
        stops: { reply: true, meeting: true, open: false, click: false },
        newADay: null,
        seed: "bench",
      }),
    );
  run(1_000);
  const small = median([run(10_000), run(10_000), run(10_000)]);
  const large = run(100_000);
  return {
    bench: "rehearsal",
    ratio: Number((large / small).toFixed(2)),
    limit: 12.4,
    kind: "most",
    tenThousandMs: Math.round(small),
    hundredThousandMs: Math.round(large),
  };
}

/** 100,000 due journeys at a fork, each with its facts, against reading those facts alone. */
export async function benchAdvance(): Promise<Figure> {
  const path: Path = [
    email("a", 0, { subject: "S" }),
    {
      id: "f",
      kind: "fork",
      name: "",
      ask: { about: "opened", stepId: "a" },
      patience: { days: 3, working: true },
      yes: [email("y", 1)],
      no: [email("n", 1)],
    },
    email("c", 3),
  ];
  const facts = Array.from(
    { length: 100_000 },
    (_, nth): Facts => ({
      hasAddress: true,
      hasProfile: nth % 2 === 0,
      fieldValue: () => "",
      acceptedAt: null,
      openedAt: new Map(nth % 3 === 0 ? [["a", START + nth]] : []),
      clickedAt: new Map(),
      visitedAt: null,
      watchedAt: new Map(),
      labels: [],
    }),
  );
  const now = START + 9 * 24 * 3_600_000;
  let read = 0;
  const bare = timed(() => {
    for (const { openedAt } of facts) read += openedAt.get("a") ?? 0;
  });
  let acted = 0;
  const walk = timed(() => {
    facts.forEach((each, seed) => {
      const walker = { path, calendar, seed, begun: new Map([["a", { at: START, endedAt: START }]]) };
      if (advance(walker, { nodeId: "f", since: START }, each, now).move.kind === "act") acted++;
    });
  });
  return {
    bench: "advance",
    // Milliseconds for 100,000: asked is a second.
    ratio: Number((walk / 1_000).toFixed(2)),
    limit: 1,
    kind: "most",
    walkMs: Math.round(walk),
    readMs: Math.round(bare),
    acted: acted + (read > 0 ? 0 : 1),
  };
}
