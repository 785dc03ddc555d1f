/**
 * Days that a letter names: "12 June", "le 3 août", "5.9.", "next Monday", "6月12日", "week 31". Languages differ in the
 * order of numbers and in names; the names of months and weekdays come from the runtime's own tables (Unicode CLDR).
 */
import { DateTime } from "luxon";
import { fold } from "../fold.ts";
import { spanReader } from "./spans.ts";

/** A day named in a text. Positions count in the folded text, which is nearly as long as the text itself. */
export interface NamedDay {
  /** "YYYY-MM-DD" */
  day: string;
  from: number;
  to: number;
  /** Of a stretch, or a feast: the first day behind it, "YYYY-MM-DD". */
  after?: string;
  /** Only a month, a season or a year is named: `day` is its beginning. */
  vague: boolean;
}

export interface DateReader {
  /** The day on which the letter was written, "YYYY-MM-DD". */
  today: string;
  /** Where 7/8 is the 8th of July. */
  monthFirst: boolean;
}

/** Whose tables are asked for names. */
const LANGUAGES = "en de fr es pt it nl sv da nb fi pl cs sk hu ro tr ru uk el bg hr sl et lv lt ca".split(
  " ",
);

function namesOf(unit: "months" | "weekdays"): Map<string, number> {
  const names = new Map<string, number>();
  const kind = unit === "months" ? "month" : "weekday";
  const days = Array.from({ length: unit === "months" ? 12 : 7 }, (_, nth) =>
    DateTime.utc(2024, unit === "months" ? nth + 1 : 1, unit === "months" ? 1 : nth + 1).toJSDate(),
  );
  for (const locale of LANGUAGES)
    for (const width of ["long", "short"] as const) {
      const shapes =
        unit === "months"
          ? [{ month: width }, { day: "numeric" as const, month: width }]
          : [{ weekday: width }];
      const formats = shapes.map((shape) => new Intl.DateTimeFormat(locale, { ...shape, timeZone: "UTC" }));
      for (const [nth, day] of days.entries())
        for (const format of formats) {
          const part = format.formatToParts(day).find(({ type }) => type === kind);
          const name = fold(part?.value ?? "").replace(/\.$/, "");
          if (name.length > 2 && /^\p{L}[\p{L}-]*$/u.test(name) && !names.has(name)) names.set(name, nth + 1);
        }
    }
  return names;
}
const MORE_MONTHS =
  "sept:9 juny:6 enero:1 marzec:3 maaliskuuta:3 kesakuuta:6 heinakuuta:7 elokuuta:8 syyskuuta:9 lokakuuta:10";
const MORE_WEEKDAYS =
  "mondays:1 tuesdays:2 tues:2 wednesdays:3 thursdays:4 thurs:4 fridays:5 segunda:1 terca:2 quarta:3 quinta:4 sexta:5 maanantaina:1 maanantaihin:1 tiistaina:2 keskiviikkona:3 torstaina:4 perjantaina:5 mandagen:1 tirsdagen:2 onsdagen:3 torsdagen:4 fredagen:5 poniedzialku:1 wtorku:2 srody:3 czwartku:4 piatku:5 pondeli:1 utery:2 streda:3 stredy:3 ctvrtka:4 patku:5 понедельника:1 вторника:2 среды:3 четверга:4 пятницы:5";
const withMore = (names: Map<string, number>, more: string) => {
  for (const pair of more.split(" ")) {
    const [name = "", number] = pair.split(":");
    names.set(fold(name), Number(number));
  }
  return names;
};
const MONTHS = withMore(namesOf("months"), MORE_MONTHS);
const WEEKDAYS = withMore(namesOf("weekdays"), MORE_WEEKDAYS);
/** Words that are a month's short name and something else. */
for (const word of ["die", "mar", "lis", "dom", "sol", "mon", "sat", "sun", "sex", "ter", "seg", "avg"]) {
  WEEKDAYS.delete(word);
  if (word !== "mar") MONTHS.delete(word);
}
const anyName = (names: Map<string, number>) =>
  [...names.keys()].sort((a, b) => b.length - a.length).join("|");

