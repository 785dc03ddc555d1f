/**
 * When somebody wants to talk, as their letter says it: "early next week", "Thursday afternoon", "not before the 15th",
 * "Mittwoch ab 14 Uhr". Days are read as in any letter (core/replies/dates.ts); here they are told from days that do
 * not suit, and get their hours. Chosen are free times: those that were asked for first.
 */
import { dayNumberFrom, textOfDay, weekdayOn } from "../calendar.ts";
import { fold } from "../fold.ts";
import { type DateReader, daysIn, type NamedDay } from "../replies/dates.ts";

/** Of the day, from 0 to 24; of a time that is named both are the same. */
export interface Hours {
  from: number;
  to: number;
}

/** Days from `from` to before `to` ("YYYY-MM-DD"), at hours if some were named. */
export interface Wish {
  from: string;
  to: string;
  hours: Hours | null;
}

/** `weekly`: that weekday, in every week. */
export interface Unsuited {
  from: string;
  to: string;
  weekly: boolean;
}

export interface Wished {
  wishes: Wish[];
  /** What does not suit them. */
  not: Unsuited[];
  /** The first day at which they can, if they say one. */
  from: string | null;
}

const word = (source: string, flags = "gu") =>
  new RegExp(`(?<![\\p{L}\\d])(?:${source})(?![\\p{L}\\d])`, flags);

/** A day that stands with one of these is one on which they cannot, or until which they are away. */
const NOT = word(
  "not|no|cannot|can't|won't|doesn'?t|don'?t|isn'?t|never|bad|busy|closed|shut|tied up|blocked|in meetings|off|geschlossen|fermee?s?|cerrad\\p{L}*|fechad\\p{L}*|chius\\p{L}*|gesloten|stangt|lukket|away|out of (?:the )?office|on (?:holiday|leave|vacation)|travell?ing|booked|full|unavailable|nicht|kein\\p{L}*|schlecht|nie|weg|verreist|im urlaub|ausgebucht|abwesend|pas|jamais|absente?|en conges?|en vacances|occupee?|imposible|no puedo|ocupad[oa]|fuera|de vacaciones|nao|impossivel|fora|de ferias|non|mai|impegnat[oa]|in ferie|niet|geen|bezet|vakantie|inte|ej|upptagen|bortrest|semester|ikke|optaget|opptatt|ferie|en voi|poissa|lomalla|nie moge|zajety|urlopie|nemohu|nehodi",
  "u",
);
/** "Not before the 15th": what follows is the first day on which they can. */
const NOT_BEFORE = word(
  "not (?:before|until|till|earlier than)|nicht vor(?: dem)?|(?:erst|fruhestens)(?: (?:ab|am|nach|wieder ab))?(?: dem)?|pas avant(?: le)?|no antes de(?:l)?|nao antes d[eo]|non prima del?|niet voor|inte (?:fore|forran)|ikke for|tidligst|tidigast|(?:at the )?earliest|au plus tot|nie wczesniej niz|ne driv nez",
);
/** "From the 18th", "after the 20th", "back on": so, too. */
const FROM_THEN = word(
  "from|after|as of|starting|onwards? from|since then|back (?:on|in the office on)|ab(?: dem)?|nach(?: dem)?|seit|zuruck am|a partir (?:de|du|do|del|da)|apres(?: le)?|des(?: le)?|despues del?|depois d[eo]|dopo(?: il)?|dal|vanaf|na|fran(?: och med)?|efter|fra|etter|alkaen|jalkeen|od|po",
);
/** "Until the 22nd": they are away, and can from then on. */
const UNTIL = word(
  "until|till|til|through|bis(?: zum| einschliesslich)?|jusqu'?(?:au|a|en)|hasta(?: el)?|ate(?: (?:ao|o))?|fino (?:al|a)|tot(?: en met)?|t/m|till och med|til og med|saakka|asti",
);
const EARLY = word(
  "early|beginning of|start of|anfang|debut|principios|inicio|comeco|inizio|begin|borjan|begyndelsen|starten",
);
const LATE = word(
  "late|later|end of|towards the end|ende|fin|finales|fim|fine|eind(?:e)?|slutet|slutningen|slutten",
);

