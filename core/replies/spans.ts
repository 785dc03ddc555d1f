/**
 * Stretches of time and feasts that a letter names: "this week and next", "the rest of July", "the first Monday in
 * December", "over Easter". Of each: when it begins, and the first day behind it, since somebody who is away for it is
 * back then, and somebody who is back for it is there when it begins.
 */
import { DateTime } from "luxon";

export interface Span {
  from: number;
  to: number;
  begins: DateTime;
  /** The first day behind it. */
  after: DateTime;
}

/** The words of letters by which these are told; names of months and weekdays are the reader's. */
export interface Names {
  months: ReadonlyMap<string, number>;
  weekdays: ReadonlyMap<string, number>;
  /** Any of the names, as a pattern. */
  month: string;
  weekday: string;
}

const word = (source: string) => new RegExp(`(?<![\\p{L}\\d])(?:${source})(?![\\p{L}\\d])`, "giu");

const NEXT_WEEK =
  "next week|(?:kommende|nachste)[rn]? woche|(?:la )?semaine prochaine|(?:la )?(?:proxima semana|semana que viene)|semana que vem|(?:la )?(?:settimana prossima|prossima settimana)|(?:de )?(?:volgende|komende) week|naeste uge|neste uke|nasta vecka|ensi viikko\\p{L}*|ensi viikolla|przyszl\\p{L}+ tygod\\p{L}+|pristi\\p{L}* tyd\\p{L}+|следующ\\p{L}+ недел\\p{L}+|gelecek hafta|onumuzdeki hafta";
const AFTER_NEXT_WEEK =
  "(?:the )?week after next|ubernachste[rn]? woche|(?:la )?semaine d'apres|(?:la )?semana siguiente|over twee weken|om tva veckor|om to uker|om to uger";
const END_OF =
  "(?:the )?(?:end|rest) of|(?:das )?ende (?:der|des)?|(?:la )?fin (?:de|du)|(?:el )?fin(?:al)? de|(?:o )?fi(?:m|nal) d[aeo]|(?:la )?fine (?:della|del|di)|(?:het )?eind(?:e)? (?:van)?|slutet (?:av|pa)|slutningen af|slutten av|konc\\p{L}+|конца|loppuun";
const THIS_WEEK =
  "(?:this|all|the whole|the rest of the|rest of the|the entire|the remainder of the|whole) week|diese[rn]? (?:ganze )?woche|die ganze woche|den rest der woche|(?:cette|toute la|le reste de la) semaine|(?:esta|toda la|el resto de la) semana|o resto da semana|(?:questa|tutta la|il resto della) settimana|(?:deze|de hele|de rest van de) week|denne uge|denne uken|resten af ugen|resten av uk(?:a|en)|hela veckan|denna vecka|den har veckan|resten av veckan|hele ug\\p{L}+|hele uk\\p{L}+|tama(?:n)? viiko\\p{L}*|loppuviiko\\p{L}*|(?:w tym|caly|do konca) tygod\\p{L}+|(?:tento|cely) tyden|(?:на )?эт\\p{L}+ недел\\p{L}+|всю неделю|bu hafta";
const AND_NEXT =
  "\\s(?:and|und|et|y|e|en|och|og|ja|i|a|и|ve)\\s(?:(?:the|die|der|la|de|all of|auch|nasta|neste|naeste)\\s)?(?:next|nachste|kommende|prochaine|suivante|proxima|que viene|siguiente|prossima|volgende|nasta|neste|naeste|seuraava|nastepny|pristi|следующую|gelecek)(?: (?:week|one|woche|semaine|semana|settimana|vecka|uke|uge|viikko|tydzien|tyden|hafta))?";
const ORDINALS: Record<string, number> = Object.fromEntries(
  "first:1 1st:1 second:2 2nd:2 third:3 3rd:3 fourth:4 4th:4 last:-1 ersten:1 erste:1 erster:1 zweiten:2 dritten:3 letzten:-1 premier:1 premiere:1 deuxieme:2 troisieme:3 dernier:-1 primer:1 primera:1 segundo:2 tercer:3 ultimo:-1 primeiro:1 primeira:1 terceiro:3 ultima:-1 primo:1 prima:1 secondo:2 terzo:3 eerste:1 tweede:2 derde:3 laatste:-1 forsta:1 andra:2 tredje:3 sista:-1 forste:1 anden:2 andre:2 sidste:-1 siste:-1 pierwszy:1 pierwszym:1 ostatni:-1 prvni:1 posledni:-1 первый:1 первом:1 последний:-1"
    .split(" ")
    .map((pair) => pair.split(":") as [string, string])
    .map(([name, nth]) => [name, Number(nth)]),
);
const OF = "(?:\\s(?:in|of|im|des|de|du|en|d'|di|del|do|da|van|i|av|af|w|v|в)(?:\\sthe)?)?\\s?";

