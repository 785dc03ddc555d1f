/** How letters are read by the model that ships. How well new letters do is measured in docs/sorting.md. */
import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { LABELS } from "./labels.ts";
import { packModel, unpackModel } from "./model-file.ts";
import { namedPerson } from "./named-person.ts";
import { newText } from "./new-text.ts";
import { sortReply } from "./sort.ts";
import { readTraining, train } from "./train.ts";

const model = unpackModel(JSON.parse(readFileSync("core/replies/model.json", "utf8")));
const read = (text: string) =>
  sortReply({ text, own: ["ana@kai.example"], at: Date.UTC(2026, 5, 9), zone: "UTC", country: "" }, model);

describe("sorting", () => {
  it.each([
    "STOP",
    "Unsubscribe",
    "unsubscribe me please",
    "Dear Marta,\n\nSTOP\n\nBest,\nAna",
    "Please remove me from your list.",
    "Take us off your mailing list, thanks.",
    "Do not contact me again.",
    "Bitte nehmen Sie mich aus dem Verteiler.",
    "Merci de me désinscrire.",
    "Darme de baja por favor.",
    "Remova o meu email da lista.",
    "Mi cancelli dalla lista.",
    "Schrijf mij uit alstublieft, geen mails meer.",
    "Fjern meg fra listen.",
    "Ta bort mig från listan.",
    "Proszę usunąć mój adres z listy.",
    "Удалите меня из рассылки.",
    "配信停止してください",
    "请不要再给我发邮件",
    "We are not interested; please stop writing.",
  ])("never misses a plain opt-out: %s", (text) => {
    expect(read(text).label).toBe("opt_out");
  });

  it("marks the words that decided, within the letter", () => {
    const letter = "Dear Marta,\n\nyour note is timely, please send me a quote for twelve.\n\nBest, Ana";
    const { label, words, sure } = read(letter);
    expect(label).toBe("interested");
    expect(sure).toBe(true);
    expect(words.map(([from, to]) => letter.slice(from, to)).join(" ")).toMatch(/quote|send me|timely/);
  });

  it("says that it is unsure where it is, and that there is nothing to read", () => {
    expect(read("Hm.").sure).toBe(false);
    for (const nothing of ["", "   ", "—"])
      expect(read(nothing)).toMatchObject({ by: "nothing to read", sure: false });
  });

  it("reads a thumb as the word that it stands for", () => expect(read("👍").label).toBe("interested"));

  it("reads an absence until its day, and who answers meanwhile; not who asks something", () => {
    expect(read("I am on leave until 19 June. Contact Ed Norris, ed@kai.example.")).toMatchObject({
      label: "away",
      day: "2026-06-19",
      person: { firstName: "Ed", lastName: "Norris", email: "ed@kai.example" },
    });
    expect(read("I am away next week. Could you call me on Monday the 22nd?").label).not.toBe("away");
  });

  it("reads only what was written for it: no quotation, signature or disclaimer", () => {
    const written = "Yes, let's talk.";
    for (const end of [
      "\n-- \nAna\nUnsubscribe here",
      "\nSent from my phone",
      "\nThis email and any attachments are confidential. Remove it if you are not the intended recipient.",
    ])
      expect(newText(`${written}${end}`)).toBe(written);
  });

  it("any text is read, with marks inside it and chances that add up", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme", maxLength: 400 }), (text) => {
        const { words, confidence } = read(text);
        expect(confidence).toBeGreaterThanOrEqual(0);
        expect(confidence).toBeLessThanOrEqual(1);
        for (const [from, to] of words) expect(from >= 0 && from <= to && to <= text.length + 4).toBe(true);
      }),
      { numRuns: 120 },
    );
  });
});

describe("the model", () => {
  const examples = readTraining(
    "[interested]\nYes, call me\nSend me {a quote|prices}\n[opt_out]\nRemove me\nStop writing\n[neutral]\nHello,\nBest,\n",
    "en",
  );
  it("is the same for the same letters, comes back from its file, and learns a label of one's own", () => {
    const labels = ["interested", "opt_out"];
    const [one, two] = [train(examples, labels), train(examples, labels)];
    expect(one).toEqual(two);
    const back = unpackModel(JSON.parse(JSON.stringify(packModel(one))));
    expect(back.labels).toEqual(labels);
    const largest = Math.max(...one.weights.flatMap((own) => [...own].map(Math.abs)));
    back.weights.forEach((own, index) => {
      for (let at = 0; at < own.length; at += 97)
        expect(Math.abs((own[at] as number) - (one.weights[index]?.[at] as number))).toBeLessThan(
          largest / 100,
        );
    });
    expect(() =>
      unpackModel({
        labels,
        bias: [0, 0],
        temperature: 1,
        ids: "AQAAAA==",
        steps: [1, 1],
        weights: ["AAA=", "AAA="],
      }),
    ).toThrow();
  });

  it("that ships knows every label that it is to tell apart", () => {
    expect(model.labels).toEqual([...LABELS]);
  });
});

describe("whom a letter names", () => {
  it.each([
    ["Please contact Maria Lopes, maria.lopes@acme.example.", "Maria", "Lopes", "maria.lopes@acme.example"],
    ["Our head of IT, Jon Berg, would be the one to ask.", "Jon", "Berg", ""],
    ["In dringenden Fällen wenden Sie sich bitte an Frau Otto.", "", "Otto", ""],
    ["Contactez ma collègue Anne Petit (a.petit@x.example)", "Anne", "Petit", "a.petit@x.example"],
    ["Emma Cole is covering for me.", "Emma", "Cole", ""],
    ["She runs the lab: samira.haddad@lab.example", "Samira", "Haddad", "samira.haddad@lab.example"],
    ["Write to info@harbour.example.", "", "", "info@harbour.example"],
  ])("%s", (text, firstName, lastName, email) => {
    expect(namedPerson(text, [])).toMatchObject({ firstName, lastName, email });
  });

  it("is nobody where only the writer and we are named", () => {
    expect(namedPerson("Out until Monday. Thank you. ana@kai.example", ["ana@kai.example"])).toBeNull();
  });
});