const MONTH = anyName(MONTHS);
const WEEKDAY = anyName(WEEKDAYS);
const ORDINAL = "(?:(?:st|nd|rd|th|er|re|e|a|o|:e|:a|de)(?!\\p{L})|[.º ª])?";
const YEAR = "(?:[\\s,./-]{1,3}(?:de |del |of )?(?<year>20\\d\\d|'?\\d\\d(?!\\d|[:h.]\\d)))?";
const word = (source: string) => new RegExp(`(?<![\\p{L}\\d])(?:${source})(?![\\p{L}\\d])`, "giu");

const spansIn = spanReader({ months: MONTHS, weekdays: WEEKDAYS, month: MONTH, weekday: WEEKDAY });

/** "12 June 2026", "12. Juni", "le 3 août", "12 de junio" */
const DAY_MONTH = word(
  `(?<day>\\d{1,2})\\s?${ORDINAL}\\s?(?:of |de |del |d'|d’)?(?<month>${MONTH})\\.?${YEAR}`,
);
/** "June 12th, 2026", "kesäkuun 12." */
const MONTH_DAY = word(
  `(?<month>${MONTH})\\.?\\s(?:the )?(?<day>\\d{1,2})(?!\\d)(?!:)(?:st|nd|rd|th|\\.)?(?:,?\\s(?<year>20\\d\\d))?`,
);
/** "12.6.", "12/06/2026", "30/07" */
const NUMBERS =
  /(?<![\p{L}\d./-])(?<first>\d{1,2})(?<mark>[./-])\s?(?<second>\d{1,2})(?:\k<mark>\s?(?<year>20\d\d|\d\d)?)?(?![\d:]|\s?(?:uhr|h\b|am\b|pm\b|%|€|euro))/giu;
const ISO = /(?<!\d)(?<year>20\d\d)[-/.年]\s?(?<month>\d{1,2})[-/.月]\s?(?<day>\d{1,2})(?!\d)/gu;
/** "6月12日", "6월 12일" (folded) */
const EAST = new RegExp(
  `(?<month>\\d{1,2})\\s?(?:月|${fold("월")})\\s?(?<day>\\d{1,2})\\s?(?:日|号|${fold("일")})`,
  "gu",
);
const WEEKDAY_ALONE = word(
  `(?<which>next|this|coming|nachste[nr]?|kommende[nr]?|nasta|naste|neste|volgende|komende|przyszly|pristi|(?:le )?prochain)?\\s?(?<weekday>${WEEKDAY})(?<after>\\s(?:prochain|que viene|proximo|prossimo|que vem))?`,
);
const DAY_ALONE = word(
  `(?:the|den|dem|le|el|dia|am|il|de|op|d\\.|the night of the)\\s(?<day>\\d{1,2})(?:st|nd|rd|th|\\.(?!\\d)|er|:e|:a)?`,
);
const WEEK = word(
  "(?:week|woche|kw|vecka|uke|uge|semaine|viikko|viikon|v\\.)\\s?(?:\\d{1,2}\\s?(?:-|–|bis|to|till|til)\\s?)?(?<week>\\d{1,2})",
);
const MONTH_ALONE = word(
  `(?<part>early|beginning of|start of|anfang|debut|principios de|inicio de|inizio|begin|mid|middle of|mitte|mi-|mediados de|meados de|meta|half|end of|late|ende|fin|finales de|fim de|fine|eind|slutet av|slutten av)?[\\s-]?(?<month>${MONTH})\\.?(?:\\s(?<year>20\\d\\d))?`,
);

