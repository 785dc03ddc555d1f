/** Times that people ask for, written down before the reader was; today is Tuesday, 9 June 2026. */
import { describe, expect, it } from "vitest";
import { chooseTimes, wishedTimes } from "./wished-times.ts";

const TODAY = "2026-06-09";
const DAYS = Array.from({ length: 40 }, (_, nth) =>
  new Date(Date.parse(TODAY) + nth * 86_400_000).toISOString().slice(0, 10),
).filter((day) => ![0, 6].includes(new Date(day).getUTCDay()));
/** Every half hour of a working day from half past eight to half past five. */
const SLOTS = DAYS.flatMap((day) =>
  Array.from({ length: 19 }, (_, nth) => ({ day, hour: 8.5 + nth / 2 })),
).filter(({ day, hour }) => day > TODAY || hour > 11);

const first = (text: string) => {
  const [slot] = chooseTimes(SLOTS, wishedTimes(text, { today: TODAY, monthFirst: false }));
  return slot;
};

/** The text, the days of June (31 and more: July) of which the first offer has to be one, and between which hours. */
const ASKED: [text: string, days: number[], from?: number, to?: number][] = [
  ["Could we speak early next week?", [15, 16, 17]],
  ["Thursday afternoon would suit me.", [11], 12, 18],
  ["Happy to talk, but not before the 15th.", [15, 16, 17, 18, 19]],
  ["How about Friday at 10?", [12], 10, 10],
  ["Am besten passt mir Donnerstagnachmittag.", [11], 12, 18],
  ["Gern nächste Woche, am liebsten vormittags.", [15, 16, 17, 18, 19], 8, 12],
  ["Jeudi matin, si cela vous convient ?", [11], 8, 12],
  ["¿El lunes por la tarde?", [15], 12, 18],
  ["Podemos falar na quarta de manhã?", [10], 8, 12],
  ["I am free on Wednesday or Friday after 3pm", [10, 12], 15, 18],
  ["Anytime between 10 and 12 on Monday", [15], 10, 12],
  ["I'm away this week. Next week any morning works", [15, 16, 17, 18, 19], 8, 12],
  ["Mondays are bad for me, but Tuesday works", [16]],
  ["Could you call me on 18 June around 14:00?", [18], 14, 14],
  ["After the 20th of June is better.", [22, 23, 24, 25, 26]],
  ["Volgende week dinsdagmiddag?", [16], 12, 18],
  ["Passer det torsdag kl. 13?", [11], 13, 13],
  ["Gärna på fredag förmiddag.", [12], 8, 12],
  ["Giovedì pomeriggio o venerdì mattina", [11], 12, 18],
  ["Let us talk tomorrow before noon", [10], 8, 12],
  ["Late next week would be better", [18, 19]],
  ["In two weeks perhaps", [22, 23, 24, 25, 26]],
  ["Lunchtime on Thursday?", [11], 11.5, 14],
  ["I can do 9:30 any day next week", [15, 16, 17, 18, 19], 9.5, 9.5],
  ["I am on holiday until 22 June, after that gladly", [22, 23, 24, 25, 26]],
  ["Ab dem 18. Juni bin ich wieder da, dann gern.", [18, 19]],
  ["Next Tuesday at 4 pm", [16], 16, 16],
  ["This afternoon?", [9], 12, 18],
  ["Friday the 19th, in the morning", [19], 8, 12],
  ["Wednesday doesn't work, Thursday does", [11]],
  ["Dienstag geht bei mir nicht, Mittwoch ab 14 Uhr schon.", [10], 14, 18],
  ["La semana que viene por la mañana, por favor", [15, 16, 17, 18, 19], 8, 12],
  ["Vers 15h vendredi ?", [12], 15, 15],
  ["Zou het kunnen op woensdag 17 juni om 11 uur?", [17], 11, 11],
];

describe("the times that somebody asks for", () => {
  it.each(ASKED)("%s", (text, days, from = 0, to = 24) => {
    const slot = first(text);
    expect(days.map((day) => new Date(Date.UTC(2026, 5, day)).toISOString().slice(0, 10))).toContain(
      slot?.day,
    );
    expect(slot?.hour).toBeGreaterThanOrEqual(from);
    expect(slot?.hour).toBeLessThanOrEqual(to);
  });

  it.each([
    "Sounds good, tell me more.",
    "We bought it in March; three of us have used it since the 15th of May.",
    "My number is +351 21 12 13 14.",
    "What does it cost for 12 rooms?",
  ])("of “%s” there are none", (text) => {
    expect(wishedTimes(text, { today: TODAY, monthFirst: false })).toEqual({
      wishes: [],
      not: [],
      from: null,
    });
  });

  it("come first, one a day where they leave the day open, and what else is free fills up behind them", () => {
    const chosen = chooseTimes(SLOTS, wishedTimes("Thursday at 15:00?", { today: TODAY, monthFirst: false }));
    expect(chosen).toHaveLength(3);
    expect(chosen[0]).toEqual({ day: "2026-06-11", hour: 15 });
    const mornings = chooseTimes(
      SLOTS,
      wishedTimes("any morning next week", { today: TODAY, monthFirst: false }),
    );
    expect(mornings.map(({ day }) => day)).toEqual(["2026-06-15", "2026-06-16", "2026-06-17"]);
    expect(mornings.every(({ hour }) => hour < 12)).toBe(true);
  });

  it("never lead before the day from which they can, nor to one that does not suit them", () => {
    const chosen = chooseTimes(
      SLOTS,
      wishedTimes("Not before the 15th. Mondays never work for me.", { today: TODAY, monthFirst: false }),
    );
    expect(chosen.map(({ day }) => day)).toEqual(["2026-06-16", "2026-06-17", "2026-06-18"]);
  });
});
