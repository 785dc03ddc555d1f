import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readTitle, readTitleAsWritten, titleMatches } from "./read-title.ts";

const told = (title: string) =>
  readTitle(title)
    .jobs.map(
      ({ role, fields, isDeputy, isAssistant, isNotNow }) =>
        `${[isNotNow && "not now", isDeputy && "deputy", isAssistant && "assistant", role?.name].filter(Boolean).join(" ")}${fields.length > 0 ? ` (${fields.join(", ")})` : ""}`,
    )
    .join(" + ");

describe("a title", () => {
  it.each([
    ["Founder & CEO", "owner", "founder + managing director"],
    ["CFO", "executive", "chief (finance)"],
    ["Assistant to the CFO", "junior", "assistant assistant"],
    ["Deputy Head of Marketing", "manager", "deputy head (marketing)"],
    ["Former CFO, now Consultant", "specialist", "not now chief (finance) + consultant"],
    ["CFO (retired)", "specialist", "not now chief (finance)"],
    ["Leiter Marketing und Vertrieb", "head", "leader (marketing, sales)"],
    ["Vertriebsleiterin (m/w/d)", "head", "leader (sales)"],
    ["Directora de Ventas", "head", "director (sales)"],
    ["Directeur des achats", "head", "director (procurement)"],
    ["Responsabile Acquisti", "manager", "responsible (procurement)"],
    ["Kierownik działu sprzedaży", "head", "leader (sales)"],
    ["myyntijohtaja", "head", "director (sales)"],
    ["Sales & Marketing Manager", "manager", "manager (sales, marketing)"],
    ["Director, Sales & Marketing", "head", "director (sales, marketing)"],
    ["Product Marketing Manager", "manager", "manager (marketing)"],
    ["Head of Sales Operations", "head", "head (operations)"],
    ["Maketing Manger", "manager", "manager (marketing)"],
    ["Head Librarian", "head", "librarian"],
    ["Assistentin der Geschäftsführung", "junior", "assistant assistant"],
    ["Art Director", "specialist", "art director"],
    ["Chief of Staff", "manager", "chief of staff"],
  ])("“%s” is of the rank %s: %s", (title, rank, jobs) => {
    expect(readTitle(title).rank).toBe(rank);
    expect(told(title)).toBe(jobs);
  });

  it("shows the words that it does not understand, and forgives no slip where it may be none", () => {
    expect(readTitle("Keeper of Coins").unknown).toEqual(["coins"]);
    expect(readTitleAsWritten("Maketing Manger").unknown).toEqual(["maketing", "manger"]);
  });

  it("is read in whatever capitals and spaces it stands", () => {
    const titles = ["Head of Sales", "CFO", "Leiter Einkauf", "Assistant to the CEO", "Chef de produit"];
    fc.assert(
      fc.property(
        fc.constantFrom(...titles),
        fc.boolean(),
        fc.integer({ min: 1, max: 3 }),
        (title, up, spaces) => {
          const other = (up ? title.toUpperCase() : title.toLowerCase()).replaceAll(" ", " ".repeat(spaces));
          expect(told(other)).toBe(told(title));
        },
      ),
    );
  });
});

describe("somebody with a title does the wanted work", () => {
  it.each([
    ["Head of Sales", "Försäljningschef", true],
    ["Head of Sales", "Sales Representative", false],
    ["Head of Sales", "Deputy Head of Sales", false],
    ["CFO", "Assistant to the CFO", false],
    ["Managing Director", "Geschäftsführerin", true],
    ["Managing Director", "Art Director", false],
    ["Marketing Manager", "Digital Marketing Manager", true],
    ["Product Manager", "Product Marketing Manager", false],
    ["Manager", "Facilities Manager", true],
    ["Marketing", "Head of Marketing", true],
    ["Keeper of Coins", "Senior Keeper of Coins", true],
    ["Keeper of Coins", "Keeper of Prints", false],
  ])("wanted %s: “%s” is %s", (wanted, title, does) => expect(titleMatches(title, wanted)).toBe(does));

  it("whom everybody is to themselves", () => {
    const titles = [
      "Registrar",
      "VP Sales",
      "Inhaberin",
      "Einkaufsleiter",
      "IT Manager",
      "Buyer",
      "Founder & CEO",
    ];
    for (const title of titles) expect(titleMatches(title, title), title).toBe(true);
  });
});
