import { readdirSync, readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { type Persona, personaOf, type ReplyKind } from "./personas.ts";
import { awayLetter, replyText } from "./wording.ts";
import { LANGUAGES } from "./wording-parts.ts";

const people = (count: number, seed = "a season"): Persona[] =>
  Array.from({ length: count }, (_, index) => personaOf(seed, `person${index}@museum.example`));
const share = (all: Persona[], holds: (persona: Persona) => boolean) => all.filter(holds).length / all.length;

describe("a recipient", () => {
  it("does the same in every run of the same seed, and something else under another", () => {
    const traits = ({ draw: _, ...rest }: Persona) => rest;
    expect(people(50).map(traits)).toEqual(people(50).map(traits));
    expect(people(50).map(traits)).not.toEqual(people(50, "another season").map(traits));
  });

  it("answers, bounces, books and opts out about as often as in a good season", () => {
    const all = people(4000);
    expect(share(all, ({ act }) => act?.kind === "reply")).toBeCloseTo(0.27, 1);
    expect(share(all, ({ bounces }) => bounces !== null)).toBeLessThan(0.03);
    expect(share(all, ({ bounces }) => bounces !== null)).toBeGreaterThan(0.001);
    expect(share(all, ({ act }) => act?.kind === "book")).toBeGreaterThan(0.02);
    expect(share(all, ({ act }) => act?.kind === "opt_out")).toBeGreaterThan(0.005);
    expect(share(all, ({ away }) => away > 0)).toBeGreaterThan(0.02);
    expect(share(all, ({ actsOn }) => actsOn === 0)).toBeGreaterThan(0.5);
  });

  it("does nothing by itself without a seed", () => {
    expect(personaOf(null, "ana@kai.example")).toMatchObject({ bounces: null, act: null, away: 0, opens: 0 });
  });
});

describe("what recipients write", () => {
  const writer = (zone: string) => ({
    sender: "Marta Quintela",
    name: "Ilse Brandt",
    zone,
    colleague: { name: "Ada Voss", address: "ada.voss@kai.example" },
  });
  const ZONES = [
    "Europe/London",
    "Europe/Berlin",
    "Europe/Lisbon",
    "Europe/Oslo",
    "Europe/Paris",
    "Europe/Madrid",
    "Asia/Tokyo",
  ];
  const kinds: ReplyKind[] = [
    "interested",
    "question",
    "not_now",
    "not_interested",
    "wrong_person",
    "opt_out_words",
  ];

  it.each(kinds)("is worded in many ways and languages when it is “%s”, and signed", (kind) => {
    const texts = people(400).map(({ draw }, index) =>
      replyText(kind, writer(ZONES[index % ZONES.length] as string), draw),
    );
    expect(new Set(texts).size).toBeGreaterThan(60);
    for (const text of texts) {
      expect(text).toMatch(/Ilse( Brandt)?$|Brandt$/);
      expect(text).not.toMatch(/[{}]/);
    }
  });

  it("names the day of return, in the language of the letter, when they are away", () => {
    const back = new Date("2026-06-22T08:00:00Z");
    for (const [index, { draw }] of people(60).entries()) {
      const zone = ZONES[index % ZONES.length] as string;
      expect(awayLetter(back, "Loans", writer(zone), draw).text).toMatch(/22[. ]|22日/);
    }
  });

  it("says nothing in the words that the sorting was trained with", () => {
    const trained = readdirSync("core/replies/training").flatMap((name) =>
      readFileSync(`core/replies/training/${name}`, "utf8")
        .split("\n")
        .map((line) => line.trim().toLowerCase()),
    );
    const known = new Set(trained.filter((line) => line.length > 12));
    const said = Object.values(LANGUAGES).flatMap(({ says }) => Object.values(says).flat(2));
    expect(said.filter((line) => known.has(line.toLowerCase()))).toEqual([]);
  });
});
