import { describe, expect, it } from "vitest";
import { languageCode, languageOfCountry, PUBLIC_LANGUAGES, publicLanguage } from "../../core/languages";
import en from "./messages/en.json";
import { errorsIn, missingIn, tongueFor } from "./tongue.server";

const asked = (accept = "", path = "/book/marta") =>
  new Request(`https://q.example${path}`, { headers: { "accept-language": accept } });
const all = await Promise.all(
  PUBLIC_LANGUAGES.map(
    async (language) =>
      [language, (await import(`./messages/${language}.json`)).default as typeof en] as const,
  ),
);

describe("every language", () => {
  it.each(all)("%s says all that English says, with the same names in it", (language, messages) => {
    for (const [part, keys] of Object.entries(en))
      for (const [key, words] of Object.entries(keys)) {
        // Languages count in their own ways (CLDR plural rules).
        if (/_(one|few|many|other)$/.test(key)) continue;
        const said = (messages as unknown as Record<string, Record<string, string>>)[part]?.[key] ?? "";
        expect(said.trim(), `${language} ${part}.${key}`).not.toBe("");
        const names = (text: string) => [...text.matchAll(/\{\{\w+\}\}/g)].map(([name]) => name).sort();
        expect([...new Set(names(said))], `${language} ${part}.${key}`).toEqual([...new Set(names(words))]);
      }
    const forms = new Intl.PluralRules(language).resolvedOptions().pluralCategories;
    for (const form of forms)
      expect(Object.keys(messages.booking), `${language} minutes_${form}`).toContain(`minutes_${form}`);
  });
});

describe("a page is in", () => {
  it.each([
    ["theirs as we know it, whatever the browser prefers", "de", "fr", "", "de"],
    ["what the visitor chose, before all", "de", "fr", "?lang=it", "it"],
    ["the browser's, where nothing is known", null, "fr-CA,fr;q=0.9,en;q=0.5", "", "fr"],
    ["the best that is written, of several", null, "cy,nn;q=0.8,de;q=0.5", "", "nb"],
    ["English, for the rest", null, "cy", "", "en"],
    ["English, whatever nonsense is asked for", null, ";;;=,,", "?lang=%00<script>", "en"],
  ] as const)("%s", (_, known, accept, query, expected) => {
    const { language, messages } = tongueFor(asked(accept, `/book/marta${query}`), known, ["booking"]);
    expect(language).toBe(expected);
    expect(Object.keys(messages)).toEqual(["booking"]);
    expect(tongueFor(asked(accept, `/book/marta${query}`), known, []).kept).toBe(
      query === "?lang=it" ? query : "",
    );
  });

  it("offers the others that the visitor may read", () => {
    expect(tongueFor(asked("fr"), "de", []).others).toEqual([
      { language: "fr", name: "Français" },
      { language: "en", name: "English" },
    ]);
  });
});

it("what was refused is said in the page's language, with the name in it", () => {
  const said = errorsIn(
    { language: "pt" },
    {
      start: "Somebody has just taken this time. Choose another.",
      phone: "Type the number at which Marta can call you.",
      other: "Something else.",
    },
  );
  expect(said.start).toBe("Alguém acabou de ficar com esta hora. Escolha outra.");
  expect(said.phone).toContain("Marta");
  expect(said.phone).not.toContain("Type");
  expect(said.other).toBe("Something else.");
  expect(missingIn(asked("ja"), "call")).toMatch(/存在/);
});

describe("a language", () => {
  it("is known by its tag, its name in English or its own, and by the country that speaks it", () => {
    expect(["pt-BR", "PT", "no", "nn-NO", "en_US", "xx", ""].map(publicLanguage)).toEqual([
      "pt",
      "pt",
      "nb",
      "nb",
      "en",
      null,
      null,
    ]);
    expect(
      ["Portuguese", "português", "Deutsch", "de", "norsk", "日本語", "Klingon", ""].map(languageCode),
    ).toEqual(["pt", "pt", "de", "de", "nb", "ja", null, null]);
    expect(["PT", "BR", "AT", "BE", "CH", ""].map(languageOfCountry)).toEqual([
      "pt",
      "pt",
      "de",
      null,
      null,
      null,
    ]);
  });
});
