/** What an invented house says of itself: the same for the same domain, in one of four languages. */
import { directory } from "../directory/people.ts";
import { type Draw, one, seeded } from "../seeded.ts";

export interface News {
  /** "2026-05-12". */
  day: string;
  title: string;
  text: string;
}

export interface Said {
  domain: string;
  name: string;
  city: string;
  language: "en" | "de" | "pt" | "fr";
  /** What they do, in a line. */
  line: string;
  /** More of it, sentence by sentence. */
  about: string[];
  /** Whom they compare themselves with; "" for nobody. */
  beside: string;
  /** With their address, where the house shows it. */
  people: { name: string; title: string; email?: string }[];
  /** The newest first. */
  news: News[];
  email: string;
  /** Two colours and two letters of the logo. */
  look: { ink: string; ground: string; letters: string };
}

const INKS = ["#1d3557", "#5b2333", "#1b4332", "#3d2c5e", "#6b4226", "#0b4f6c", "#4a4e0d", "#222222"];
const GROUNDS = ["#f4ede4", "#e8f1f2", "#fdf6ec", "#eef2e6", "#f2e9f5", "#ffffff", "#ebe3d5"];
const TITLES = [
  "Salt on Vellum",
  "The Quiet Year",
  "Rope and Ledger",
  "Under Glass",
  "Letters Never Sent",
  "A Coast in Paper",
  "The Borrowed Room",
  "Slow Light",
];
const PLACES = ["Dundee", "Bremen", "Porto", "Rouen", "Bergen", "Utrecht", "Turin", "Valencia"];
const SISTERS = ["Paper Harbour Archive", "Kestrel House Museum", "The Long Shelf", "Northgate Collections"];

interface Tongue {
  line(name: string, city: string, things: string): string;
  things: string[];
  about(year: number, loans: number, km: number, controlled: number): string[];
  beside(other: string): string;
  news(title: string, pieces: number, lent: number, place: string): string;
  told(place: string): string;
  jobs: string[];
}

const TONGUES: Record<Said["language"], Tongue> = {
  en: {
    line: (name, city, things) => `${name} in ${city} keeps ${things}, and lends them to other houses.`,
    things: [
      "charts and logbooks",
      "textiles of a working coast",
      "printed paper from four centuries",
      "instruments and their makers' letters",
    ],
    about: (year, loans, km, controlled) => [
      `Founded in ${year}, the house lends ${loans} pieces a year.`,
      `The stores hold ${km} km of shelves.`,
      `Since ${controlled} their climate is watched day and night.`,
    ],
    beside: (other) => `Visitors who know ${other} find the same care here, on a smaller scale.`,
    news: (title, pieces, lent, place) =>
      `“${title}” opens with ${pieces} pieces, ${lent} of them on loan from ${place}.`,
    told: (place) => `A couple of our conservators were in ${place} to speak about paper that travels.`,
    jobs: ["Registrar", "Head of collections", "Conservator"],
  },
  de: {
    line: (name, city, things) => `${name} in ${city} bewahrt ${things} und leiht sie an andere Häuser aus.`,
    things: ["Karten und Logbücher", "Stoffe einer Küste", "gedrucktes Papier aus vier Jahrhunderten"],
    about: (year, loans, km, controlled) => [
      `Das Haus wurde ${year} gegründet und verleiht ${loans} Stücke im Jahr.`,
      `Das Magazin hat ${km} km Regale.`,
      `Seit ${controlled} wird das Klima Tag und Nacht überwacht.`,
    ],
    beside: (other) => `Wer ${other} kennt, findet hier dieselbe Sorgfalt im Kleinen.`,
    news: (title, pieces, lent, place) =>
      `„${title}“ öffnet mit ${pieces} Stücken, davon ${lent} Leihgaben aus ${place}.`,
    told: (place) => `Unsere Werkstatt war in ${place} und sprach über Papier auf Reisen.`,
    jobs: ["Registrarin", "Sammlungsleiter", "Restauratorin"],
  },
  pt: {
    line: (name, city, things) => `${name}, em ${city}, guarda ${things} e empresta-os a outras casas.`,
    things: ["mapas e diários de bordo", "tecidos de uma costa", "papéis impressos de quatro séculos"],
    about: (year, loans, km, controlled) => [
      `Fundada em ${year}, a casa empresta ${loans} peças por ano.`,
      `As reservas têm ${km} km de estantes.`,
      `Desde ${controlled} o clima é vigiado dia e noite.`,
    ],
    beside: (other) => `Quem conhece ${other} encontra aqui o mesmo cuidado, em menor escala.`,
    news: (title, pieces, lent, place) =>
      `«${title}» abre com ${pieces} peças, ${lent} delas emprestadas de ${place}.`,
    told: (place) => `A nossa oficina esteve em ${place} a falar de papel que viaja.`,
    jobs: ["Registo de coleções", "Diretora de coleções", "Conservador"],
  },
  fr: {
    line: (name, city, things) => `${name}, à ${city}, conserve ${things} et les prête à d'autres maisons.`,
    things: [
      "des cartes et des journaux de bord",
      "les tissus d'une côte",
      "du papier imprimé de quatre siècles",
    ],
    about: (year, loans, km, controlled) => [
      `Fondée en ${year}, la maison prête ${loans} pièces par an.`,
      `Les réserves comptent ${km} km d'étagères.`,
      `Depuis ${controlled}, leur climat est surveillé jour et nuit.`,
    ],
    beside: (other) => `Qui connaît ${other} retrouve ici le même soin, en plus petit.`,
    news: (title, pieces, lent, place) =>
      `« ${title} » ouvre avec ${pieces} pièces, dont ${lent} prêtées par ${place}.`,
    told: (place) => `Notre atelier était à ${place} pour parler du papier qui voyage.`,
    jobs: ["Régisseuse", "Responsable des collections", "Restaurateur"],
  },
};

