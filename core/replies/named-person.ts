/** Whom a letter names to write to instead: a stand-in while somebody is away, a successor, the right person. */
import { fold } from "../fold.ts";

export interface NamedPerson {
  firstName: string;
  lastName: string;
  /** "" where the letter gives only a name. */
  email: string;
  phone: string;
  /** The words that name them, as [from, to) in the letter. */
  words: [number, number];
}

const READ = 5_000;
const ADDRESS =
  /[\p{L}\p{N}!#$%&'*+/=?^_{|}~-]+(?:\.[\p{L}\p{N}!#$%&'*+/=?^_{|}~-]+)*@[\p{L}\p{N}-]+(?:\.[\p{L}\p{N}-]+)+/gu;
const PHONE = /(?:\+|\b0)[\d\s()/.-]{6,20}\d/;
/** "Maria Lopes", "Jean-Luc de la Tour", "J. Berg"; one or two words, or three with a particle. */
const NAME =
  /(?:\p{Lu}[\p{L}'’-]+|\p{Lu}\.)(?:\s(?:de|da|do|dos|van|von|der|den|di|del|la|le|el|al|af|bin|ten|ter)){0,2}(?:\s(?:\p{Lu}[\p{L}'’-]+|\p{Lu}\.)){0,2}/u;
const TITLE =
  /^(?:mr|mrs|ms|miss|dr|prof|herrn?|frau|m\.|mme|mlle|monsieur|madame|sr|sra|senor|senora|senhor|senhora|sig|signora?|dott|dottssa|hr|fru|de heer|mevrouw|pan[ia]?|pana)\.?\s+/iu;
/** What stands before a name of whom to write to. */
const POINTS_TO =
  /(?<![\p{L}])(?:(?:is |sits |lies )?now with|looped in|looping in|adding|copying(?: in)?|copied in|over to|passed (?:it|this) (?:on )?to|prov|proev|sporg|fraga|parla con|senta|vedi con|sentire|habla con|lo lleva|fala com|moet (?:u |je )?bij|contact|write to|reach out to|reach|speak (?:to|with)|talk to|ask|try|e-?mail|call|direct \S+ to|get in touch with|address(?:ed)? to|refer to|colleague|successor|replacement|covering|instead|responsible is|is handled by|taken over by|replaced by|passed to|forwarded (?:\S+ )?to|person is|it's|need|cc'?ing|copied in|wenden sie sich (?:bitte )?an|an|kollege\S*|kollegin|nachfolger\S*|vertretung|vertritt mich|ansprechpartner\S*(?: ist)?|zustandig ist|contactez|contacter|adressez-vous a|adresser a|collegue|remplacant\S*|successeur|voir avec|contacte(?: con)?|contactar(?: con)?|dirijase a|dirigirse a|escriba a|hable con|companer[oa]|sucesor\S*|contacte|fale com|contactar|dirija-se a|colega|sucessor\S*|substitut\S*|contatti|contattare|si rivolga a|rivolgersi a|collega|sostitut\S*|neem contact op met|contact opnemen met|mail|opvolg\S*|vervang\S*|kontakta|kontakt|ta kontakt med|kollega|eftertradare|efterfolger|etterfolger|skontaktowac sie z|pisac do|kontaktujte|obratte se na|обратитесь к|напишите|пишите|коллег\S*)\s*[:,]?\s*(?:please |bitte |my |our |meine[nr]? |unsere[nr]? |mon |ma |notre |mi |nuestr[ao] |o meu |a minha |il mio |la mia |mijn |onze |min |vores |the |with |con |mit |is |ist |est |es |e |a |la |il |o )*(?:colleague|successor|kollegen?|kollegin|nachfolger(?:in)?|collegue|companer[oa]|colega|collega|kollega|head of [\p{L} ]{2,30},|director,|manager,|buyer,)?[,:]?\s*$/iu;

