/**
 * The invented people and companies of the directory: some 20,000 at 3,000, the same for the same seed,
 * as badly kept as such directories are: shouted names, emoji, legal forms, blanks, people who moved on.
 */
import { type Draw, one, seeded, shareOf } from "../seeded.ts";

export interface DirectoryCompany {
  name: string;
  domain: string;
  industry: string;
  employees: number;
  city: string;
  country: string;
  region: string;
  about: string;
  /** How it writes its people's addresses. */
  pattern: "first.last" | "flast" | "first" | "f.last" | "firstlast";
}

export interface DirectoryPerson {
  id: string;
  name: string;
  firstName: string;
  lastName: string;
  title: string;
  /** "" if the directory does not have it. */
  email: string;
  phone: string;
  profile: string;
  company: DirectoryCompany;
  /** Where they can be written to, whether the directory knows it or not; "" if they have left. */
  trueEmail: string;
}

const COMPANIES = 3_000;
const PEOPLE = 20_000;

interface Land {
  country: string;
  region: string;
  cities: string;
  first: string;
  last: string;
  forms: string;
  dial: string;
}

const LANDS: Land[] = [
  {
    country: "Norway",
    region: "Northern Europe",
    cities: "Oslo Bergen Tromsø Stavanger",
    first: "Marit Eivind Solveig Håkon Ragnhild Torstein Ingunn Sverre Liv Aslak Oddny Kolbein",
    last: "Solheim Nesse Brekke Fossum Tveit Haugland Myklebust Rød Lande Vik Aune Bråten",
    forms: "AS|ASA|",
    dial: "+47",
  },
  {
    country: "Sweden",
    region: "Northern Europe",
    cities: "Malmö Uppsala Göteborg Kiruna",
    first: "Linnea Axel Tove Gustaf Ebba Sixten Maj Olle Siv Torkel Alva Hjalmar",
    last: "Lindgård Ekström Sjöholm Wallin Nordgren Åkerby Hedlund Forsman Rosén Dahlgren Granath Löf",
    forms: "AB|AB (publ)|",
    dial: "+46",
  },
  {
    country: "Denmark",
    region: "Northern Europe",
    cities: "Aarhus Odense Aalborg Ribe",
    first: "Karen-Marie Frode Ditte Villads Signe Aksel Bodil Svend Astrid Viggo Maren Tage",
    last: "Bruun Kjærgaard Thorup Ravn Skov Winther Østergaard Munk Bang Degn Friis Holst",
    forms: "A/S|ApS|",
    dial: "+45",
  },
  {
    country: "Finland",
    region: "Northern Europe",
    cities: "Turku Tampere Oulu Rauma",
    first: "Aino Eero Helmi Väinö Saara Onni Tuulikki Paavo Lempi Ilmari Kerttu Urho",
    last: "Lahtela Mäkirinne Koskela Salmivuori Rautio Hietala Peltoniemi Saarinen-Aro Virtala Kuusela Ojala Ranta",
    forms: "Oy|Oyj|ry|",
    dial: "+358",
  },
  {
    country: "Germany",
    region: "Western Europe",
    cities: "Hamburg Leipzig Bremen Kassel",
    first: "Ilse Jonas Anke Henrik Frieda Lorenz Tomke Falk Greta Ruprecht Wiebke Jörn",
    last: "Brandt Reuter Tietz Ohlsen Kestner Wiebe Dornbusch Harms Lindau Petersen Grünwald Möhring",
    forms: "GmbH|gGmbH|e.V.|GmbH & Co. KG|",
    dial: "+49",
  },
  {
    country: "Netherlands",
    region: "Western Europe",
    cities: "Utrecht Delft Groningen Breda",
    first: "Sanne Joost Fenna Ruben Marijke Thijs Lotte Wessel Hanneke Bram Ilona Sietse",
    last: "Terpstra Kuipers|van der Veen|de Wit|Hoekstra|van den Broek|Zijlstra|Postma|Veldman|ter Horst|Wiersma",
    forms: "B.V.|N.V.|",
    dial: "+31",
  },
  {
    country: "United Kingdom",
    region: "Western Europe",
    cities: "Leeds Dundee Bangor Norwich",
    first: "Owain Harriet Callum Bronwen Edmund Isla Rhys Maud Alasdair Nell Tamsin Fergus",
    last: "Pryce Hollins McAllister Fairley O'Dowd Tarrant Mostyn Gilchrist Penrose Aldous MacLeod Winstanley",
    forms: "Ltd|Limited|PLC|CIC|",
    dial: "+44",
  },
  {
    country: "France",
    region: "Western Europe",
    cities: "Lyon Nantes Rouen Dijon",
    first: "Capucine Bastien Ombeline Théo Margaux Aurélien Solène Gaspard Élodie Corentin Anne-Lise Hervé",
    last: "Delmas|Roussel|d'Hauteville|Berthier|de la Roche|Maréchal|Poirier|Sablon|Thierry|Aubin",
    forms: "SARL|SAS|SA|",
    dial: "+33",
  },
  {
    country: "Portugal",
    region: "Southern Europe",
    cities: "Lisbon Porto Évora Coimbra",
    first: "Benedita Teodoro Inês Duarte Leonor Vasco Matilde Afonso Clara Simão Filipa Tomé",
    last: "Vasques|Moreira|dos Santos Lobato|Pestana|Figueira|da Nóbrega|Quaresma|Teles|Barroso|Sardinha",
    forms: "Lda|S.A.|Unipessoal Lda|",
    dial: "+351",
  },
  {
    country: "Spain",
    region: "Southern Europe",
    cities: "Valencia Bilbao Cádiz Burgos",
    first: "Jimena Íñigo Carmela Anselmo Rocío Fermín Lucía Gonzalo Nieves Emilio Begoña Jacinto",
    last: "Arrieta|Bermejo|de la Cuenca|Durango|Espinar|Fontán|Garrido|Ibarra|Lozano|Montoya",
    forms: "S.L.|S.A.|S.L.U.|",
    dial: "+34",
  },
  {
    country: "Italy",
    region: "Southern Europe",
    cities: "Turin Bologna Lecce Trieste",
    first: "Ludovica Ettore Fiammetta Corrado Ginevra Ruggero Noemi Amedeo Serafina Oreste Livia Tullio",
    last: "Bellandi|D'Agostini|Corvino|Della Torre|Fabbrini|Galvani|Marchesan|Orsolini|Pavesi|Rinaldoni",
    forms: "S.r.l.|S.p.A.|",
    dial: "+39",
  },
  {
    country: "Brazil",
    region: "Latin America",
    cities: "Recife Salvador Curitiba Belém",
    first: "Caio Iara Thiago Luana Davi Marina Otávio Beatriz Renan Jussara Cícero Moema",
    last: "Brandão|Cavalcanti|Peixoto|de Siqueira|Valadares|Rezende|Tavares|Guimarães|Pontes|do Amaral",
    forms: "Ltda|S/A|",
    dial: "+55",
  },
  {
    country: "United States",
    region: "North America",
    cities: "Providence Milwaukee Tacoma Savannah",
    first: "Delphine Marcus Odessa Grady Winona Theodore Leora Amos Junie Ellis Marguerite Booker",
    last: "Hargrove Castellano Whitlock Pemberton Okafor Lindqvist DeLuca Stroud Ambrose Yates McCready Fontenot",
    forms: "Inc.|LLC|Corp.|",
    dial: "+1",
  },
];