/** Parts of the day, in hours. The longer words first: "late morning" before "morning". */
const PARTS: readonly [RegExp, Hours][] = (
  [
    [
      "before (?:noon|lunch|midday)|vor (?:dem )?mittag|avant midi|antes del mediodia|antes do almoco|prima di pranzo|voor de middag|fore lunch|for frokost|before twelve",
      { from: 8, to: 12 },
    ],
    [
      "after(?: |-)?(?:lunch|noon)|afternoons?|nachmittags?|\\p{L}*nachmittag|apres-?midi|por la tarde|de tarde|a tarde|pomeriggi\\p{L}|\\p{L}*middag|eftermiddag\\p{L}*|ettermiddag\\p{L}*|iltapaiva\\p{L}*|popoludni\\p{L}*|odpoledne",
      { from: 12, to: 18 },
    ],
    [
      "lunch ?time|midday|noon|mittags|zu mittag|midi|mediodia|meio-dia|mezzogiorno|lunch",
      { from: 11.5, to: 14 },
    ],
    [
      "early (?:in the )?mornings?|fruh(?:morgens)?|first thing|tot le matin|primera hora|vroeg",
      { from: 8, to: 10 },
    ],
    [
      "mornings?|vormittags?|\\p{L}*vormittag|morgens|(?:le |du )?matin(?:ee)?|por la manana|de manha|pela manha|mattin[ao]|(?:'s )?(?:morgens|ochtends?)|\\p{L}*ochtend|formiddag\\p{L}*|formiddagen|fm|aamupaiva\\p{L}*|rano|dopoledne",
      { from: 8, to: 12 },
    ],
    [
      "evenings?|end of (?:the )?day|abends?|soir|noche|noite|sera|avond|kvall\\p{L}*|aften",
      { from: 16, to: 19 },
    ],
  ] as const
).map(([source, hours]) => [word(source), hours]);

const CLOCK = "(?<h>[01]?\\d|2[0-3])(?:[:.h](?<m>[0-5]\\d))?";
const MARK = "\\s?(?<mark>o'clock|uhr|h|hrs|heures?|horas?|ore|uur|[ap]\\.?m\\.?)";
/** A number is a time of day if it has minutes, a mark behind it, or a word for it before it. */
const TIME = new RegExp(
  `(?<![\\p{L}\\d.,:/+-])(?:(?<at>at|around|about|from|after|before|by|um|gegen|ab|nach|vor|a|vers|apres|avant|a las|sobre las|as|alle|verso le|dopo le|om|rond|vanaf|na|kl\\.?|klockan|fra|etter|efter|o|ve|po|od)\\s)?${CLOCK}(?:${MARK})?(?![\\d/:%€$]|[.,]\\d|\\p{L})`,
  "giu",
);
const RANGE = new RegExp(
  `(?:between|from|zwischen|von|entre|de|tra|fra|tussen|van|mellan|mellem|mellom|miedzy|mezi)\\s(?:the |les |le |las |as )?${CLOCK}(?:${MARK})?\\s(?:and|to|till|until|und|bis|et|a|y|e|en|och|og|i|ate|ed)\\s(?:the |las |as |le )?(?<h2>[01]?\\d|2[0-3])(?:[:.h](?<m2>[0-5]\\d))?(?:\\s?(?<mark2>o'clock|uhr|h|heures?|horas?|ore|uur|[ap]\\.?m\\.?))?`,
  "giu",
);
const OPEN_END = /^(?:after|from|ab|nach|apres|despues|dopo le|na|vanaf|fra|etter|efter|po|od)$/;
const OPEN_BEGIN = /^(?:before|by|vor|avant)$/;

type Groups = Record<string, string | undefined>;

const COUNTED = "one two three four five six seven eight nine ten eleven twelve".split(" ");
const GEZAEHLT = "eins zwei drei vier funf sechs sieben acht neun zehn elf zwolf".split(" ");
const ANY = `(?<number>\\d{1,2}|${[...COUNTED, ...GEZAEHLT].join("|")})`;
const SAID = new RegExp(
  `(?<![\\p{L}\\d])(?:(?<part>half past|halb|quarter past|viertel nach|quarter to|viertel vor) |(?<at>at|around|after|before|um|gegen|nach|vor) )${ANY}(?![\\p{L}\\d:.])`,
  "gu",
);
const PART_OF: Record<string, number> = {
  "half past": 30,
  halb: -30,
  "quarter past": 15,
  "viertel nach": 15,
  "quarter to": -15,
  "viertel vor": -15,
};
/** "Half past two", "um drei": hours that are said in words, in digits. */
const inDigits = (text: string): string =>
  text.replace(SAID, (whole, ...rest) => {
    const { part, at, number = "" } = rest.at(-1) as Groups;
    const nth = [COUNTED, GEZAEHLT].map((words) => words.indexOf(number) + 1).find((found) => found > 0);
    if (part === undefined) return nth === undefined ? whole : `${at} ${nth}:00`;
    const minutes = 60 * (nth ?? Number(number)) + (PART_OF[part] ?? 0);
    return `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, "0")}`;
  });