/** What stands behind a name of whom to write to. */
const POINTS_FROM =
  /^,?\s(?:\([^)]{0,40}\)\s)?(?:would be (?:the|your|better)|is (?:covering|in charge|responsible|the (?:one|right|person)|your|handling|taking)|(?:handles|runs|decides|looks after|takes care|took over|does|will (?:help|be able)|can help|covers)|ist (?:zustandig|verantwortlich|ihr|ihre)|(?:vertritt|ubernimmt|kummert|hilft|betreut)|(?:s'en occupe|me remplace|est (?:responsable|en charge|votre)|gere|vous aidera)|(?:se encarga|lo lleva|le (?:ayudara|atendera)|es (?:el|la) (?:responsable|encargad))|(?:trata|e (?:o|a) responsavel|podera ajudar)|(?:se ne occupa|mi sostituisce|e (?:il|la) responsabile)|(?:gaat daarover|vervangt|is verantwoordelijk|helpt)|(?:ansvarar|hjalper|er ansvarlig|har ansvaret|star for)|(?:odpowiada|zajmuje|zastepuje|ma na starosti|zastupuje|отвечает|занимается|замещает))/u;

/** Words that are written with a capital and name nobody. */
const NO_NAME = new Set(
  "contact write call ask try speak mail email reach see talk wenden schreiben contactez contacter voyez hable escriba contacte fale escreva contatti scriva neem kontakta kontakt she he his her him they their this that you i it is the please thank thanks hi hello dear best kind regards monday tuesday wednesday thursday friday saturday sunday january february march april may june july august september october november december our my we you your if for in on at as and or out office re team sales department it hr sie ich wir ihre ihr bitte danke vielen mit fur im am der die das je vous nous merci bonjour el la los las yo usted gracias o a os as eu obrigado il lo gli grazie un una info purchasing procurement marketing finance reception front desk urgent".split(
    " ",
  ),
);

/** "担当は購買部の田中です", "请联系王经理", "김 과장님께 문의": a family name where it is said who is responsible. */
const EASTERN =
  /(?:担当(?:者)?は|後任は)(?:[^、。\s]{0,12}の)?(?<name>[一-龠々]{1,4})(?=です|で|が|に|さん|様|と)|(?:请联系|請聯繫|由|归|歸|请找|請找)(?:[^，。\s]{0,8}的)?(?<name2>[一-龠]{1,3})(?:经理|經理|先生|女士|小姐|主管|总监|總監|主任)|(?<name3>[가-힣]{1,4}) ?(?:팀장|과장|부장|차장|대리|실장|이사)님?(?:께|에게|이|가|으로|로)/u;

/** The first person whom a letter points to; `own` are addresses that are nobody else's: the sender's and ours. */
export function namedPerson(letter: string, own: readonly string[]): NamedPerson | null {
  const text = letter.slice(0, READ);
  const addresses = [...text.matchAll(ADDRESS)].filter(
    (match) => !own.some((each) => each.toLowerCase() === match[0].toLowerCase().replace(/\.$/, "")),
  );
  for (const match of addresses) {
    const email = match[0].toLowerCase();
    const line = lineAround(text, match.index);
    const near = nameBefore(line.before) ?? nameAfter(line.after) ?? nameOfAddress(email);
    return {
      ...near,
      email,
      phone: phoneNear(text, match.index),
      words: [match.index, match.index + match[0].length],
    };
  }
  const eastern = text.match(EASTERN)?.groups;
  const family = eastern?.name ?? eastern?.name2 ?? eastern?.name3;
  if (family) {
    const from = text.indexOf(family);
    return {
      firstName: "",
      lastName: family,
      email: "",
      phone: phoneNear(text, from),
      words: [from, from + family.length],
    };
  }
  for (const match of text.matchAll(new RegExp(NAME, "gu"))) {
    const lead = fold(text.slice(Math.max(0, match.index - 90), match.index));
    const title = lead.match(
      /(?:^|\s)(?:mr|mrs|ms|dr|prof|herrn?|frau|mme|sr|sra|sig|signora|fru|pan[ia]?|senor|senora|monsieur|madame)\.?\s$/,
    );
    const before = title ? lead.slice(0, title.index) : lead;
    const behind = fold(text.slice(match.index + match[0].length, match.index + match[0].length + 60));
    // A verb that took the name's capital points to it as well.
    const verb = match[0].slice(0, match[0].length - withoutVerb(match[0]).length);
    if (!POINTS_TO.test(`${before} ${fold(verb)} `.replace(/\s+$/, " ")) && !POINTS_FROM.test(behind))
      continue;
    const named = withoutVerb(match[0]);
    const name = named.replace(TITLE, "").trim();
    if (!isName(name)) continue;
    return {
      ...split(name, title !== null || TITLE.test(named)),
      email: "",
      phone: phoneNear(text, match.index),
      words: [match.index, match.index + match[0].length],
    };
  }
  return null;
}

/** "Contact Ed Norris" begins with a capital that is no name's. */
function withoutVerb(name: string): string {
  const words = name.split(/\s+/);
  while (words.length > 0 && NO_NAME.has(fold(words[0] as string))) words.shift();
  return words.join(" ");
}

const isName = (name: string) =>
  name.length > 2 && name.split(" ").every((part) => !NO_NAME.has(fold(part).replace(/\.$/, "")));

/** One word is a first name, but behind "Mr" a last one. */
function split(name: string, isLast = false): { firstName: string; lastName: string } {
  const parts = name.replace(TITLE, "").split(/\s+/);
  if (parts.length === 1)
    return isLast ? { firstName: "", lastName: parts[0] ?? "" } : { firstName: parts[0] ?? "", lastName: "" };
  return { firstName: parts[0] ?? "", lastName: parts.slice(1).join(" ") };
}

function lineAround(text: string, at: number): { before: string; after: string } {
  const from = Math.max(text.lastIndexOf("\n\n", at) + 1, at - 120, 0);
  const end = text.indexOf("\n\n", at);
  return {
    before: text.slice(from, at),
    after: text.slice(at, Math.min(end < 0 ? text.length : end, at + 160)).replace(/^\S+/, ""),
  };
}

/** The name that stands nearest before an address, in its sentence. */
function nameBefore(before: string) {
  const names = [...before.matchAll(new RegExp(NAME, "gu"))]
    .map(([name]) => ({
      name: withoutVerb(name).replace(TITLE, "").trim(),
      isLast: TITLE.test(withoutVerb(name)),
    }))
    .filter(({ name }) => isName(name));
  const last = names.at(-1);
  return last ? split(last.name, last.isLast) : null;
}

function nameAfter(after: string) {
  const name = after.match(new RegExp(`^[\\s(,>]*(${NAME.source})`, "u"))?.[1];
  return name && isName(name) && name.includes(" ") ? split(name) : null;
}

/** maria.lopes@ is Maria Lopes; info@ is nobody. */
function nameOfAddress(email: string): { firstName: string; lastName: string } {
  const parts = (email.split("@")[0] ?? "").split(/[._-]/).filter((part) => /^\p{L}{2,}$/u.test(part));
  if (parts.length !== 2) return { firstName: "", lastName: "" };
  const [first = "", last = ""] = parts.map((part) => (part[0] ?? "").toUpperCase() + part.slice(1));
  return { firstName: first, lastName: last };
}

function phoneNear(text: string, at: number): string {
  return (
    text
      .slice(Math.max(0, at - 60), at + 160)
      .match(PHONE)?.[0]
      .trim() ?? ""
  );
}

/** Whom a letter brings in by a copy: the only other person that it goes to. */
export function copiedPerson(
  copied: readonly { name: string; address: string }[],
  own: readonly string[],
): NamedPerson | null {
  const others = copied.filter(({ address }) => !own.some((each) => each.toLowerCase() === address));
  const [only] = others;
  if (!only || others.length > 1) return null;
  const name = only.name.replace(TITLE, "").trim();
  return {
    ...(isName(name) ? split(name) : nameOfAddress(only.address)),
    email: only.address,
    phone: "",
    words: [0, 0],
  };
}