const NEAR: readonly [RegExp, (today: DateTime) => DateTime][] = [
  [
    word(
      "(?:(?:for )?a |next )?fortnight(?: from today)?|vierzehn tagen?|quinze jours|quince dias|quinze dias|quindici giorni",
    ),
    (d) => d.plus({ weeks: 2 }),
  ],
  [word("today|heute|aujourd'hui|hoy|hoje|oggi|vandaag|idag|i dag|tanaan|dzisiaj|dnes|сегодня"), (d) => d],
  [
    word(
      "(?:the )?day after tomorrow|ubermorgen|i overmorgen|i overmorrow|overmorgen|i ovrigt morgon|i overimorgon|ylihuomenna|pojutrze|pozitri|послезавтра|obur gun|apres-demain|pasado manana|depois de amanha|dopodomani|overmorgen",
    ),
    (d) => d.plus({ days: 2 }),
  ],
  [
    word(
      "tomorrow|morgen(?! um)|demain|manana(?! por)|amanha|domani|i morgen|imorgon|huomenna|jutro|zitra|завтра|明日|明天",
    ),
    (d) => d.plus({ days: 1 }),
  ],
  [
    word(
      "next week|(?:kommende|nachste)[rn]? woche|(?:la )?semaine prochaine|(?:la )?(?:proxima semana|semana que viene)|proxima semana|semana que vem|(?:la )?(?:settimana prossima|prossima settimana)|volgende week|naeste uge|neste uke|nasta vecka|ensi viikolla|przyszlym tygodniu|pristi tyden|следующей неделе|来週|下周",
    ),
    (d) => d.startOf("week").plus({ weeks: 1 }),
  ],
  [
    word(
      "(?:this|all|the whole|rest of the|whole) week|diese(?:r)? woche|(?:cette|toute la) semaine|esta semana|toda la semana|questa settimana|deze week|denne uge|denne uken|hela veckan|tydzien|tento tyden|этой неделе",
    ),
    (d) => d.startOf("week").plus({ weeks: 1 }),
  ],
  [
    word(
      "(?:the )?end of (?:the |this )?month|ende des monats|monatsende|fin (?:du|de) mois|fin de mes|final do mes|fim do mes|fine (?:del )?mese|eind van de maand",
    ),
    (d) => d.endOf("month").startOf("day"),
  ],
  [
    word(
      "(?:the )?end of (?:the |this )?week|ende der woche|wochenende|fin de (?:la )?semaine|fin de semana",
    ),
    (d) => d.startOf("week").plus({ days: 4 }),
  ],
  [
    word(
      "next month|nachste[nrs]? monat|(?:le )?mois prochain|proximo mes|mes que viene|mes que vem|prossimo mese|volgende maand|naeste maned|neste maned|nasta manad|przyszlym miesiacu|следующем месяце|来月|下个月",
    ),
    (d) => d.startOf("month").plus({ months: 1 }),
  ],
];
const COUNTS: Record<string, number> = Object.fromEntries(
  "one:1 a:1 an:1 ein:1 einem:1 einer:1 eine:1 un:1 une:1 una:1 um:1 uma:1 een:1 en:1 ett:1 et:1 two:2 zwei:2 deux:2 dos:2 dois:2 duas:2 due:2 twee:2 tva:2 to:2 dwa:2 dwie:2 dva:2 три:3 два:2 three:3 drei:3 trois:3 tres:3 tre:3 drie:3 trzy:3 tri:3 four:4 vier:4 quatre:4 cuatro:4 quatro:4 quattro:4 fyra:4 fire:4 cztery:4 five:5 funf:5 cinq:5 cinco:5 cinque:5 six:6 sechs:6 seis:6 sei:6 zes:6 sex:6 seks:6 szesc:6 sest:6 шесть:6 eight:8 acht:8 huit:8 ocho:8 oito:8 otto:8 nine:9 ten:10 twelve:12 zwolf:12 douze:12 doce:12 doze:12 few:3 couple:2 paar:3 quelques:3 unos:3 unas:3 alguns:3 algumas:3 qualche:3 nagra:3 noen:3 nogle:3 kilka:3 par:3 several:4 einigen:3"
    .split(" ")
    .map((pair) => pair.split(":") as [string, string])
    .map(([name, number]) => [fold(name), Number(number)]),
);
const IN_SOME = word(
  "(?:in|within|dans|d'ici|dentro de|en|daqui a|em|tra|fra|over|om|za|через|after|nach|for)\\s(?:about |etwa |a |ein |een |un |una |uma |the next |den nachsten |etwa )?(?<count>\\d{1,2}|\\p{L}+)(?: of)?\\s(?<unit>days?|tagen?|jours?|dias?|giorni|dagen|dagar|dager|dni|dnu|дней|weeks?|wochen?|semaines?|semanas?|settiman[ae]|weken|week|veckor|uker|uger|tygodnie|tygodni|tydny|недели|недель|months?|monaten?|monate|mois|mes(?:es)?|mesi|mese|maanden|maand|manader|maneder|miesiac\\p{L}*|mesic\\p{L}*|месяц\\p{L}*|years?|jahre?n?|ans?|anos?|anni|anno|jaar|ar|lata|rok|let|года?|лет)",
);
const HALF_YEAR = word(
  "(?:in |over |om |za |через |dans |en )?(?:half a year|(?:einem )?halben? jahr|een half jaar|ett halvar|et halvt? ar|pol roku|pul roku|полгода)",
);
const EASTERN_MONTHS = /(?<count>\d{1,2}|半)\s?(?:か月後|ヶ月後|个月后|個月後)/gu;
const FURTHER: readonly [RegExp, (today: DateTime) => DateTime][] = [
  [word("q(?<quarter>[1-4])|(?<quarter2>[1-4])\\. quartal"), (d) => d],
  [
    word(
      "next quarter|nachste[ns]? quartal|(?:le )?prochain trimestre|trimestre prochain|proximo trimestre|prossimo trimestre|volgend kwartaal|nasta kvartal|naeste kvartal|neste kvartal|(?:nastepnym|przyszlym) kwartale",
    ),
    (d) => d.startOf("quarter").plus({ quarters: 1 }),
  ],
  [
    word("(?:the )?second half(?: of the year)?|zweiten? (?:halbjahr|jahreshalfte)"),
    (d) => (d.month < 7 ? d.set({ month: 7, day: 1 }) : d.plus({ years: 1 }).set({ month: 7, day: 1 })),
  ],
  [
    word(
      "(?:after|nach|apres|despues d|depois d|dopo|na|etter|efter|po)\\S*\\s(?:(?:the|den|dem|der|l'|l’|les|las|el|del|o|os|as|le|la|de|das)\\s?)*(?:summer|sommer\\p{L}*|ete|verano|verao|estate|zomer\\p{L}*|wakacj\\p{L}*|grandes vacances)",
    ),
    (d) => nextOn(d, 9, 1),
  ],
  [
    word(
      "(?:autumn|fall(?! back)|herbst|automne|otono|outono|autunno|najaar|herfst|host\\p{L}*|hosten|efterar\\p{L}*|syksylla|jesieni\\p{L}*|podzim\\p{L}*|осенью|осени|rentree)",
    ),
    (d) => nextOn(d, 9, 15),
  ],
  [/秋/gu, (d) => nextOn(d, 9, 15)],
  [
    word(
      "(?:spring|fruhjahr|fruhling|printemps|primavera|voorjaar|lente|varen|foraret|vår\\p{L}*|kevaalla|wiosn\\p{L}*|jare|весной)",
    ),
    (d) => nextOn(d, 3, 15),
  ],
  [
    word(
      "(?:in |this |over |im |en |l'|den |i |om )?(?:the )?(?:summer|sommer|ete|verano|verao|estate|zomer|sommaren|sommeren|lato|lete|летом)",
    ),
    (d) => nextOn(d, 6, 15),
  ],
  [word("(?:winter|hiver|invierno|inverno|vintern|vinteren|zima|zimą|zime|зимой)"), (d) => nextOn(d, 12, 1)],
  [
    word(
      "next (?:fiscal )?year|new year|nachste[snr]? jahr|kommende[ns]? jahr|(?:l'|l’)?(?:annee prochaine|an prochain)|(?:el )?(?:ano que viene|proximo ano)|ano que vem|para o ano|(?:l'|l’)?anno prossimo|prossimo anno|volgend jaar|nasta ar|naeste ar|neste ar|ensi vuonna|przyszlym roku|pristi rok|следующем году|новом году|gelecek yil|onumuzdeki yil",
    ),
    (d) => d.plus({ years: 1 }).set({ month: 1, day: 10 }),
  ],
  [
    new RegExp(`来年|明年|${fold("내년")}|العام القادم|السنة القادمة`, "gu"),
    (d) => d.plus({ years: 1 }).set({ month: 1, day: 10 }),
  ],
  [
    word("(?:in|for|until|en|im jahr|em|nel|i|w|v|в|to|before|roundabout|around)\\s(?<year>20\\d\\d)"),
    (d) => d,
  ],
  [
    word(
      "(?:after|nach|apres|despues de|depois d|dopo|na|etter|efter|po|после)\\S*\\s(?:(?:the|den|dem|der|les|las|le|la|de|as|das)\\s)*(?:holidays?|ferien|vacances|vacaciones|ferias|ferie\\p{L}*|vakantie|urlaub|semester\\p{L}*|отпуска)",
    ),
    (d) => (d.month >= 10 ? nextOn(d, 1, 10) : nextOn(d, 9, 1)),
  ],
  [
    word(
      "(?:after |nach |apres |despues de |etter |efter )?(?:christmas|weihnachten|noel|navidad|natal|natale|kerst|jul(?!y|i|io|ho)|vanoc\\p{L}*)",
    ),
    (d) => nextOn(d, 1, 7),
  ],
  [
    word(
      "(?:after |nach |apres |despues de )?(?:easter|ostern|paques|pascua|pascoa|pasqua|pasen|paske|pask)",
    ),
    (d) => nextOn(d, 4, 15),
  ],
];