/** Sunday of Easter by the Gregorian calendar (the anonymous algorithm, Butcher 1876). */
export function easterOf(year: number): DateTime {
  const a = year % 19;
  const b = Math.floor(year / 100);
  const c = year % 100;
  const d = (19 * a + b - Math.floor(b / 4) - Math.floor((b - Math.floor((b + 8) / 25) + 1) / 3) + 15) % 30;
  const e = (32 + 2 * (b % 4) + 2 * Math.floor(c / 4) - d - (c % 4)) % 7;
  const f = d + e - 7 * Math.floor((a + 11 * d + 22 * e) / 451) + 114;
  return DateTime.utc(year, Math.floor(f / 31), (f % 31) + 1);
}

const fixed =
  (month: number, day: number, days = 1) =>
  (year: number) => ({
    begins: DateTime.utc(year, month, day),
    days,
  });
const fromEaster = (offset: number, days: number) => (year: number) => ({
  begins: easterOf(year).plus({ days: offset }),
  days,
});
/** The nth such weekday of a month. */
const nthOf = (month: number, weekday: number, nth: number) => (year: number) => {
  const first = DateTime.utc(year, month, 1);
  return { begins: first.plus({ days: ((weekday - first.weekday + 7) % 7) + 7 * (nth - 1) }), days: 1 };
};

