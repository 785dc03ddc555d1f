import { ThemeProvider } from "@mui/material/styles";
import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { daysBeforeBreaks } from "../sequences/plan-drawing.ts";
import { theme } from "../theme/theme.ts";
import { geometryOf, labelWidths } from "./geometry.ts";
import type { TimelineProps } from "./marks.ts";
import { Timeline } from "./timeline.tsx";
import { WorkedTimeline, type WorkedTimelineProps } from "./worked-timeline.tsx";

const plan: TimelineProps = {
  name: "Steps of the sequence",
  days: ["Day 0", "1", "2", "3"].map((label) => ({ label, width: 1 })),
  rows: 2,
  weekendsAfter: [1],
  stretches: [{ lanes: ["Email", "Call"], row: 0, from: 0, to: 4 }],
  marks: [
    { id: "a", at: 0.5, row: 0, label: "Opening", shape: "email", state: "done", spoken: "Opening, day 0" },
    { id: "b", at: 2.5, row: 1, label: "Ring", shape: "call", state: "planned", spoken: "Ring, day 2" },
    { id: "c", at: 3.5, row: 0, label: "Close", shape: "email", state: "cancelled", spoken: "Close, day 3" },
  ],
  links: [
    { from: "a", to: "b" },
    { from: "b", to: "c" },
  ],
};
const nothing = () => {};
const work = (change: Partial<WorkedTimelineProps>) =>
  renderToStaticMarkup(
    <ThemeProvider theme={theme}>
      <WorkedTimeline
        {...plan}
        selected={null}
        onSelect={nothing}
        onOpen={nothing}
        onMove={nothing}
        onDropIn={nothing}
        onKey={() => false}
        {...change}
      />
    </ThemeProvider>,
  );
const draw = (change: Partial<TimelineProps> = {}) =>
  renderToStaticMarkup(
    <ThemeProvider theme={theme}>
      <Timeline {...plan} {...change} />
    </ThemeProvider>,
  );

describe("the timeline", () => {
  it("is read at a fork as a list of its two ways, whether it is worked on or not", () => {
    const outline = [
      {
        id: "a",
        ways: [
          { title: "They accepted", items: [{ id: "b" }] },
          { title: "No", items: [{ id: "c" }] },
        ],
      },
    ];
    for (const html of [draw({ outline }), work({ outline })])
      expect(html).toMatch(
        /Opening, day 0, done.*<ol[^>]*aria-label="They accepted".*Ring, day 2.*<ol[^>]*aria-label="No".*Close/s,
      );
  });

  it("lets no label touch its neighbour, and no mark leave its day, at any zoom", () => {
    for (const zoom of [1, 2, 3])
      for (const width of [390, 900, 1280]) {
        const geometry = geometryOf(plan.days, 2, { width, zoom, mostHeight: 300, titled: false });
        const widths = labelWidths(plan.marks, geometry);
        const distance = geometry.x(3.5) - geometry.x(0.5);
        expect((widths.get("a") ?? 0) / 2 + (widths.get("c") ?? 0) / 2).toBeLessThan(distance);
        for (const { at } of plan.marks) expect(geometry.dayAt(geometry.x(at))).toBe(Math.floor(at));
      }
  });

  it("reads as an ordered list, each touch with its state in words", () => {
    const html = draw();
    expect(html).toMatch(/<ol[^>]*aria-label="Steps of the sequence"/);
    expect([...html.matchAll(/<li[^>]*title="([^"]+)"/g)].map(([, words]) => words)).toEqual([
      "Opening, day 0, done",
      "Ring, day 2, planned",
      "Close, day 3, will not happen",
    ]);
    expect(html).toMatch(/<svg[^>]*aria-hidden="true"/);
  });

  it("has nothing to press where it only tells a story, and a button for each step of a plan", () => {
    expect(draw()).not.toContain("<button");
    const buttons = [
      ...work({ selected: "b" }).matchAll(/<button[^>]*aria-label="([^"]+)"[^>]*aria-pressed="(\w+)"/g),
    ];
    expect(buttons.map(([, label, pressed]) => `${label} ${pressed}`)).toEqual([
      "Opening, day 0, done false",
      "Ring, day 2, planned true",
      "Close, day 3, will not happen false",
    ]);
  });

  it("says channel by shape and state by more than colour: what will not happen is dashed", () => {
    const html = draw();
    expect(html.match(/<rect[^>]*width="34"/g)).toHaveLength(2);
    expect(html).toContain("M-15 0 L-8 -13"); // the hexagon of a call
    expect(html.match(/stroke-dasharray="3 2.5"/g)?.length).toBeGreaterThan(0);
  });

  it("draws a band for a weekend, a lane for each channel and the needle of now only where there is a now", () => {
    const html = draw();
    expect(html.match(/fill="#F3EFE5"/g)).toHaveLength(1);
    expect(html).toContain(">Email</text>");
    expect(html).toContain(">Call</text>");
    expect(html).not.toContain('stroke="#B88A2A"');
    expect(draw({ now: 1.5 })).toContain('stroke="#B88A2A"');
  });
});

describe("breaks in a sequence's own week", () => {
  it.each([
    ["a working week from Tuesday", 2, [1, 2, 3, 4, 5], [3, 8]],
    ["from a Saturday: day 0 is Monday", 6, [1, 2, 3, 4, 5], [4, 9]],
    ["Tuesday and Thursday only", 2, [2, 4], [0, 1, 2, 3, 4, 5, 6, 7, 8, 9]],
    ["every day", 3, [1, 2, 3, 4, 5, 6, 7], []],
  ])("%s", (_, today, days, breaks) => expect(daysBeforeBreaks(10, today, days)).toEqual(breaks));
});