const LANGUAGE_OF: Record<string, Said["language"]> = {
  Germany: "de",
  Portugal: "pt",
  Brazil: "pt",
  France: "fr",
};
const WORDS_OF: [RegExp, Said["language"]][] = [
  [/sammlung|kaimuseum|archiv\b|stadtbibliothek/, "de"],
  [/museu-|arquivo|casa-|biblioteca/, "pt"],
  [/musee|archives-d|maison|bibliotheque/, "fr"],
];

const small = /^(of|the|and|for|on|at|da|do|de|das|dos|du|la|le|am|van)$/;
const titled = (stem: string) =>
  stem
    .split("-")
    .map((word, at) => (at > 0 && small.test(word) ? word : word.charAt(0).toUpperCase() + word.slice(1)))
    .join(" ");

const day = (draw: Draw, back: number) =>
  new Date(Date.UTC(2026, 5, 2 - back - Math.floor(draw() * 12))).toISOString().slice(0, 10);

/** Houses that tell their people's addresses. */
const SHOWS = 0.3;
const known = new Map<string, Said>();

export function saidBy(domain: string): Said {
  let said = known.get(domain);
  if (!said) {
    said = invent(domain);
    known.set(domain, said);
  }
  return said;
}

function invent(domain: string): Said {
  const draw = seeded("site", domain);
  const company = directory().companies.find((each) => each.domain === domain);
  const stem =
    domain
      .replace(/\.example$/, "")
      .split(".")
      .at(-1) ?? domain;
  const name = company
    ? company.name.replace(
        /\s+(AS|ASA|AB.*|A\/S|ApS|Oyj?|ry|g?GmbH.*|e\.V\.|[BN]\.V\.|Ltd|Limited|PLC|CIC|SARL|SAS?|Lda|S\.A\.|Unipessoal Lda|S\.L\.U?\.|S\.r\.l\.|S\.p\.A\.|Inc\.?|LLC)$/i,
        "",
      )
    : titled(stem);
  const language =
    (company ? LANGUAGE_OF[company.country] : WORDS_OF.find(([words]) => words.test(stem))?.[1]) ?? "en";
  const tongue = TONGUES[language];
  const city = company?.city ?? one(PLACES, draw);
  const number = (from: number, to: number) => from + Math.floor(draw() * (to - from));
  const showsAddresses = seeded("shows", domain)() < SHOWS;
  const people = (
    company ? directory().people.filter((each) => each.company === company && each.trueEmail !== "") : []
  )
    .slice(0, 4)
    .map(({ firstName, lastName, title, trueEmail }) => ({
      ...(showsAddresses ? { email: trueEmail } : {}),
      name: `${firstName} ${lastName}`.trim(),
      title,
    }));
  const first = number(30, 400);
  return {
    domain,
    name,
    city,
    language,
    line: tongue.line(name, city, one(tongue.things, draw)),
    about: tongue.about(number(1820, 1990), number(20, 180), number(1, 12) + 0.5, number(2004, 2024)),
    beside: draw() < 0.6 ? tongue.beside(one(SISTERS, draw)) : "",
    people:
      people.length > 0
        ? people
        : [
            {
              name: `${one(["Nell", "Jonas", "Inês", "Solène"], draw)} ${one(["Aldous", "Kestner", "Teles", "Aubin"], draw)}`,
              title: one(tongue.jobs, draw),
            },
          ],
    news: [
      { day: day(draw, 5), title: one(TITLES, draw), text: "" },
      { day: day(draw, 60), title: one(TITLES, draw), text: tongue.told(one(PLACES, draw)) },
      { day: day(draw, 200), title: one(TITLES, draw), text: tongue.told(one(PLACES, draw)) },
    ].map((news, at) =>
      at === 0
        ? { ...news, text: tongue.news(news.title, first, Math.floor(first / 3), one(PLACES, draw)) }
        : news,
    ),
    email: `office@${domain}`,
    look: {
      ink: one(INKS, draw),
      ground: one(GROUNDS, draw),
      letters: name
        .split(/[\s-]+/)
        .filter((word) => !small.test(word.toLowerCase()))
        .map((word) => word.charAt(0).toUpperCase())
        .slice(0, 2)
        .join(""),
    },
  };
}