/** Feasts by which letters count, as they are called; the longer names first. */
const FEASTS: readonly [RegExp, (year: number) => { begins: DateTime; days: number }][] = [
  [
    word(
      "first (?:working|business) day (?:of|in) (?:the new year|january)|ersten (?:arbeits|werk)tag (?:im|des) (?:neuen jahr\\p{L}*|januar)",
    ),
    (year) => {
      let day = DateTime.utc(year, 1, 2);
      while (day.weekday > 5) day = day.plus({ days: 1 });
      return { begins: day, days: 1 };
    },
  ],
  [
    word("(?:between|zwischen) (?:christmas and new year|den jahren|weihnachten und neujahr)"),
    fixed(12, 24, 9),
  ],
  [
    word("christmas eve|heilig\\s?abend|nochebuena|vespera de natal|la vigilia di natale|julafton|juleaften"),
    fixed(12, 24),
  ],
  [word("boxing day|st\\.? stephen'?s day|zweite[rn]? weihnachts\\p{L}+|annandag jul"), fixed(12, 26)],
  [
    word(
      "new year'?s eve|silvester|la saint-sylvestre|nochevieja|reveillon|capodanno eve|nyarsafton|nytarsaften",
    ),
    fixed(12, 31),
  ],
  [
    word(
      "new year(?:'?s)?(?: day)?|neujahr|(?:le )?(?:jour de l'an|nouvel an)|ano nuevo|ano novo|capodanno|nieuwjaar|nyar\\p{L}*|nytar\\p{L}*|nowy rok|novy rok|нового года|новый год",
    ),
    fixed(1, 1),
  ],
  [
    word(
      "epiphany|dreikonig\\p{L}*|(?:dia de )?(?:los )?reyes|dia de reis|(?:l')?epifania|(?:l')?epiphanie|trettondag\\p{L}*|three kings|trzech kroli|tri krale",
    ),
    fixed(1, 6),
  ],
  [
    word(
      "christmas|x-?mas|weihnacht\\p{L}*|noel|navidad\\p{L}*|natal|natale|kerst\\p{L}*|(?<!\\d\\s?[.]?)jul(?!y|i|io|ho|ia|\\s?\\d|[.])(?:en|e)?|joulu\\p{L}*|bozego narodzenia|swiat\\p{L}*|vanoc\\p{L}*|рождеств\\p{L}+",
    ),
    fixed(12, 24, 9),
  ],
  [word("maundy thursday|grundonnerstag|jueves santo|skartorsdag"), fromEaster(-3, 1)],
  [
    word(
      "good friday|karfreitag|vendredi saint|viernes santo|sexta-feira santa|venerdi santo|goede vrijdag|langfredag\\p{L}*",
    ),
    fromEaster(-2, 1),
  ],
  [
    word(
      "easter monday|ostermontag|lundi de paques|lunes de pascua|pasquetta|lunedi dell'angelo|(?:tweede|2e) paasdag|annandag pask",
    ),
    fromEaster(1, 1),
  ],
  [
    word(
      "easter(?: (?:break|weekend|holidays?))?|ostern|osterferien|paques|semana santa|pascua|pascoa|pasqua|pasen|pask\\p{L}*|paske\\p{L}*|paasiais\\p{L}*|wielkanoc\\p{L}*|velikonoc\\p{L}*|пасх\\p{L}+",
    ),
    fromEaster(-2, 4),
  ],
  [
    word(
      "ascension(?: day)?|(?:christi )?himmelfahrt|(?:l')?ascension|ascensione|hemelvaart\\p{L}*|kristi himmelsf\\p{L}+",
    ),
    fromEaster(39, 1),
  ],
  [
    word(
      "whit monday|pfingstmontag|(?:lundi de )?pentecote|pentecostes|pentecoste|pinksteren|pfingsten|pingst\\p{L}*|pinse\\p{L}*",
    ),
    fromEaster(49, 2),
  ],
  [word("corpus christi|fronleichnam"), fromEaster(60, 1)],
  [word("may day|tag der arbeit|fete du travail|dia del trabajo|festa dei lavoratori"), fixed(5, 1)],
  [word("ferragosto|assumption(?: day)?|maria himmelfahrt|(?:l')?assomption|la asuncion"), fixed(8, 15)],
  [
    word("all saints'?(?: day)?|allerheiligen|(?:la )?toussaint|todos los santos|todos os santos|ognissanti"),
    fixed(11, 1),
  ],
  [word("bastille day|quatorze juillet"), fixed(7, 14)],
  [
    word("midsummer|midsommar\\p{L}*|juhannu\\p{L}+|sankt\\s?hans"),
    (year) => {
      const first = DateTime.utc(year, 6, 19);
      return { begins: first.plus({ days: (5 - first.weekday + 7) % 7 }), days: 3 };
    },
  ],
  [word("fourth of july|independence day"), fixed(7, 4)],
  [word("thanksgiving"), (year) => ({ ...nthOf(11, 4, 4)(year), days: 4 })],
  [word("labou?r day"), nthOf(9, 1, 1)],
  [word("golden week"), fixed(4, 29, 7)],
  [word("obon|お盆"), fixed(8, 13, 4)],
];
/** A quick look before all of them are tried. */
const MAY_BE_FEAST = new RegExp(FEASTS.map(([{ source }]) => source).join("|"), "iu");
const AFTER_IT =
  /(?:after|nach|apres|despues de|depois d[aoe]|dopo|na|efter|etter|jalkeen|po|после)\s(?:the |den |dem |der |les |la |las |el |l'|a |o )?$/u;

/** The feast's own stretch, this year or next. */
function nextFeast(of: (year: number) => { begins: DateTime; days: number }, now: DateTime) {
  for (const year of [now.year - 1, now.year, now.year + 1]) {
    const { begins, days } = of(year);
    const after = begins.plus({ days });
    if (after > now) return { begins, after };
  }
  return null;
}

/** A reader of what of a folded text names a stretch or a feast, on a day. Its patterns are long, and made once. */
export function spanReader({
  months,
  weekdays,
  month,
  weekday,
}: Names): (folded: string, now: DateTime) => Span[] {
  const ordinal = Object.keys(ORDINALS).join("|");
  const endOfNextWeek = word(`(?:${END_OF})\\s(?:the\\s|der\\s|la\\s)?(?:${NEXT_WEEK})`);
  const thisAndNext = word(`(?:${THIS_WEEK})${AND_NEXT}`);
  const thisWeek = word(THIS_WEEK);
  const nextWeek = word(NEXT_WEEK);
  const afterNextWeek = word(AFTER_NEXT_WEEK);
  const nth = word(
    `(?<nth>${ordinal})\\s(?<weekday>${weekday})${OF}(?<month>${month})|(?<weekday2>${weekday})\\s(?<nth2>${ordinal})${OF}(?<month2>${month})`,
  );
  const whole = word(
    `(?:(?:the )?(?:rest|remainder|whole|entirety) of|all of|all|throughout|den rest des|den ganzen|tout le mois de?|tout|(?:le )?reste de|todo(?: el mes de)?|o resto de|todo o mes de|tutto(?: il mese di)?|il resto di|heel|de hele maand|de rest van|hela|resten av|resten af|hele|reszte|caly|весь)\\s(?<month>${month})`,
  );
  const dated = word(
    `(?<weekday>${weekday}),?\\s(?:the |den |dem |der |d\\. |le |el |dia |il )?(?<day>\\d{1,2})(?:st|nd|rd|th|er|:e|:a|\\.(?!\\s?\\d))?(?!\\s?(?:[:./-]\\d|uhr|h\\b|am\\b|pm\\b|a\\.m|p\\.m|o'clock|(?:of |de |di |d')?(?:${month})))`,
  );
  return (folded, now) => {
    const found: Span[] = [];
    const add = (match: RegExpExecArray, begins: DateTime, after: DateTime) => {
      const from = match.index;
      const to = from + match[0].trimEnd().length;
      if (begins.isValid && !found.some((each) => from < each.to && each.from < to))
        found.push({ from, to, begins, after });
    };
    const week = (weeks: number) => now.startOf("week").plus({ weeks });
    for (const match of folded.matchAll(endOfNextWeek)) add(match, week(2), week(2));
    for (const match of folded.matchAll(thisAndNext)) add(match, now, week(2));
    for (const match of folded.matchAll(thisWeek)) add(match, now, week(1));
    for (const match of folded.matchAll(afterNextWeek)) add(match, week(2), week(3));
    for (const match of folded.matchAll(nextWeek)) add(match, week(1), week(2));
    for (const match of folded.matchAll(nth)) {
      const day = nthWeekday(match.groups ?? {}, now, months, weekdays);
      add(match, day, day.plus({ days: 1 }));
    }
    for (const match of folded.matchAll(whole)) {
      const begins = monthFrom(now, months.get(match.groups?.month ?? "") ?? 1);
      add(match, begins, begins.plus({ months: 1 }));
    }
    for (const match of folded.matchAll(dated)) {
      const day = dayNamed(now, weekdays.get(match.groups?.weekday ?? "") ?? 0, Number(match.groups?.day));
      if (day) add(match, day, day.plus({ days: 1 }));
    }
    for (const [pattern, of] of MAY_BE_FEAST.test(folded) ? FEASTS : [])
      for (const match of folded.matchAll(pattern)) {
        const feast = nextFeast(of, now);
        if (!feast) continue;
        const isAfter = AFTER_IT.test(folded.slice(Math.max(0, match.index - 24), match.index));
        add(match, isAfter ? feast.after : feast.begins, feast.after);
      }
    return found;
  };
}

/** The month's first day, this year or next. */
const monthFrom = (now: DateTime, number: number) =>
  DateTime.utc(now.month > number ? now.year + 1 : now.year, number, 1);

/** "The first Monday in December", "the last Friday of March". */
function nthWeekday(
  groups: Record<string, string | undefined>,
  now: DateTime,
  months: ReadonlyMap<string, number>,
  weekdays: ReadonlyMap<string, number>,
): DateTime {
  const place = ORDINALS[groups.nth ?? groups.nth2 ?? ""] ?? 1;
  const wanted = weekdays.get(groups.weekday ?? groups.weekday2 ?? "") ?? 1;
  const first = monthFrom(now, months.get(groups.month ?? groups.month2 ?? "") ?? 1);
  const last = first.endOf("month").startOf("day");
  return place > 0
    ? first.plus({ days: ((wanted - first.weekday + 7) % 7) + 7 * (place - 1) })
    : last.minus({ days: (last.weekday - wanted + 7) % 7 });
}

/** Months that are looked through for a Friday the 9th. */
const MONTHS_AHEAD = 7;
function dayNamed(now: DateTime, weekday: number, day: number): DateTime | null {
  if (day < 1 || day > 31) return null;
  const candidates = Array.from({ length: MONTHS_AHEAD }, (_, ahead) =>
    now.startOf("month").plus({ months: ahead }),
  )
    .map((each) => each.set({ day }))
    .filter((each) => each.day === day && each >= now);
  return candidates.find((each) => each.weekday === weekday) ?? candidates[0] ?? null;
}
