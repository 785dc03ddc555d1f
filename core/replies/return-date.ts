/** When somebody who is away comes back, and when somebody who says "not now" wants to be asked again. */
import { DateTime } from "luxon";
import { fold } from "../fold.ts";
import { daysIn, type NamedDay } from "./dates.ts";

export interface LetterContext {
  /** When it was written: epoch ms. */
  at: number;
  zone: string;
  /** ISO 3166 code of where they are, or "": in the United States 7/8 is the 8th of July. */
  country: string;
}

export interface ReadDay {
  /** "YYYY-MM-DD" */
  day: string;
  /** Whether it is the day they are back, or the last one that they are away. */
  is: "back" | "last_away";
  /** The words that say so, as [from, to) in the letter. */
  words: [number, number];
}

/** Where 7/8 is the 8th of July; year, month, day is the order in the last of them. */
const MONTH_FIRST = new Set(["US", "PH", "FM", "MH", "PW", "JP", "CN", "KR", "TW"]);
const READ = 5_000;

const BACK_BEFORE =
  /(?<!\p{L})(?:back|re-?open\p{L}*|return(?:ing)?|read(?: it| this)?(?: again)? on|answered on|reply on|respond on|pick (?:it|this) up on|available again|in again|reachable again|resume|until i|ab(?: dem)?|erst (?:am|wieder)|wieder (?:ab|am|da|im)|zuruck|retour|rentre\S*|reviendrai|reprendrai|a partir d[ue]|de vuelta|vuelvo|volvere|regres\S*|de volta|volto|voltarei|a partir de|rientr\S*|torn\S*|dal|terug|weer|vanaf|tilbage|tilbake|tillbaka|ater|igen|igjen|rouvr\S*|reabr\S*|riapr\S*|taas|jalleen|paikalla|palaan|wracam|wroce|z powrotem|od|vratim|vracim|vracime|zpet|вернусь|с|снова|next in|ponownie|opet)(?!\p{L})[\s\S]{0,40}$/u;
const BACK_AFTER =
  /^[\s,]*(?:\S+ ){0,3}?(?:back|wieder|zuruck|de retour|de vuelta|de volta|terug|tilbage|tilbake|tillbaka|weer|again|verfugbar|erreichbar|に戻|から出社|より出社|回来|回到|返回|复工|上班|恢复|복귀|donuyorum|donecegim|вернусь)/u;
const UNTIL_BEFORE =
  /(?<!\p{L})(?:until|till?|'til|through|thru|up to|bis(?: einschlie\S+| inkl\S*| zum| einschl\S*)?|jusqu'?(?:au|a|en|a la|aux)?|jusqu.(?:au|en|a)|hasta(?: el| finales de| principios de)?|ate(?: ao?| dia| ao dia)?|fino (?:al?|alla|ad)|tot(?: en met| aan)?|t\/m|til(?: og med)?|till(?: och med)?|t\.?o\.?m\.?|asti|saakka|do(?: dnia)?|до|по|between[\s\S]{0,30}and|zwischen[\s\S]{0,30}und|entre[\s\S]{0,30}(?:et|y|e))\s*(?:and including\s)?(?:on\s|the\s|le\s|el\s|dia\s|dem\s|den\s|zum\s|dnia\s|\p{L}+(?:day|tag|di|dag),?\s(?:the\s|den\s|le\s|el\s)?)?$/u;
