import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { unsupported } from "./claims.ts";

const SITE = `Slate Coast Reading Room keeps the paper of a coast: charts, logbooks and the letters of 1,240 families.
The reading room was opened in 1911 by the Harbour Guild and moved to Bangor in 1987. “We lend what others lock away,” says
Nell Cadwell, who looks after the collections. On 4 March 2026 the exhibition “Salt on Vellum” opens with two hundred pieces,
forty of them on loan from Dundee. The building has 3 floors and 2.5 km of shelves. Tickets cost £12.`;
const ABOUT = {
  company: "Slate Coast Reading Room",
  first_name: "Nell",
  question: "Write a line for Quillwater",
};

const verdict = (line: string, source = SITE, language = "en") =>
  unsupported(line, { source, given: Object.values(ABOUT), language });

/** Written before the check was: what a rep would let through, and what not. */
describe("a line whose names, numbers and quotations stand in its source goes through", () => {
  it.each([
    "Salt on Vellum opens in March, with forty pieces on loan from Dundee.",
    "I read that the reading room moved to Bangor in 1987.",
    "Your line “We lend what others lock away” stayed with me.",
    "Letters of 1240 families under one roof is no small thing.",
    "Two hundred pieces, 40 of them lent by Dundee: who watches their climate on the way?",
    "200 pieces for “Salt on Vellum”: that is a lot of vellum.",
    "The Harbour Guild opened your reading room in 1911; it still reads like a place that lends.",
    "Nell, your two and a half kilometres of shelves must have seen some weather.",
    "Charts, logbooks and letters: the paper of a coast.",
    "You keep what others would have locked away.",
    "How does Slate Coast Reading Room watch 2.5 km of shelves?",
    "At Quillwater we read about your loan from Dundee.",
    "Three floors, one coast.",
    "SALT ON VELLUM is a fine title.",
    "It's rare that a house says “we lend what others lock away”.",
    "Your 4 March opening caught my eye.",
    "The Reading Room's forty loans caught my eye.",
    "I saw that Bangor’s reading room lends.",
    "One thing I noticed: your exhibition opens soon.",
    "The first exhibition of yours I read about is Salt on Vellum.",
  ])("%s", (line) => {
    expect(verdict(line)).toEqual([]);
  });
});

describe("a line that claims what its source does not say is refused, and it says what", () => {
  it.each([
    ["Salt on Vellum opens in May.", "May"],
    ["Congratulations on the award from the Royal Paper Trust.", "Royal Paper Trust"],
    ["I read that you moved to Bangor in 1978.", "1978"],
    ["Your 4,000 families of letters are impressive.", "4,000"],
    ["Your director Owain Pryce says you lend a lot.", "Owain Pryce"],
    ["“We never lend” is a brave thing to say.", "We never lend"],
    ["With fifty loans from Dundee, who watches the climate?", "fifty"],
    ["Your five floors must be hard to keep dry.", "five"],
    ["I saw the news from Cardiff.", "Cardiff"],
    ["The letters of twelve hundred families are safe with you.", "twelve hundred"],
    ["You won 30% more visitors last year.", "30%"],
    ["Dundee lent you sixty pieces.", "sixty"],
    ["Your piece in Paper Today was a pleasure to read.", "Paper Today"],
    ["Marine Archive of Leith lends to you, I read.", "Marine Archive of Leith"],
    ["Salt on Parchment opens in March.", "Parchment"],
    ['You say "paper is patient" on your site.', "paper is patient"],
    ["Tickets for £15 are fair.", "15"],
    ["I read on 5 March that you open.", "5"],
    ["Your 1987 move to Bergen must have been hard.", "Bergen"],
    ["As Nell Whitlock told the papers, you lend.", "Whitlock"],
  ])("%s", (line, missing) => {
    expect(verdict(line).join(" | ")).toContain(missing);
  });
});

describe("in other languages", () => {
  const HAUS = `Das Kontor für Papier in Kassel wurde 1924 gegründet. Die Leiterin Anke Dornbusch sagt: „Papier vergisst nichts.“
    Im Mai 2026 öffnet die Ausstellung „Licht und Leim“ mit 80 Leihgaben aus Bremen.`;
  it.each([
    ["Die Ausstellung „Licht und Leim“ öffnet im Mai.", "de", HAUS],
    ["80 Leihgaben aus Bremen brauchen ein ruhiges Klima.", "de", HAUS],
    ["Anke Dornbusch sagt: „Papier vergisst nichts.“", "de", HAUS],
    ["Achtzig Leihgaben sind eine Menge Verantwortung.", "de", HAUS],
    ["A sala de leitura abriu em 1911.", "pt", "A sala de leitura abriu em 1911, em Évora."],
    ["公開は三月です。", "ja", "展覧会は三月に公開されます。"],
  ])("%s goes through", (line, language, source) => {
    expect(verdict(line, source, language)).toEqual([]);
  });
  it.each([
    ["Ihre 90 Leihgaben brauchen ein ruhiges Klima.", "de", HAUS, "90"],
    ["Frau Ilse Harms sagt, Papier vergisst nichts.", "de", HAUS, "Ilse Harms"],
    ["Sie schreiben: „Papier ist geduldig.“", "de", HAUS, "Papier ist geduldig"],
    [
      "A sala de leitura em Coimbra abriu em 1911.",
      "pt",
      "A sala de leitura abriu em 1911, em Évora.",
      "Coimbra",
    ],
  ])("%s is refused", (line, language, source, missing) => {
    expect(verdict(line, source, language).join(" | ")).toContain(missing);
  });
});

it("a source supports whatever is quoted from it", () => {
  const sentences = SITE.split(/(?<=[.,])\s+/).filter((each) => !/[“”]/.test(each));
  fc.assert(
    fc.property(fc.shuffledSubarray(sentences, { minLength: 1 }), (said) => {
      expect(verdict(said.join(" "))).toEqual([]);
    }),
  );
});

it("is linear in what strangers write", () => {
  for (const hostile of [
    "A".repeat(200_000),
    "“".repeat(100_000),
    "9,".repeat(100_000),
    "A b ".repeat(50_000),
  ])
    expect(Array.isArray(verdict(hostile, hostile))).toBe(true);
});