const INDUSTRIES: [name: string, kinds: string, titles: string][] = [
  [
    "Museums",
    "Museum of Salt|Harbour Museum|Textile Museum|Museum of Glass|Clock Museum|Museum of Nets|Ship Museum|Paper Museum|Museum of Maps|Ceramics Museum",
    "Registrar|Head of Registration|Loans Coordinator|Collections Manager|Head of Collections|Preventive Conservator|Conservator|Facilities Manager|Curator|Director|Head of Marketing|Education Officer|Shop Manager|Volunteer Coordinator",
  ],
  [
    "Archives",
    "City Archive|Regional Archive|Film Archive|Archive of Letters|Port Archive|Sound Archive|Photo Archive",
    "Archivist|Head of Archives|Records Manager|Conservator|Facilities Manager|Reading Room Assistant|Digitisation Lead|Head of Marketing",
  ],
  [
    "Libraries",
    "Reading House|City Library|Map Library|Abbey Library|Music Library|Print Library",
    "Head Librarian|Librarian|Special Collections Librarian|Facilities Manager|Conservator|Events Assistant|IT Manager",
  ],
  [
    "Galleries",
    "Gallery North|Print Gallery|Sculpture Hall|Light Gallery|Gallery of Looms",
    "Registrar|Gallery Manager|Art Handler|Director|Sales Associate|Exhibitions Curator",
  ],
  [
    "Logistics",
    "Crate & Carry|Harbour Freight|Fine Transport|Northern Movers",
    "Operations Manager|Warehouse Supervisor|Fleet Manager|Sales Director|Key Account Manager",
  ],
  [
    "Food production",
    "Cheese Works|Salt Mill|Fish House|Grain Store",
    "Quality Manager|Plant Manager|Warehouse Supervisor|Head of Marketing|Sales Director",
  ],
  [
    "Universities",
    "Institute of Craft|College of the Coast|School of Restoration",
    "Professor of Conservation|Laboratory Manager|Facilities Manager|Head of Collections|Student Assistant",
  ],
];
const INDUSTRY_SHARES = [0.34, 0.14, 0.16, 0.1, 0.08, 0.08, 0.11];
const MODIFIERS =
  "Old|New|Upper|Lower|East|West|Saint Clara's|Lantern|Blue Door|Quayside|Millrace|Foxglove|Linden|Granary|Lighthouse|Amber|Juniper|Kestrel|Hazel|Tidewater|Stonebridge|Marsh Lane|Three Bells|Windrose|Copper|Birch Hall|Otter|Heron|Saffron|Velvet|Ironwood|Meadow|Cobalt|Orchard|Seven Arches".split(
    "|",
  );
