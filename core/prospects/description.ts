/** What of a description of whom one looks for did not come into the profile: a program that reads it must not drop words silently. */
import { countryName } from "../countries.ts";
import { fold } from "../fold.ts";
import { synonymsOf, type TargetProfile } from "./profile.ts";
import { SENIORITY_NAMES } from "./seniority.ts";

/** Words that ask for nothing by themselves, in the languages of descriptions. */
const SMALL_WORDS = new Set(
  `a about above all an and any are as at based be been below between but by can could each either etc few for from
  has have having he her his how i if in into is it its kind like located looking me more most must my need no nor not
  of on only or our out over people person prospects searching seek seeking she should so some such than that the their
  them they these this those to under up us want we well were what when where which who whom whose will with within
  without would write you your contacts leads find someone anybody somebody everyone companies company firms
  organisations organizations institutions houses businesses employees employee staff size between around roughly
  at least most larger smaller big large small mid medium sized reach talk target ideally preferably mainly mostly
  work works working job jobs title titles role roles level responsible charge please also plus other others
  und oder der die das den dem des ein eine einer eines mit von für in im am an auf wir suchen suche nach bei zu aus
  mitarbeiter mitarbeitern beschäftigten firmen unternehmen
  les des une dans avec pour qui sont nous cherchons aux par sur
  los las una con para que son buscamos por del
  os as um uma com para que procuramos em dos das nos
  gli una con per che sono cerchiamo nei delle
  het een met voor die zoeken wij`.split(/\s+/),
);
/** Sentences about the seller tell nothing of whom they look for. */
const ABOUT_US =
  /^\s*(we|our|i|my|wir|unser|ich|nous|notre|nosotros|nuestr\w*|vendemos|noi|wij|ons)\s+(?:\w+\s+)?(sell|sells|offer|offers|make|makes|build|builds|provide|provides|are an?|develop|rent|deliver|supply|verkaufen|bieten|bauen|machen|vendons|proposons|offrons|vendemos|ofrecemos|oferecemos|vendiamo|offriamo|verkopen|product|company|firm|team|software)\b/i;
/** Beginnings that two words must share to be forms of one: "museum" and "museums", "Portugal" and "Portuguese". */
const STEM = 5;

const wordsIn = (text: string) => fold(text).match(/\p{L}[\p{L}'-]*|\d+/gu) ?? [];

/** Words of the description that nothing in the profile stands for, each once, as they are written there. */
export function unreadWords(description: string, profile: TargetProfile): string[] {
  const texts = [
    ...profile.industries,
    ...profile.countries.flatMap((code) => [code, countryName(code)]),
    ...profile.regions,
    ...profile.cities,
    ...profile.titles.flatMap((title) => [title, ...synonymsOf(title)]),
    ...profile.titlesWithout,
    ...profile.seniorities.map((seniority) => SENIORITY_NAMES[seniority]),
    ...profile.keywords,
    ...profile.mustHave.map((field) => field.replace("_", " ")),
    String(profile.employeesFrom ?? ""),
    String(profile.employeesTo ?? ""),
  ];
  const known = texts.flatMap(wordsIn);
  const isKnown = (word: string) =>
    known.some(
      (each) =>
        each === word ||
        (each.length >= STEM && word.length >= STEM && each.slice(0, STEM) === word.slice(0, STEM)),
    );
  const asking = description
    .split(/(?<=[.!?\n])\s+/)
    .filter((sentence) => !ABOUT_US.test(sentence))
    .join(" ");
  const words = asking.match(/[\p{L}\p{N}][\p{L}\p{N}'-]*/gu) ?? [];
  return [...new Set(words)].filter((word) => {
    const [plain = ""] = wordsIn(word);
    return (plain.length > 2 || /^\d/.test(plain)) && !SMALL_WORDS.has(plain) && !isKnown(plain);
  });
}
