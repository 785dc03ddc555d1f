import { ThemeProvider } from "@mui/material/styles";
import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { theme } from "../theme/theme.ts";
import { Timeline, type TimelineProps } from "./timeline.tsx";

const plan: TimelineProps = {
  name: "Steps of the sequence",
  lanes: ["Email", "Call"],
  days: ["Day 0", "1", "2", "3"],
  weekendsAfter: [1],
  touches: [
    {
      id: "a",
      lane: "Email",
      day: 0,
      label: "Opening",
      channel: "email",
      state: "done",
      spoken: "Opening, day 0",
    },
    {
      id: "b",
      lane: "Call",
      day: 2,
      label: "Ring",
      channel: "call",
      state: "planned",
      spoken: "Ring, day 2",
    },
    {
      id: "c",
      lane: "Email",
      day: 3,
      label: "Close",
      channel: "email",
      state: "cancelled",
      spoken: "Close, day 3",
    },
  ],
};
const draw = (change: Partial<TimelineProps> = {}) =>
  renderToStaticMarkup(
    <ThemeProvider theme={theme}>
      <Timeline {...plan} {...change} />
    </ThemeProvider>,
  );

describe("the timeline", () => {
  it("reads as an ordered list, each touch with its state in words", () => {
    const html = draw();
    expect(html).toMatch(/<ol[^>]*aria-label="Steps of the sequence"/);
    expect([...html.matchAll(/<li[^>]*>([^<]+)<\/li>/g)].map(([, words]) => words)).toEqual([
      "Opening, day 0, done",
      "Ring, day 2, planned",
      "Close, day 3, will not happen",
    ]);
    expect(html).toMatch(/<svg[^>]*aria-hidden="true"/);
  });

  it("has nothing to press where it only tells a story, and a button for each step of a plan", () => {
    expect(draw()).not.toContain("<button");
    const buttons = [
      ...draw({ onSelect: () => {}, selected: "b" }).matchAll(
        /<button[^>]*aria-label="([^"]+)"[^>]*aria-pressed="(\w+)"/g,
      ),
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