/** The first such day of a year that is not before `after`. */
function nextOn(after: DateTime, month: number, day: number): DateTime {
  const same = after.set({ month, day });
  return same > after ? same : same.plus({ years: 1 });
}

const DAY_WORDS = new RegExp(
  `(?<![\\p{L}])(?:${WEEKDAY}|\\d{1,2}[./]\\d{1,2}|${[NEAR, IN_SOME]
    .flat(2)
    .filter((each): each is RegExp => each instanceof RegExp)
    .map((each) => each.source)
    .join("|")
    .replace(/\?<\w+>/g, "?:")})(?![\\p{L}])`,
  "iu",
);
const SEASON_WORDS = new RegExp(
  [
    `(?<![\\p{L}])(?:${MONTH})(?![\\p{L}])`,
    HALF_YEAR.source,
    EASTERN_MONTHS.source,
    ...FURTHER.map(([pattern]) => pattern.source),
  ]
    .join("|")
    .replace(/\?<\w+>/g, "?:"),
  "iu",
);

/** Every day that a folded text names, in its order. With `further`, also months, seasons, quarters and years. */
export function daysIn(folded: string, { today, monthFirst }: DateReader, further: boolean): NamedDay[] {
  const now = DateTime.fromISO(today, { zone: "utc" });
  const found: NamedDay[] = [];
  const isFree = (from: number, to: number) => !found.some((each) => from < each.to && each.from < to);
  const add = (
    match: RegExpExecArray | RegExpMatchArray,
    date: DateTime | null,
    vague = false,
    after: DateTime | null = null,
  ) => {
    const from = match.index ?? 0;
    const to = from + match[0].trimEnd().length;
    if (date?.isValid && isFree(from, to))
      found.push({
        day: date.toISODate() as string,
        from,
        to,
        vague,
        ...(after ? { after: after.toISODate() as string } : {}),
      });
  };
  const dated = (year: string | undefined, month: number, day: number): DateTime | null => {
    if (year !== undefined) {
      const full = Number(year.replace("'", ""));
      return DateTime.utc(full < 100 ? 2000 + full : full, month, day);
    }
    const here = DateTime.utc(now.year, month, day);
    if (!here.isValid) return null;
    // What lies well behind is next year's.
    return here < now.minus({ days: 60 })
      ? here.plus({ years: 1 })
      : here > now.plus({ days: 330 })
        ? here.minus({ years: 1 })
        : here;
  };
  const seems = seemsToName(folded);
  if (!further)
    for (const { from, to, begins, after } of spansIn(folded, now))
      found.push({
        day: begins.toISODate() as string,
        after: after.toISODate() as string,
        from,
        to,
        vague: false,
      });
  const hasNumber = /\d/.test(folded);
  const numbered = hasNumber ? folded : "";
  for (const match of numbered.matchAll(ISO))
    add(
      match,
      DateTime.utc(Number(match.groups?.year), Number(match.groups?.month), Number(match.groups?.day)),
    );
  for (const match of numbered.matchAll(EAST))
    add(match, dated(undefined, Number(match.groups?.month), Number(match.groups?.day)));
  for (const pattern of [DAY_MONTH, MONTH_DAY])
    for (const match of numbered.matchAll(pattern))
      add(
        match,
        dated(match.groups?.year, MONTHS.get(match.groups?.month ?? "") ?? 0, Number(match.groups?.day)),
      );
  const isMonthFirstHere = monthFirst !== isOtherWay(numbered, monthFirst, now);
  for (const match of numbered.matchAll(NUMBERS)) {
    const [first, second] = [Number(match.groups?.first), Number(match.groups?.second)];
    // 3-4 is a range more often than a day, and 2.5 a number.
    if (match.groups?.mark === "-" && match.groups.year === undefined) continue;
    if (
      match.groups?.mark === "." &&
      match.groups.year === undefined &&
      !/\.\s?$/.test(match[0]) &&
      !isWrittenAsDate(folded, match)
    )
      continue;
    const isMonthFirst = second > 12 || (isMonthFirstHere && first <= 12 && match.groups?.mark === "/");
    const [day, month] = isMonthFirst ? [second, first] : [first, second];
    if (month >= 1 && month <= 12) add(match, dated(match.groups?.year, month, day));
  }
  for (const [pattern, when] of seems.day ? NEAR : [])
    for (const match of folded.matchAll(pattern)) add(match, when(now));
  for (const match of seems.day ? folded.matchAll(WEEKDAY_ALONE) : []) {
    const weekday = WEEKDAYS.get(match.groups?.weekday ?? "") ?? 0;
    const ahead = (weekday - now.weekday + 7) % 7 || 7;
    const isNextWeek =
      /^next|^nachst|^volgend|^nasta|^naste|^neste/.test(match.groups?.which ?? "") &&
      ahead < 3 &&
      now.weekday < weekday;
    add(match, now.plus({ days: ahead + (isNextWeek ? 7 : 0) }));
  }
  for (const match of numbered.matchAll(WEEK)) {
    const week = Number(match.groups?.week);
    if (week < 1 || week > 53) continue;
    const monday = DateTime.fromObject({ weekYear: now.weekYear, weekNumber: week }, { zone: "utc" });
    const begins = monday < now.minus({ weeks: 8 }) ? monday.plus({ years: 1 }) : monday;
    add(match, begins, false, begins.plus({ weeks: 1 }));
  }
  for (const match of seems.day ? folded.matchAll(IN_SOME) : []) {
    const said = match.groups?.count ?? "";
    const count = /^\d/.test(said) ? Number(said) : COUNTS[said];
    const unit = match.groups?.unit ?? "";
    if (count === undefined) continue;
    const days = /^(?:day|tag|jour|dia|giorn|dagen|dagar|dager|dni|dnu|дн)/.test(unit);
    const weeks = /^(?:week|woche|semain|seman|settiman|weken|vecko|uker|uger|tyg|tyd|недел)/.test(unit);
    const months = /^(?:month|monat|mois|mes|maan|manad|maned|mies|месяц)/.test(unit);
    add(
      match,
      now.plus(
        days ? { days: count } : weeks ? { weeks: count } : months ? { months: count } : { years: count },
      ),
      !days && !weeks,
    );
  }
  for (const match of numbered.matchAll(DAY_ALONE)) {
    const day = Number(match.groups?.day);
    if (day < 1 || day > 31) continue;
    const here = DateTime.utc(now.year, now.month, day);
    add(
      match,
      here.isValid && here >= now.minus({ days: 1 })
        ? here
        : DateTime.utc(now.year, now.month, 1).plus({ months: 1 }).set({ day }),
    );
  }
  for (const match of seems.season ? folded.matchAll(MONTH_ALONE) : []) {
    const month = MONTHS.get(match.groups?.month ?? "") ?? 0;
    // "may" is a verb and "mars" a planet; a month alone stands behind a preposition or a part of it.
    const before = folded.slice(Math.max(0, match.index - 24), match.index);
    if (
      !match.groups?.part &&
      !/(?:\b(?:in|until|till?|before|from|by|of|for|after|since|during|im|ab|bis|vor|nach|en|jusqu'?(?:en|a)?|avant|des|hasta|a|para|ate|em|antes de|fino ad?|per|tot|voor|vanaf|i|til|till|innan|do|od|w|v|z|до|с|в|asti|next|this|around|early|late|again)|jusqu.en)\s(?:the |de |den |den\s|dem |anfang |mid |next )?$/u.test(
        before,
      )
    )
      continue;
    const begins = match.groups?.year
      ? DateTime.utc(Number(match.groups.year), month, 1)
      : nextMonth(now, month);
    const part = match.groups?.part ?? "";
    const at = /mid|mitt|mi-|media|mead|meta|half|middle/.test(part)
      ? begins.set({ day: 15 })
      : /end|late|fin|fim|eind|slut/.test(part)
        ? begins.endOf("month").startOf("day")
        : begins;
    add(match, at, true, part === "" ? begins.plus({ months: 1 }) : null);
  }
  if (further) {
    for (const match of folded.matchAll(HALF_YEAR)) add(match, now.plus({ months: 6 }), true);
    for (const match of folded.matchAll(EASTERN_MONTHS))
      add(match, now.plus({ months: match.groups?.count === "半" ? 6 : Number(match.groups?.count) }), true);
    for (const [pattern, when] of seems.season ? FURTHER : [])
      for (const match of folded.matchAll(pattern)) {
        const quarter = match.groups?.quarter ?? match.groups?.quarter2;
        const year = match.groups?.year;
        const at =
          quarter !== undefined
            ? nextMonth(now, Number(quarter) * 3 - 2)
            : year !== undefined
              ? Number(year) > now.year
                ? DateTime.utc(Number(year), 1, 10)
                : null
              : when(now);
        add(match, at, true);
      }
  }
  found.sort((a, b) => a.from - b.from);
  // "Monday, 22 June" is one day, and its number says which.
  return found.flatMap((each, index) => {
    const next = found[index + 1];
    const before = found[index - 1];
    if (next && isWeekday(each, next)) return [];
    return [before && isWeekday(before, each) ? { ...each, from: before.from } : each];
  });

  function isWeekday(one: NamedDay, next: NamedDay): boolean {
    const between = folded.slice(one.to, next.from);
    return (
      WEEKDAYS.has(folded.slice(one.from, one.to).split(" ").at(-1) ?? "") &&
      /^,?\s(?:the |den |dem |d\.|le |el |dia )?$/.test(between)
    );
  }
}

/** In months: who is away longer than this gives another kind of day. */
const FAR = 7;

/** Whether the letter's own dates show that it writes them the other way than its country does: one that has no such month, or one that lies far off where the other way is near. */
function isOtherWay(folded: string, monthFirst: boolean, now: DateTime): boolean {
  const pairs = [...folded.matchAll(NUMBERS)]
    .filter(({ groups }) => groups?.mark === "/" && groups.year === undefined)
    .map(({ groups }) => [Number(groups?.first), Number(groups?.second)] as const);
  if (pairs.some(([first, second]) => (monthFirst ? first : second) > 12)) return true;
  if (pairs.some(([first, second]) => (monthFirst ? second : first) > 12)) return false;
  const monthsAhead = (month: number) => (month - now.month + 12) % 12;
  const farthest = (isMonthFirst: boolean) =>
    Math.max(...pairs.map(([first, second]) => monthsAhead(isMonthFirst ? first : second)));
  return pairs.length > 0 && farthest(monthFirst) > FAR && farthest(!monthFirst) <= FAR;
}

/** "Am 12.6 zurück": numbers with a dot are a day where a word for time stands before them. */
const isWrittenAsDate = (folded: string, match: RegExpMatchArray) =>
  /(?:am|bis|vom|zum|ab|den|dem|til|till|fra|fran|od|do|until|on|from|the|le|du|au|dal?|al|il|el|dia)\s$/.test(
    folded.slice(Math.max(0, (match.index ?? 0) - 8), match.index),
  );

const nextMonth = (now: DateTime, month: number): DateTime => {
  const begins = DateTime.utc(now.year, month, 1);
  return begins.endOf("month") < now || (month === now.month && now.day > 20)
    ? begins.plus({ years: 1 })
    : begins;
};

/** Whether a folded text seems to name a day, and whether a month, a season or a year: quicker than to read which. */
export const seemsToName = (folded: string): { day: boolean; season: boolean } => ({
  day: DAY_WORDS.test(folded),
  season: SEASON_WORDS.test(folded),
});
