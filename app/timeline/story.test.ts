import { describe, expect, it } from "vitest";
import type { StoryEvent, StoryJourney } from "../../server/prospects/people/prospect-story.ts";
import { drawStory } from "./story.ts";

const at = (iso: string) => Date.parse(`${iso}+01:00`);
const NOW = at("2026-06-09T10:36");
const ZONE = "Europe/Lisbon";

const journey = (change: Partial<StoryJourney> = {}): StoryJourney => ({
  id: 1,
  sequenceId: 1,
  sequenceName: "Loans",
  sequenceKind: "shared",
  state: "active",
  startedAt: at("2026-06-04T09:00"),
  endedAt: null,
  stopReason: null,
  stopDetail: null,
  nextAt: at("2026-06-10T09:00"),
  waitReason: "wait_days",
  waitDetail: null,
  mailbox: null,
  isInvited: false,
  touches: [
    { stepId: "one", name: "Opening", channel: "email", at: at("2026-06-04T10:00"), state: "done" },
    { stepId: "two", name: "Second", channel: "email", at: at("2026-06-10T09:00"), state: "planned" },
  ],
  ...change,
});
const event = (id: number, kind: StoryEvent["kind"], iso: string): StoryEvent => ({
  id,
  kind,
  at: at(iso),
  detail: null,
});

describe("a prospect's story", () => {
  it("counts working days from the start; the weekend is a band, not a width", () => {
    const drawing = drawStory(journey(), [], NOW, ZONE);
    expect(drawing.days.slice(0, 4).map(({ label }) => label)).toEqual(["4 Jun", "5 Jun", "8 Jun", "9 Jun"]);
    expect(drawing.weekendsAfter).toContain(1);
    const [one, two] = drawing.marks;
    expect(Math.floor(one?.at ?? -1)).toBe(0);
    expect(Math.floor(two?.at ?? -1)).toBe(4);
    expect(Math.floor(drawing.now ?? -1)).toBe(3);
  });

  it("says what will not happen after a stop, and shows no now", () => {
    const stopped = journey({
      state: "stopped",
      endedAt: at("2026-06-08T12:00"),
      stopReason: "replied",
      touches: [
        { stepId: "one", name: "Opening", channel: "email", at: at("2026-06-04T10:00"), state: "done" },
        { stepId: "two", name: "Second", channel: "email", at: at("2026-06-10T09:00"), state: "cancelled" },
      ],
    });
    const drawing = drawStory(stopped, [event(1, "replied", "2026-06-08T12:00")], NOW, ZONE);
    expect(drawing.now).toBeUndefined();
    expect(drawing.marks.map(({ spoken }) => spoken)).toContain("Second, cancelled");
    expect(drawing.marks.find(({ shape }) => shape === "them")).toMatchObject({
      label: "Replied",
      state: "answered",
    });
  });

  it("gathers what happened within hours under the act that says most", () => {
    const acts = drawStory(
      journey(),
      [
        event(1, "opened", "2026-06-05T09:00"),
        event(2, "clicked", "2026-06-05T09:01"),
        event(3, "replied", "2026-06-05T11:00"),
        event(4, "opened", "2026-06-09T09:00"),
      ],
      NOW,
      ZONE,
    ).marks.filter(({ shape }) => shape === "them");
    expect(acts.map(({ label, state }) => `${label} ${state}`)).toEqual([
      "Replied answered",
      "Opened planned",
    ]);
    expect(acts[0]?.spoken).toMatch(/Opened.*Clicked.*Replied/);
  });

  it("has a row for each channel that was used", () => {
    const touches: StoryJourney["touches"] = [
      { stepId: "one", name: "Opening", channel: "email", at: at("2026-06-04T10:00"), state: "done" },
      { stepId: "ring", name: "Ring", channel: "call", at: at("2026-06-08T10:00"), state: "person" },
    ];
    const { stretches, marks } = drawStory(journey({ touches }), [], NOW, ZONE);
    expect(stretches[0]?.lanes).toEqual(["Email", "Call", "They"]);
    expect(marks.map(({ row, shape }) => `${row} ${shape}`)).toEqual(["0 email", "1 call"]);
  });

  it("leaves out what we did ourselves and what belongs to an earlier journey", () => {
    const events = [
      event(1, "opened", "2026-05-20T09:00"),
      event(2, "email_sent", "2026-06-04T10:00"),
      event(3, "journey_started", "2026-06-04T09:00"),
    ];
    expect(drawStory(journey(), events, NOW, ZONE).marks.filter(({ shape }) => shape === "them")).toEqual([]);
  });

  it("puts what happened at a weekend at the end of Friday", () => {
    const [act] = drawStory(journey(), [event(1, "replied", "2026-06-06T15:00")], NOW, ZONE).marks.filter(
      ({ shape }) => shape === "them",
    );
    expect(act?.at).toBeGreaterThan(1.5);
    expect(act?.at).toBeLessThan(2);
  });
});