/** Office hours: somebody who writes "at 3" is rung at three in the afternoon. */
function hourOf(h: string | undefined, m: string | undefined, mark: string | undefined): number {
  let hour = Number(h);
  if (/^p/i.test(mark ?? "") && hour < 12) hour += 12;
  else if (!/^a/i.test(mark ?? "") && hour >= 1 && hour < 8) hour += 12;
  return hour + Number(m ?? 0) / 60;
}

interface At<T> {
  from: number;
  value: T;
}

function hoursIn(text: string): At<Hours>[] {
  const found: At<Hours>[] = [];
  const free: string[] = [...text];
  const take = (from: number, length: number, value: Hours) => {
    found.push({ from, value });
    free.fill(" ", from, from + length);
  };
  for (const match of text.matchAll(RANGE)) {
    const { h, m, mark, h2, m2, mark2 } = match.groups as Groups;
    // The 10th to the 12th is no time of day.
    if (Number(h) > 12 && m === undefined && Number(h2) > 19) continue;
    take(match.index, match[0].length, { from: hourOf(h, m, mark ?? mark2), to: hourOf(h2, m2, mark2) });
  }
  for (const match of free.join("").matchAll(TIME)) {
    const { at, h, m, mark } = match.groups as Groups;
    if (
      m === undefined &&
      mark === undefined &&
      !/^(?:at|around|um|gegen|kl\.?|klockan|a las|alle|om|after|ab|po|od)$/.test(at ?? "")
    )
      continue;
    const hour = hourOf(h, m, mark);
    take(match.index, match[0].length, {
      from: OPEN_BEGIN.test(at ?? "") ? 8 : hour,
      to: OPEN_END.test(at ?? "") ? 19 : hour,
    });
  }
  for (const [pattern, hours] of PARTS)
    for (const match of free.join("").matchAll(pattern)) take(match.index, match[0].length, hours);
  return found.sort((a, b) => a.from - b.from);
}

const addDays = (day: string, days: number) => textOfDay(dayNumberFrom(day) + days);

/** The days that a name stands for: early in a week its first three, late the last two. */
function stretch(named: NamedDay, before: string): Pick<Wish, "from" | "to"> {
  const to = named.after ?? addDays(named.day, named.vague ? 31 : 1);
  // The end of a week is read as the first day behind it.
  if (to === named.day) return { from: addDays(to, -4), to: addDays(to, -2) };
  const isWeek = dayNumberFrom(to) - dayNumberFrom(named.day) === 7 && weekdayOf(named.day) === 1;
  if (isWeek && LATE.test(rewound(LATE, before))) return { from: addDays(named.day, 3), to };
  if (isWeek && EARLY.test(rewound(EARLY, before))) return { from: named.day, to: addDays(named.day, 3) };
  return { from: named.day, to };
}
const rewound = (pattern: RegExp, text: string) => {
  pattern.lastIndex = 0;
  return text;
};
const has = (pattern: RegExp, text: string) => pattern.test(rewound(pattern, text));
/** Whether a word of these stands right before the day. */
const leadsTo = (pattern: RegExp, before: string) =>
  [...before.matchAll(pattern)].some(({ index, 0: found }) =>
    /^\s?(?:the |den |dem |el |le |il |de |o |da |das |um |am |um |kl\.? )*(?:early |late )?$/u.test(
      before.slice(index + found.length),
    ),
  );

const SENTENCE = /(?<=[.!?])(?<!\d\.)\s+(?=[\p{Lu}¿¡])|\n+/u;
/** "Donnerstagnachmittag", "dinsdagmiddag" (folded). */
const GLUED =
  /(tag|mittwoch|dag)s?(?=nachmittag|vormittag|morgen|mittag|abend|middag|ochtend|avond|eftermiddag|ettermiddag|formiddag|kvall|aften)/g;
const TODAY = word(
  "this (?:morning|afternoon|evening)|ce matin|cet apres-midi|ce soir|esta (?:tarde|manana|manha)|questo pomeriggio|stamattina|vanmiddag|vanochtend|i eftermiddag\\p{L}*|i ettermiddag",
);
const CLAUSE =
  /\s*[;,–]\s+|\s(?:but|aber|sondern|mais|pero|sino|mas|ma|maar|men|ale|though|however|whereas|dann)\s/;
/** Days further behind or ahead are about something else. */
const AHEAD = 90;