const UNTIL_AFTER = /^\s?(?:まで|为止|之前|까지|'?(?:e|a|ye|ya) kadar|\s?asti|\s?saakka)/u;
/** From one day to another, the second of them next to it. */
const RANGE_BEFORE =
  /(?:\d|\p{L})\S*\s?(?:-|–|—|to|bis(?: zum)?|au|al?|a|ao|tot(?: en met)?|t\/m|til|till|do|по|and|und|et|y|e)\s?(?:the |den |dem |le |el |dia )?$/u;
const STARTS_BEFORE =
  /(?:from|starting|as of|since|vom|von|ab|seit|du|depuis|del|desde|de|dal|van|vanaf|fra|fran|od|с|between)\s(?:the |dem |den |le |el |dia )?(?:\p{L}+(?:day|tag|dag|di),?\s)?$/u;

/** The day of return that a letter of absence names, or null. */
export function returnDay(letter: string, context: LetterContext): ReadDay | null {
  const folded = fold(letter.slice(0, READ));
  const today = todayOf(context);
  const days = daysIn(folded, readerOf(context), false);
  const judged = days.map((named, index) => ({
    named,
    ...roleOf(folded, named, days[index - 1], days[index + 1]),
  }));
  // Coming back says more than a last day away, and that more than a day that merely stands there.
  const best = judged
    .filter(({ named, worth }) => worth > 0 && (named.after ?? named.day) >= today)
    .sort((a, b) => b.worth - a.worth || b.named.day.localeCompare(a.named.day))[0];
  if (!best) return null;
  const { named, is } = best;
  const words: [number, number] = [named.from, named.to];
  if (named.after === undefined || is === "back") return { day: named.day, is, words };
  // Until a stretch that has not begun is until it begins; else whoever is away for it is back behind it.
  return best.until && named.day > today
    ? { day: named.day, is: "back", words }
    : { day: named.after, is: "back", words };
}

function roleOf(
  folded: string,
  named: NamedDay,
  before: NamedDay | undefined,
  after: NamedDay | undefined,
): { worth: number; is: ReadDay["is"]; until?: boolean } {
  // What stands between it and the day before it, in its own sentence.
  const from = Math.max(before?.to ?? 0, named.from - 60);
  const lead = folded.slice(from, named.from);
  const own = lead.slice(Math.max(lead.lastIndexOf("\n"), lead.search(/[.!?]\s[^.!?]*$/)) + 1);
  const tail = folded.slice(named.to, Math.min(after?.from ?? folded.length, named.to + 40));
  const sentenceTail = tail.split(/[.!?\n]/)[0] ?? "";
  if (UNTIL_BEFORE.test(own) || UNTIL_AFTER.test(tail)) {
    const isBack =
      /\buntil i|erst ab|not (?:be )?back (?:until|before)|nicht vor|pas avant|fore?n? |forran/.test(own);
    return { worth: 3, is: isBack ? "back" : "last_away", until: true };
  }
  if (
    STARTS_BEFORE.test(own) &&
    !/back|again|wieder|retour|vuelta|volta|terug|tilbage|tilbake|tillbaka|disponib|erreichbar|verfugbar|available|beschikbaar/.test(
      own + sentenceTail,
    )
  )
    return { worth: 0, is: "last_away" };
  if (BACK_BEFORE.test(own) && !STARTS_ONLY.test(own)) return { worth: 4, is: "back" };
  if (BACK_AFTER.test(sentenceTail)) return { worth: 4, is: "back" };
  if (before && RANGE_BEFORE.test(folded.slice(before.from, named.from)) && named.from - before.to < 16)
    return { worth: 3, is: "last_away" };
  if (/^\s?(?:-|–)\s?\d/.test(tail)) return { worth: 0, is: "last_away" };
  // "From 3 to 17 August": the first number has no month of its own.
  if (
    /\d{1,2}\S{0,3}\s?(?:-|–|to|bis(?: zum)?|au|al?|a|tot(?: en met)?|t\/m|til|till|do|по|and|und|et|y|e|ao)\s?(?:the |den |dem |le |el |dia )?$/u.test(
      own,
    )
  )
    return { worth: 3, is: "last_away" };
  return { worth: 1, is: "last_away" };
}
/** "Ab dem 3. bin ich im Urlaub" begins an absence; it is a return only where a word for it follows. */
const STARTS_ONLY =
  /(?:^|\s)(?:du|de|del|dal|od|с|ab|a partir d[ue]|vanaf|von|vom)\s(?:dem |den |le |el )?$/u;

/** The day from which somebody who says "not now" may be asked again, or null if the letter names none. */
export function dayToAskAgain(
  letter: string,
  context: LetterContext,
): { day: string; words: [number, number] } | null {
  const folded = fold(letter.slice(0, READ));
  const today = todayOf(context);
  const named = daysIn(folded, readerOf(context), true)
    .filter(({ day }) => day > today)
    .filter(
      ({ from }) =>
        !/(?:since|seit|depuis|desde|until now|bisher)\s(?:\S+\s)?$/.test(
          folded.slice(Math.max(0, from - 14), from),
        ),
    );
  // The last day named is the one to go by: "no budget until March, try me in May".
  const last = named.sort((a, b) => a.day.localeCompare(b.day)).at(-1);
  return last ? { day: last.day, words: [last.from, last.to] } : null;
}

const todayOf = ({ at, zone }: LetterContext) => DateTime.fromMillis(at, { zone }).toISODate() as string;
/** How days are to be read in a letter. */
export const readerOf = (context: LetterContext) => ({
  today: todayOf(context),
  monthFirst: MONTH_FIRST.has(context.country),
});