const SLOGANS = [
  "stories in thread",
  "since 1911",
  "keeping what matters",
  "open every day",
  "where the river turns",
];

const plain = (text: string) =>
  text
    .replace(/ø/gi, "o")
    .replace(/æ/gi, "ae")
    .replace(/ß/g, "ss")
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/[^a-z]/g, "");

const LOCAL = {
  "first.last": (f: string, l: string) => `${f}.${l}`,
  flast: (f: string, l: string) => f.slice(0, 1) + l,
  first: (f: string) => f,
  "f.last": (f: string, l: string) => `${f.slice(0, 1)}.${l}`,
  firstlast: (f: string, l: string) => f + l,
};

let made: { companies: DirectoryCompany[]; people: DirectoryPerson[] } | null = null;

/** Everybody, made at the first call. */
export function directory(seed = "quillwater-directory"): NonNullable<typeof made> {
  if (made) return made;
  const companies = inventCompanies(seed);
  const people: DirectoryPerson[] = [];
  const draw = seeded(seed, "people");
  const taken = new Set<string>();
  for (let nth = 0; people.length < PEOPLE; nth++) {
    const company = companies[nth % companies.length] as DirectoryCompany;
    const person = inventPerson(company, people.length, draw, taken);
    if (person) people.push(person);
  }
  made = { companies, people };
  return made;
}

