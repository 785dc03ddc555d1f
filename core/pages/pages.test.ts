import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readCaptions, toWebVtt } from "./captions.ts";
import { colourProblems, contrast, INK } from "./colours.ts";
import { fillPage, type Have } from "./fill-page.ts";
import { FRAMES, SITE, scrolledAt } from "./moving-picture.ts";
import { type Definition, definitionSchema, shownIn, usualDefinition, wordsIn } from "./template.ts";
import { SHARES, shareOf, sharesSince } from "./watching.ts";

describe("captions", () => {
  it("come from a line each with its time, and each stays until the next", () => {
    const read = readCaptions("0:00 Good morning.\n\n0:04.5 This is the sheet.\n1:02:03 The end");
    expect(read).toEqual({
      captions: [
        { from: 0, to: 4_500, text: "Good morning." },
        { from: 4_500, to: 11_500, text: "This is the sheet." },
        { from: 3_723_000, to: 3_730_000, text: "The end" },
      ],
    });
  });

  it("come from a whole WebVTT file, with its notes, settings and marks left out", () => {
    const file =
      "WEBVTT - said\r\n\r\nNOTE by Marta\r\n\r\nfirst\r\n00:00.000 --> 00:02.500 align:start\r\n<v Marta>Good <b>morning</b>\r\nto you\r\n\r\n00:00:03,000 --> 00:00:05,000\r\nBye\r\n";
    expect(readCaptions(file)).toEqual({
      captions: [
        { from: 0, to: 2_500, text: "Good morning\nto you" },
        { from: 3_000, to: 5_000, text: "Bye" },
      ],
    });
  });

  it.each([
    ["Good morning", "Line 1 needs its time"],
    ["0:00 Hello\n0:03", "Line 2 needs"],
    ["0:05 b\n0:03 a", "Line 2 comes before"],
    ["0:75 seconds", "Line 1 needs"],
    ["WEBVTT\n\n00:04.000 --> 00:02.000\nback", "Line 3 says no time span"],
    ["WEBVTT\n", "No line with a time span"],
  ])("say which line cannot be read: %j", (typed, words) => {
    expect(readCaptions(typed)).toEqual({ problem: expect.stringContaining(words) });
  });

  it("are written so that no word of them is taken for a mark, and read again as they were", () => {
    const line = fc.record({
      words: fc.stringMatching(/^[a-z<>&]{1,12}( [a-z-]{1,8}){0,3}$/),
      pause: fc.integer({ min: 1, max: 600 }),
    });
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 20 }), (lines) => {
        let at = 0;
        const typed = lines.map(({ words, pause }) => {
          at += pause;
          return `${Math.floor(at / 60)}:${String(at % 60).padStart(2, "0")} ${words}`;
        });
        const read = readCaptions(typed.join("\n"));
        if (!("captions" in read)) throw new Error(read.problem);
        const file = toWebVtt(read.captions);
        // Two arrows on one line would be another cue's time span.
        expect(file.split("\n").filter((each) => each.includes("-->"))).toHaveLength(lines.length);
        expect(file.split("\n").filter((each) => /<[a-z]/.test(each))).toEqual([]);
        const again = readCaptions(file);
        expect("captions" in again && again.captions.map(({ from }) => from)).toEqual(
          read.captions.map(({ from }) => from),
        );
      }),
    );
  });
});

describe("how much of a film was seen", () => {
  const film = { from: 10, to: 50 };
  it.each([
    [[], 0],
    [[[10, 19.9]], 0],
    [[[10, 20]], 25],
    [[[10, 30]], 50],
    [
      [
        [10, 20],
        [30, 40],
      ],
      50,
    ],
    // What is seen twice is seen once.
    [
      [
        [10, 20],
        [12, 20],
        [10, 15],
      ],
      25,
    ],
    [
      [
        [40, 41],
        [10, 39],
      ],
      75,
    ],
    [[[10, 49]], 100],
    // What was cut off is no part of it.
    [
      [
        [0, 10],
        [50, 60],
      ],
      0,
    ],
  ] as [[number, number][], number][])("%j of 10 to 50 seconds is %i in a hundred", (ranges, share) => {
    expect(shareOf(ranges, film)).toBe(share);
  });

  it("is told once for each quarter, also where one was jumped over", () => {
    expect(sharesSince(null, 0)).toEqual([0]);
    expect(sharesSince(null, 50)).toEqual([0, 25, 50]);
    expect(sharesSince(25, 25)).toEqual([]);
    expect(sharesSince(25, 100)).toEqual([50, 75, 100]);
    for (const share of SHARES) expect(sharesSince(100, share)).toEqual([]);
  });

  it("never grows by playing the same again, and never shrinks by playing more", () => {
    const range = fc.tuple(
      fc.float({ min: 0, max: 60, noNaN: true }),
      fc.float({ min: 0, max: 60, noNaN: true }),
    );
    fc.assert(
      fc.property(fc.array(range, { maxLength: 8 }), range, (ranges, more) => {
        const before = shareOf(ranges, film);
        expect(shareOf([...ranges, ...ranges], film)).toBe(before);
        expect(shareOf([...ranges, more], film)).toBeGreaterThanOrEqual(before);
      }),
    );
  });

  it("is nothing of a film without length", () => expect(shareOf([[0, 5]], { from: 3, to: 3 })).toBe(0));
});

