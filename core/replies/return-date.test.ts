/** The days that letters of absence and "not now" name, on Tuesday 9 June 2026, in the languages that reps meet most. */
import { describe, expect, it } from "vitest";
import { dayToAskAgain, returnDay } from "./return-date.ts";

const CONTEXT = { at: Date.parse("2026-06-09T09:00:00Z"), zone: "Europe/Lisbon", country: "" };

const BACK: [letter: string, day: string | null][] = [
  ["I am out of the office until 12 June.", "2026-06-12"],
  ["I'm on vacation from 3 to 17 August and will reply on my return.", "2026-08-17"],
  ["Thank you. I am currently on leave and back on Monday.", "2026-06-15"],
  ["Out of office, back on 5 July. For urgent matters contact Liam.", "2026-07-05"],
  ["On parental leave until October.", "2026-10-01"],
  ["Our office is closed until January 2.", "2027-01-02"],
  ["I'll be away until next Tuesday, call the front desk.", "2026-06-16"],
  ["On holiday! Back on the 21st.", "2026-06-21"],
  ["Annual leave until 30/07.", "2026-07-30"],
  ["I will be unavailable between 10 and 14 June.", "2026-06-14"],
  ["I will be on vacation from July 1 through July 15. I'll respond after that.", "2026-07-15"],
  ["Ich bin bis zum 12. Juni nicht im Büro.", "2026-06-12"],
  ["Ich bin im Urlaub und ab dem 3. August wieder erreichbar.", "2026-08-03"],
  ["Vom 1. bis 15. Juli bin ich nicht im Haus.", "2026-07-15"],
  ["Ich bin vom 3.8. bis 17.8. im Urlaub.", "2026-08-17"],
  ["Ihre Nachricht wird nach meiner Rückkehr am 5.9. bearbeitet.", "2026-09-05"],
  ["Ich bin bis einschließlich 30. Juni nicht im Büro.", "2026-06-30"],
  ["Je suis absente du bureau jusqu'au 12 juin.", "2026-06-12"],
  ["Je suis en congés du 3 au 17 août et vous répondrai à mon retour.", "2026-08-17"],
  ["je vous répondrai à mon retour le 2 septembre.", "2026-09-02"],
  ["Bonjour, je suis absent jusqu'à lundi inclus.", "2026-06-15"],
  ["Estoy de vacaciones hasta el lunes 15.", "2026-06-15"],
  ["Estoy de vacaciones del 3 al 17 de agosto.", "2026-08-17"],
  ["Estou de férias até dia 20 de julho.", "2026-07-20"],
  ["Volto a 1 de setembro.", "2026-09-01"],
  ["Sono in ferie fino al 20 agosto.", "2026-08-20"],
  ["Sono fuori ufficio dal 3 al 17 agosto", "2026-08-17"],
  ["Ik ben met vakantie tot en met 20 augustus.", "2026-08-20"],
  ["Ik ben afwezig van 1/7 t/m 15/7, vanaf 16 juli ben ik terug", "2026-07-16"],
  ["Jeg er på ferie til og med 12. august og svarer når jeg er tilbage.", "2026-08-12"],
  ["Jag är på semester till och med den 5 augusti.", "2026-08-05"],
  ["Hej, jag har semester vecka 28-31.", "2026-08-03"],
  ["Jestem na urlopie do 12 czerwca.", "2026-06-12"],
  ["Jsem na dovolené do 12. června.", "2026-06-12"],
  ["Я в отпуске до 12 июня.", "2026-06-12"],
  ["6月12日まで不在です。", "2026-06-12"],
  ["我在休假，6月12日回来。", "2026-06-12"],
  ["12 Haziran'a kadar izindeyim.", "2026-06-12"],
  ["Olen lomalla 12.8. asti.", "2026-08-12"],
  ["Away this week, back Monday.", "2026-06-15"],
  ["I'm away at a conference all week.", "2026-06-15"],
  ["Off sick today, back tomorrow.", "2026-06-10"],
  [
    "I will be out of the office starting Tuesday 16 June and will not return until Monday 22 June.",
    "2026-06-22",
  ],
  ["Please note I'm on annual leave returning 9th July, my emails are not forwarded.", "2026-07-09"],
  ["I am away from 06/15/2026 to 06/26/2026.", "2026-06-26"],
  ["Out until 2026-07-01.", "2026-07-01"],
  ["I have no access to email.", null],
  ["On leave. Back in two weeks.", "2026-06-23"],
  [
    "I am out of the office from Monday, June 15 to Friday, June 19, 2026, returning on Monday, June 22.",
    "2026-06-22",
  ],
];
const AGAIN: [letter: string, day: string][] = [
  ["Try me again in the autumn.", "2026-09-15"],
  ["Write to me in January, when the new budget opens.", "2027-01-01"],
  ["Perhaps after the summer.", "2026-09-01"],
  ["Ask again in six months.", "2026-12-09"],
  ["Melden Sie sich im Januar wieder.", "2027-01-01"],
  ["Recontactez-moi en septembre.", "2026-09-01"],
  ["Escríbame en septiembre.", "2026-09-01"],
  ["daqui a seis meses", "2026-12-09"],
  ["Come back in Q3", "2026-07-01"],
  ["next year please", "2027-01-10"],
  ["over een half jaar", "2026-12-09"],
  ["Not before 2028.", "2028-01-10"],
  ["L'année prochaine éventuellement", "2027-01-10"],
  ["im Herbst noch einmal", "2026-09-15"],
  ["dans trois mois", "2026-09-09"],
  ["来年また連絡してください", "2027-01-10"],
  ["next quarter", "2026-07-01"],
  ["Hör av dig i september", "2026-09-01"],
  ["Call me next week", "2026-06-15"],
  ["follow up in early November?", "2026-11-01"],
  ["after the holidays", "2026-09-01"],
  ["Reach out at the end of August", "2026-08-31"],
];

describe("the day of return", () => {
  it.each(BACK)("%s", (letter, day) => {
    expect(returnDay(letter, CONTEXT)?.day ?? null).toBe(day);
  });

  it("is told apart from the last day away, and numbers are read as the country writes them", () => {
    expect(returnDay("Back on 22 June.", CONTEXT)?.is).toBe("back");
    expect(returnDay("Away until 22 June.", CONTEXT)?.is).toBe("last_away");
    expect(returnDay("Out until 7/8.", CONTEXT)?.day).toBe("2026-08-07");
    expect(returnDay("Out until 7/8.", { ...CONTEXT, country: "US" })?.day).toBe("2026-07-08");
  });

  it("is none that lies behind, and none of a telephone number or a room", () => {
    expect(returnDay("I was away until 2 June.", CONTEXT)?.day ?? null).toBeNull();
    expect(returnDay("I am away. Call +44 20 7946 0000 or room 3.12", CONTEXT)).toBeNull();
  });
});

describe("the day to ask again", () => {
  it.each(AGAIN)("%s", (letter, day) => {
    expect(dayToAskAgain(letter, CONTEXT)?.day).toBe(day);
  });
});