function inventCompanies(seed: string): DirectoryCompany[] {
  const draw = seeded(seed, "companies");
  const domains = new Set<string>();
  const companies: DirectoryCompany[] = [];
  while (companies.length < COMPANIES) {
    const land = one(LANDS, draw);
    const industry = INDUSTRIES[shareOf(INDUSTRY_SHARES, draw())] as (typeof INDUSTRIES)[number];
    const city = one(land.cities.split(" "), draw);
    const bare = `${one(MODIFIERS, draw)} ${one(industry[1].split("|"), draw)}${draw() < 0.5 ? ` ${city}` : ""}`;
    const domain = `${bare.split(" ").map(plain).filter(Boolean).join("-")}.example`;
    if (domains.has(domain)) continue;
    domains.add(domain);
    const form = one(land.forms.split("|"), draw);
    companies.push({
      name: untidyCompany(`${draw() < 0.12 ? "The " : ""}${bare}${form ? ` ${form}` : ""}`, draw),
      domain,
      industry: industry[0],
      employees: Math.round(3 * 150 ** draw()),
      city,
      country: land.country,
      region: land.region,
      about: `${bare} in ${city}: ${industry[0].toLowerCase()}${draw() < 0.5 ? ", loans to other houses" : ""}${draw() < 0.4 ? ", climate-controlled storage" : ""}.`,
      pattern: one(
        ["first.last", "first.last", "first.last", "flast", "f.last", "first", "firstlast"] as const,
        draw,
      ),
    });
  }
  return companies;
}

function untidyCompany(name: string, draw: Draw): string {
  const luck = draw();
  if (luck < 0.12) return name.toUpperCase();
  if (luck < 0.2) return `${name} – ${one(SLOGANS, draw)}`;
  return luck < 0.24 ? name.toLowerCase() : name;
}

function inventPerson(
  company: DirectoryCompany,
  nth: number,
  draw: Draw,
  taken: Set<string>,
): DirectoryPerson | null {
  const land = LANDS.find(({ country }) => country === company.country) as Land;
  const first = one(land.first.split(" "), draw);
  const last = one(land.last.split(land.last.includes("|") ? "|" : " "), draw);
  const email = `${LOCAL[company.pattern](plain(first), plain(last))}@${company.domain}`;
  if (taken.has(email)) return null;
  taken.add(email);
  const titles = (
    INDUSTRIES.find(([name]) => name === company.industry) as (typeof INDUSTRIES)[number]
  )[2].split("|");
  const title = one(titles, draw);
  const hasLeft = draw() < 0.06;
  const inOneColumn = draw() < 0.07;
  const tidy = untidyName(first, last, draw);
  return {
    id: `p${nth + 1}`,
    name: `${tidy.first} ${tidy.last}`,
    firstName: inOneColumn ? `${tidy.first} ${tidy.last}` : tidy.first,
    lastName: inOneColumn ? "" : tidy.last,
    title: untidyTitle(title, company.name, draw),
    // A quarter have no address; some of the others are of people who have left.
    email: draw() < 0.25 ? "" : email,
    phone:
      draw() < 0.4
        ? `${land.dial} ${20 + Math.floor(draw() * 70)} ${1_000_000 + Math.floor(draw() * 8_999_999)}`
        : "",
    profile:
      draw() < 0.8
        ? `https://www.guild.example/people/${plain(first)}-${plain(last)}-${nth.toString(36)}/?ref=search`
        : "",
    company,
    trueEmail: hasLeft ? "" : email,
  };
}

function untidyName(first: string, last: string, draw: Draw): { first: string; last: string } {
  const luck = draw();
  if (luck < 0.1) return { first: first.toUpperCase(), last: last.toUpperCase() };
  if (luck < 0.15) return { first: first.toLowerCase(), last: last.toLowerCase() };
  if (luck < 0.19) return { first: `Dr. ${first}`, last };
  if (luck < 0.22) return { first, last: `${last}, PhD` };
  if (luck < 0.26) return { first: `${first} ${one(["🚀", "✨", "🏛️", "📚"], draw)}`, last };
  if (luck < 0.28) return { first: `${first} “${first.slice(0, 3)}”`, last };
  return luck < 0.3 ? { first, last: `${last} (on leave)` } : { first, last };
}

function untidyTitle(title: string, company: string, draw: Draw): string {
  const luck = draw();
  if (luck < 0.08) return title.toUpperCase();
  if (luck < 0.14) return `${title} at ${company}`;
  return luck < 0.18 ? `${title} | Lifelong learner` : title;
}