/** What a letter asks for. Of one that names no time everything is empty. */
export function wishedTimes(text: string, reader: DateReader): Wished {
  const wished: Wished = { wishes: [], not: [], from: null };
  for (const sentence of text.split(SENTENCE)) {
    /** The clause before had days and no hours: hours that follow are theirs. */
    let open: Wish[] = [];
    for (const clause of inDigits(fold(sentence).replaceAll(GLUED, "$1 ")).split(CLAUSE)) {
      const days = daysOfWeeks(clause, daysIn(clause, reader, false)).filter(({ day, after }) =>
        isAhead(after ?? day, reader.today),
      );
      const hours = hoursIn(days.reduce((left, { from, to }) => blanked(left, from, to), clause));
      if (days.length === 0) {
        const [only] = hours;
        const isToday = has(TODAY, clause);
        if (only && isToday)
          wished.wishes.push({ from: reader.today, to: addDays(reader.today, 1), hours: only.value });
        else if (only && open.length > 0) for (const wish of open) wish.hours ??= only.value;
        else if (only && !has(NOT, clause)) wished.wishes.push(wholeSpan(reader.today, only.value));
        open = [];
        continue;
      }
      const made = readClause(clause, days, hours, reader, wished);
      open = made.filter((wish) => wish.hours === null);
      wished.wishes.push(...made);
    }
  }
  // An hour without a day says when on the days that were named elsewhere.
  const dated = wished.wishes.filter((wish) => !isWhole(wish, reader.today));
  const loose = wished.wishes.find((wish) => isWhole(wish, reader.today));
  if (dated.length > 0 || wished.from !== null) {
    if (loose) for (const wish of dated) wish.hours ??= loose.hours;
    wished.wishes = dated.length > 0 ? dated : loose ? [loose] : [];
  } else if (loose && !isAskedFor(text)) wished.wishes = [];
  return wished;
}

const isWeek = ({ day, after }: NamedDay): boolean =>
  after !== undefined && weekdayOf(day) === 1 && dayNumberFrom(after) - dayNumberFrom(day) === 7;
/** "Tuesday next week", "nächste Woche Dienstag": one day, and the week says which. */
function daysOfWeeks(clause: string, days: readonly NamedDay[]): NamedDay[] {
  return days.flatMap((each, index) => {
    const pair = (one: NamedDay | undefined, other: NamedDay | undefined) =>
      one &&
      other &&
      /^[ ,]*(?:on |am |om |pa |le |el |in |de |der |of )?$/.test(clause.slice(one.to, other.from));
    const [before, after] = [days[index - 1], days[index + 1]];
    const isDay = (named: NamedDay | undefined) => named !== undefined && named.after === undefined;
    if (isWeek(each))
      return (isDay(after) && pair(each, after)) || (isDay(before) && pair(before, each)) ? [] : [each];
    const week = [before, after].find((near) => near !== undefined && isWeek(near));
    const isOfWeek =
      week && !/\d/.test(clause.slice(each.from, each.to)) && (pair(week, each) || pair(each, week));
    return [isOfWeek ? { ...each, day: addDays(week.day, weekdayOf(each.day) - 1) } : each];
  });
}

const isAhead = (day: string, today: string) =>
  dayNumberFrom(day) >= dayNumberFrom(today) && dayNumberFrom(day) - dayNumberFrom(today) <= AHEAD;
const blanked = (text: string, from: number, to: number) =>
  text.slice(0, from) + " ".repeat(to - from) + text.slice(to);
const wholeSpan = (today: string, hours: Hours): Wish => ({ from: today, to: addDays(today, AHEAD), hours });
const isWhole = ({ from, to }: Wish, today: string) => from === today && to === addDays(today, AHEAD);
/** An hour alone may be anything; beside a word for talking it is when to talk. */
const isAskedFor = (text: string) =>
  has(
    word(
      "call|talk|speak|meet\\p{L}*|ring|any|works?|suits?|free|available|telefon\\p{L}*|sprechen|anruf\\p{L}*|passt|appel\\p{L}*|parler|hablar|llamar|falar|ligar|sentire|chiamare|parlare|bellen|spreken|ringa|ringe|snakke|tale",
    ),
    fold(text),
  );