describe("colours", () => {
  // The examples of the standard (WCAG 2.2): black on white, and the grey that is just enough.
  it("contrast as the standard says", () => {
    expect(contrast("#000000", "#ffffff")).toBeCloseTo(21, 5);
    expect(contrast("#767676", "#ffffff")).toBeCloseTo(4.54, 2);
    expect(contrast("#1f4f8f", "#1f4f8f")).toBe(1);
  });

  it("say what is too hard to read, and what to do", () => {
    expect(colourProblems({ accent: "#1f4f8f", paper: "#faf9f4" })).toEqual({});
    expect(colourProblems({ accent: "#7fb0ff", paper: "#ffffff" })).toEqual({
      accent: expect.stringContaining("darker"),
    });
    expect(colourProblems({ accent: "#1f4f8f", paper: "#333333" }).paper).toContain("lighter");
    expect(contrast(INK, "#faf9f4")).toBeGreaterThan(12);
  });
});

const definition = (change: object): Definition =>
  definitionSchema.parse({ ...usualDefinition("en"), ...change });
const have: Have = {
  film: true,
  logo: "/pictures/a.png",
  site: true,
  files: new Set([7]),
  times: true,
  plainGreeting: "For you",
};
const nell = {
  first_name: "Nell",
  last_name: "Cadwell",
  company: "Slate Coast",
  sender_name: "Marta Quintela",
  sender_first_name: "Marta",
};

describe("a page for somebody", () => {
  it("is filled in with what is known of them", () => {
    const { blocks, lacks } = fillPage(usualDefinition("en"), "en", nell, have);
    expect(lacks).toEqual([]);
    expect(blocks.map(({ kind }) => kind)).toEqual(["film", "greeting", "company", "words", "times"]);
    expect(blocks.find(({ kind }) => kind === "greeting")).toMatchObject({ text: "For Nell" });
    expect(JSON.stringify(blocks)).toContain("for Slate Coast");
  });

  it("stands without a part that something is missing for, and says so", () => {
    const { blocks, lacks } = fillPage(
      usualDefinition("en"),
      "en",
      { sender_first_name: "Marta", sender_name: "Marta" },
      { ...have, film: false, times: false },
    );
    expect(blocks.map(({ kind }) => kind)).toEqual(["greeting"]);
    expect(blocks[0]).toMatchObject({ text: "For you" });
    expect(lacks.map(({ kind, what, instead }) => `${kind}: ${what}: ${instead}`)).toEqual([
      "film: the film: left out",
      "greeting: first name: a plain greeting",
      "company: company: left out",
      "words: company: left out",
      "times: free times: left out",
    ]);
  });

  it("gives way where only something beside it is missing", () => {
    const { blocks, lacks } = fillPage(usualDefinition("en"), "en", nell, {
      ...have,
      logo: null,
      site: false,
    });
    expect(blocks.find(({ kind }) => kind === "film")).toMatchObject({ besideSite: false });
    expect(blocks.find(({ kind }) => kind === "company")).toMatchObject({ logo: null, name: "Slate Coast" });
    expect(lacks.map(({ instead }) => instead)).toEqual(["the film alone", "their initials"]);
  });

  it("shows a person's values as text, whatever they look like", () => {
    const words = {
      id: "w",
      kind: "words",
      text: { en: "**Hello** {{ first_name }}\n\n![x](file:3) <script>alert(1)</script>" },
    };
    const { blocks } = fillPage(
      definition({ blocks: [words] }),
      "en",
      { first_name: "<img src=x onerror=alert(1)> **bold** [link](http://evil.example)" },
      have,
    );
    const [block] = blocks;
    const html = block?.kind === "words" ? block.html : "";
    expect(html).toContain("<strong>Hello</strong>");
    expect(html).not.toMatch(/<(img|script|a)\b/);
    expect(html.match(/<strong>/g)).toHaveLength(1);
  });

  it("is in their language where something is written in it, else in its first", () => {
    const page = definition({
      languages: ["en", "de"],
      blocks: [
        { id: "g", kind: "greeting", text: { en: "For {{ first_name }}", de: "Für {{ first_name }}" } },
        { id: "w", kind: "words", text: { en: "Only here" } },
      ],
    });
    expect(shownIn(page, "de")).toBe("de");
    expect(shownIn(page, "ja")).toBe("en");
    expect(shownIn(page, null)).toBe("en");
    const { blocks } = fillPage(page, "de", nell, have);
    expect(blocks[0]).toMatchObject({ text: "Für Nell" });
    expect(blocks[1]).toMatchObject({ html: expect.stringContaining("Only here") });
    expect(wordsIn({ en: "x", de: "  " }, page, "de")).toBe("x");
  });

  it.each([
    [{ blocks: [] }, "at least one"],
    [
      {
        blocks: [
          { id: "a", kind: "company" },
          { id: "a", kind: "company" },
        ],
      },
      "same name",
    ],
    [
      {
        blocks: [
          { id: "a", kind: "company" },
          { id: "b", kind: "company" },
        ],
      },
      "one company",
    ],
    [{ languages: [] }, ""],
    [{ colours: { accent: "red", paper: "#ffffff" } }, "#1F4F8F"],
  ])("is refused as %j", (change, words) => {
    const read = definitionSchema.safeParse({ ...usualDefinition("en"), ...change });
    expect(read.success).toBe(false);
    expect(JSON.stringify(read.error?.issues)).toContain(words);
  });
});

describe("a moving picture", () => {
  it("rests on the top of their site first, goes to its end, and stays there", () => {
    const height = 1_000;
    const way = Array.from({ length: FRAMES }, (_, frame) => scrolledAt(frame, height));
    expect(way.slice(0, 2)).toEqual([0, 0]);
    expect(way.at(-1)).toBe(height - SITE.height);
    expect(way).toEqual(way.toSorted((a, b) => a - b));
    expect(scrolledAt(5, 100)).toBe(0);
  });
});
