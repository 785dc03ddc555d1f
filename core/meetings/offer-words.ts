/** How three times are offered, in the language of the letter that they answer. */
import { detect } from "tinyld";

export interface OfferWords {
  /** Of the names of days and months (BCP 47), and how luxon writes a time. */
  locale: string;
  format: string;
  /** `place`: where the times are told. */
  ask: (place: string) => string;
  otherwise: string;
  /** What they asked for is not free. */
  taken: string;
}

export const ENGLISH: OfferWords = {
  locale: "en-GB",
  format: "cccc d LLLL, HH:mm",
  ask: (place) => `Would one of these suit you (${place} time)?`,
  otherwise: "If none does, choose another here:",
  taken: "At the time that you name I am taken, I am afraid.",
};

const WORDS: Record<string, OfferWords> = {
  en: ENGLISH,
  de: {
    locale: "de",
    format: "cccc, d. LLLL, HH:mm 'Uhr'",
    ask: (place) => `Passt Ihnen einer dieser Termine (Zeit in ${place})?`,
    otherwise: "Falls nicht, wählen Sie hier einen anderen:",
    taken: "Zu der Zeit, die Sie nennen, bin ich leider vergeben.",
  },
  fr: {
    locale: "fr",
    format: "cccc d LLLL, HH 'h' mm",
    ask: (place) => `L'un de ces créneaux vous conviendrait-il (heure de ${place}) ?`,
    otherwise: "Sinon, choisissez-en un autre ici :",
    taken: "Au moment que vous indiquez, je suis malheureusement déjà pris.",
  },
  es: {
    locale: "es",
    format: "cccc d 'de' LLLL, HH:mm",
    ask: (place) => `¿Le vendría bien alguno de estos momentos (hora de ${place})?`,
    otherwise: "Si no, elija otro aquí:",
    taken: "A la hora que indica ya tengo un compromiso.",
  },
  pt: {
    locale: "pt-PT",
    format: "cccc, d 'de' LLLL, HH:mm",
    ask: (place) => `Algum destes horários lhe convém (hora de ${place})?`,
    otherwise: "Se não, escolha outro aqui:",
    taken: "À hora que indica já tenho um compromisso.",
  },
  it: {
    locale: "it",
    format: "cccc d LLLL, HH:mm",
    ask: (place) => `Le andrebbe bene uno di questi orari (ora di ${place})?`,
    otherwise: "Altrimenti ne scelga un altro qui:",
    taken: "All'ora che indica purtroppo sono già impegnato.",
  },
  nl: {
    locale: "nl",
    format: "cccc d LLLL, HH:mm 'uur'",
    ask: (place) => `Schikt een van deze tijden u (tijd in ${place})?`,
    otherwise: "Zo niet, kies hier een andere:",
    taken: "Op de tijd die u noemt ben ik helaas bezet.",
  },
  sv: {
    locale: "sv",
    format: "cccc d LLLL 'kl.' HH:mm",
    ask: (place) => `Passar någon av de här tiderna (tid i ${place})?`,
    otherwise: "Om inte, välj en annan här:",
    taken: "Den tid du nämner är jag tyvärr upptagen.",
  },
  da: {
    locale: "da",
    format: "cccc 'den' d. LLLL 'kl.' HH:mm",
    ask: (place) => `Passer et af disse tidspunkter dig (tid i ${place})?`,
    otherwise: "Hvis ikke, så vælg et andet her:",
    taken: "På det tidspunkt, du nævner, er jeg desværre optaget.",
  },
  no: {
    locale: "nb",
    format: "cccc d. LLLL 'kl.' HH:mm",
    ask: (place) => `Passer ett av disse tidspunktene (tid i ${place})?`,
    otherwise: "Hvis ikke, velg et annet her:",
    taken: "Tidspunktet du nevner er jeg dessverre opptatt.",
  },
};

/** Shorter letters are too short to be told by. */
const ENOUGH = 12;

/** The words for an offer in a letter's language; English, if it is none of these or too short to tell. */
export const offerWordsFor = (letter: string): OfferWords =>
  (letter.trim().length < ENOUGH ? undefined : WORDS[detect(letter, { only: Object.keys(WORDS) })]) ??
  ENGLISH;