function readClause(
  clause: string,
  days: readonly NamedDay[],
  hours: readonly At<Hours>[],
  reader: DateReader,
  wished: Wished,
): Wish[] {
  const made: (Wish & { at: number })[] = [];
  let behind = 0;
  for (const named of days) {
    const before = clause.slice(behind, named.from);
    behind = named.to;
    const span = stretch(named, before);
    if (leadsTo(NOT_BEFORE, before)) wished.from = later(wished.from, span.from);
    else if (leadsTo(UNTIL, before)) wished.from = later(wished.from, span.from);
    else if (leadsTo(FROM_THEN, before) && hours.length === 0)
      wished.from = later(
        wished.from,
        /(?:after|nach|apres|despues|depois|dopo|efter|etter|jalkeen|po)\b/.test(before)
          ? span.to
          : span.from,
      );
    else if (has(NOT, clause)) wished.not.push({ ...span, weekly: isEveryWeek(clause, named) });
    else made.push({ ...span, hours: null, at: named.from });
  }
  const [only] = hours;
  for (const wish of made) {
    const near = hours.findLast(
      ({ from }) => from < wish.at && !made.some(({ at }) => at > from && at < wish.at),
    );
    const next = hours.find(
      ({ from }) => from > wish.at && !made.some(({ at }) => at > wish.at && at < from),
    );
    wish.hours = hours.length === 1 && only ? only.value : ((next ?? near)?.value ?? null);
  }
  if (made.length === 0 && only && !has(NOT, clause)) {
    // "From the 18th, in the morning."
    made.push({ ...wholeSpan(reader.today, only.value), at: 0 });
  }
  return made.map(({ at: _, ...wish }) => wish);
}

const later = (one: string | null, other: string) => (one === null || other > one ? other : one);

/** "Mondays are bad": every one of them. A day that does not suit once is that day. */
const isEveryWeek = (clause: string, { from, to, after }: NamedDay): boolean =>
  after === undefined && /^\D+s$/.test(clause.slice(from, /s/.test(clause[to] ?? "") ? to + 1 : to));

export interface Slot {
  day: string;
  /** Where they are, from 0 to 24. */
  hour: number;
}

const OFFERED = 3;
const NOON = 13;

/** Three of the free times (in their order): what was asked for first, then others; on different days if there are. */
export function chooseTimes<T extends Slot>(free: readonly T[], wished: Wished, most = OFFERED): T[] {
  const suits = free.filter(
    ({ day }) =>
      (wished.from === null || day >= wished.from) &&
      !wished.not.some((span) =>
        span.weekly ? weekdayOf(day) === weekdayOf(span.from) : isWithin(day, span),
      ),
  );
  const chosen: T[] = [];
  const take = (among: readonly T[], isSpread: boolean) => {
    for (const [index, slot] of among.entries()) {
      if (chosen.length === most) return;
      if (chosen.some(({ day }) => day === slot.day)) continue;
      // A morning, an afternoon, a morning: somebody who is busy at one hour is free at another.
      const isLastOfDay = among[index + 1]?.day !== slot.day;
      if (!isSpread || slot.hour >= NOON === (chosen.length % 2 === 1) || isLastOfDay) chosen.push(slot);
    }
  };
  for (const wish of wished.wishes) {
    const { hours } = wish;
    const among = suits.filter(({ day, hour }) => isWithin(day, wish) && isAt(hour, hours));
    // Of a quarter past, the free time that is nearest.
    if (hours && hours.from === hours.to)
      among.sort((a, b) => Math.abs(a.hour - hours.from) - Math.abs(b.hour - hours.from));
    take(among, hours === null);
  }
  // Two of the afternoon that was asked for are worth more than another day.
  for (const wish of chosen.length > 0 && chosen.length < most ? wished.wishes : [])
    for (const slot of suits) {
      if (chosen.length === most - 1) break;
      const isApart = chosen.every((each) => each.day !== slot.day || Math.abs(each.hour - slot.hour) >= 1);
      if (isApart && isWithin(slot.day, wish) && isAt(slot.hour, wish.hours)) chosen.push(slot);
    }
  take(suits, true);
  return chosen;
}

const weekdayOf = (day: string) => weekdayOn(dayNumberFrom(day));
/** Whether a time is one of those that were asked for. */
export const isWished = ({ day, hour }: Slot, { wishes, from }: Wished): boolean =>
  wishes.some((wish) => isWithin(day, wish) && isAt(hour, wish.hours)) ||
  (wishes.length === 0 && from !== null);

const isWithin = (day: string, span: Pick<Wish, "from" | "to">): boolean => day >= span.from && day < span.to;
const isAt = (hour: number, hours: Hours | null): boolean =>
  hours === null ||
  (hours.from === hours.to ? Math.abs(hour - hours.from) < 0.5 : hour >= hours.from && hour < hours.to);
