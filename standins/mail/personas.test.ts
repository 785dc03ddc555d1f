import { describe, expect, it } from "vitest";
import { type Persona, personaOf, type ReplyKind } from "./personas.ts";
import { awayText, replyText } from "./wording.ts";

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
    expect(share(all, ({ act }) => act?.kind === "reply")).toBeCloseTo(0.22, 1);
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
  const names = { sender: "Marta", name: "Ilse Brandt", first: "Ilse" };
  const kinds: ReplyKind[] = [
    "interested",
    "question",
    "not_now",
    "not_interested",
    "wrong_person",
    "opt_out_words",
  ];

  it.each(kinds)("is worded in many ways when it is “%s”, and signed", (kind) => {
    const texts = people(200).map(({ draw }) => replyText(kind, names, draw));
    expect(new Set(texts).size).toBeGreaterThan(40);
    for (const text of texts) {
      expect(text).toContain("Marta");
      expect(text).toMatch(/Ilse( Brandt)?$/);
      expect(text).not.toMatch(/[{}]/);
    }
  });

  it("names the day of return when they are away", () => {
    for (const { draw } of people(20)) expect(awayText("22 June", names, draw)).toContain("22 June");
  });
});
