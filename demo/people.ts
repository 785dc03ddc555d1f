/** The demo's invented people and institutions, drawn from a seed. */
import Papa from "papaparse";
import { type Draw, seeded } from "../core/random.ts";

interface Region {
  country: string;
  cities: [name: string, zone: string][];
  first: string;
  last: string;
  kinds: string;
  names: string;
}

/** Kinds and names are put together as "kind name"; "~" joins without a space. */
const REGIONS: Region[] = [
  {
    country: "PT",
    cities: [
      ["Lisbon", "Europe/Lisbon"],
      ["Porto", "Europe/Lisbon"],
      ["Évora", "Europe/Lisbon"],
    ],
    first: "Benedita Teodoro Inês Duarte Leonor Vasco Matilde Afonso Clara Simão",
    last: "Vasques Moreira Sardinha Pestana Figueira Lobato Quaresma Teles Barroso Nóbrega",
    kinds: "Museu|Arquivo|Casa|Biblioteca",
    names: "da Maré|do Sal|das Redes|do Farol|da Cortiça|do Linho|da Ardósia",
  },
  {
    country: "DE",
    cities: [
      ["Hamburg", "Europe/Berlin"],
      ["Leipzig", "Europe/Berlin"],
      ["Bremen", "Europe/Berlin"],
    ],
    first: "Ilse Jonas Anke Henrik Frieda Lorenz Tomke Falk Greta Ruprecht",
    last: "Brandt Reuter Tietz Ohlsen Kestner Wiebe Dornbusch Harms Lindau Petersen",
    kinds: "Kaimuseum|Sammlung|Archiv|Stadtbibliothek",
    names: "Nord|am Speicher|Lindenhof|Alte Werft|Steinbrück|Moorland|Glashütte",
  },
  {
    country: "NO",
    cities: [
      ["Bergen", "Europe/Oslo"],
      ["Oslo", "Europe/Oslo"],
      ["Tromsø", "Europe/Oslo"],
    ],
    first: "Marit Eivind Solveig Håkon Ragnhild Torstein Ingunn Sverre Liv Aslak",
    last: "Solheim Nesse Brekke Fossum Tveit Haugland Myklebust Rød Lande Vik",
    kinds: "Fjordsamlingen|Museet|Arkivet|Biblioteket",
    names: "Ytre Sund|Nordlys|Klippfisk|Stavkirken|Trebåt|Skjærgård|Hvalfjord",
  },
  {
    country: "GB",
    cities: [
      ["Bangor", "Europe/London"],
      ["Leeds", "Europe/London"],
      ["Dundee", "Europe/London"],
    ],
    first: "Owain Harriet Callum Bronwen Edmund Isla Rhys Maud Alasdair Nell",
    last: "Pryce Hollins Drummond Fairley Cadwell Tarrant Mostyn Gilchrist Penrose Aldous",
    kinds: "Slate Coast|Mill Lane|Harbour|Old Signal",
    names: "Archive|Museum|Library|Gallery|Collection|Record Office|Reading Room",
  },
  {
    country: "FR",
    cities: [
      ["Lyon", "Europe/Paris"],
      ["Nantes", "Europe/Paris"],
      ["Rouen", "Europe/Paris"],
    ],
    first: "Capucine Bastien Ombeline Théo Margaux Aurélien Solène Gaspard Élodie Corentin",
    last: "Delmas Roussel Vauquelin Berthier Lacombe Maréchal Poirier Sablon Thierry Aubin",
    kinds: "Musée|Archives|Bibliothèque|Maison",
    names: "des Étoffes|du Vieux Port|de la Soie|des Horloges|du Verre|des Cartes|du Papier",
  },
  {
    country: "ES",
    cities: [
      ["Valencia", "Europe/Madrid"],
      ["Bilbao", "Europe/Madrid"],
      ["Cádiz", "Europe/Madrid"],
    ],
    first: "Jimena Íñigo Carmela Anselmo Rocío Fermín Lucía Gonzalo Nieves Emilio",
    last: "Arrieta Bermejo Cuenca Durango Espinar Fontán Garrido Ibarra Lozano Montoya",
    kinds: "Museo|Archivo|Biblioteca|Casa",
    names: "del Azulejo|de la Seda|del Puerto|de los Mapas|del Olivo|de la Imprenta|del Reloj",
  },
  {
    country: "NL",
    cities: [
      ["Utrecht", "Europe/Amsterdam"],
      ["Delft", "Europe/Amsterdam"],
    ],
    first: "Sanne Joost Fenna Ruben Marijke Thijs Lotte Wessel Hanneke Bram",
    last: "Terpstra Kuipers Hoekstra Brouwer Zijlstra Postma Veldman Dekker Wiersma Bakker",
    kinds: "Museum|Archief|Bibliotheek|Collectie",
    names: "Het Veen|De Sluis|Waterlinie|De Drukkerij|Tegelhuis|Polderland|De Werf",
  },
  {
    country: "BR",
    cities: [
      ["Recife", "America/Recife"],
      ["São Paulo", "America/Sao_Paulo"],
    ],
    first: "Caio Iara Thiago Luana Davi Marina Otávio Beatriz Renan Jussara",
    last: "Brandão Cavalcanti Peixoto Siqueira Valadares Rezende Tavares Guimarães Pontes Amaral",
    kinds: "Museu|Instituto|Acervo|Biblioteca",
    names: "do Rio Claro|da Rede|do Barro|das Marés|da Borracha|do Azulejo|da Seringueira",
  },
  {
    country: "US",
    cities: [
      ["Providence", "America/New_York"],
      ["Milwaukee", "America/Chicago"],
      ["Tacoma", "America/Los_Angeles"],
    ],
    first: "Delphine Marcus Odessa Grady Winona Theodore Leora Amos Junie Ellis",
    last: "Hargrove Castellano Whitlock Pemberton Okafor Lindqvist Delacroix Stroud Ambrose Yates",
    kinds: "Paper Harbour|Cedar Street|Atlas of Looms|North Pier",
    names: "Museum|Archive|Library|Collection|Gallery|Institute|Trust",
  },
  {
    country: "MX",
    cities: [
      ["Puebla", "America/Mexico_City"],
      ["Mérida", "America/Merida"],
    ],
    first: "Ximena Abel Itzel Rodrigo Paloma Ulises Renata Joaquín Citlali Ramiro",
    last: "Villaseñor Cantú Escobedo Zamudio Olvera Treviño Balderas Quintana Sandoval Armenta",
    kinds: "Museo|Archivo|Fototeca|Biblioteca",
    names: "del Telar|de la Plata|del Cacao|de la Cantera|del Barro Negro|del Henequén|de las Aguas",
  },
  {
    country: "JP",
    cities: [
      ["Kanazawa", "Asia/Tokyo"],
      ["Kobe", "Asia/Tokyo"],
    ],
    first: "Fumiko Jun Ayame Daichi Haruka Kenta Misaki Ren Sayuri Takumi",
    last: "Arai Ishikawa Morita Nakahara Okubo Sakamoto Tachibana Ueno Yamane Kitagawa",
    kinds: "Kirigami|Minato|Kawabe|Yukiguni",
    names: "Museum|Archive|Library|Craft Hall|Print Collection|Textile House|Folk Collection",
  },
  {
    country: "IN",
    cities: [
      ["Jaipur", "Asia/Kolkata"],
      ["Kochi", "Asia/Kolkata"],
    ],
    first: "Noor Aarav Meenakshi Kabir Lalita Rohan Sarita Vivaan Anjali Farhan",
    last: "Haddad Menon Chaudhary Pillai Rangan Sethi Kurien Basu Mirza Nambiar",
    kinds: "Indigo|Spice Wharf|Monsoon|Blue Pottery",
    names: "Museum|Archive|Library|Gallery|Textile Trust|Collection|Heritage House",
  },
];

const TITLES = [
  "Registrar",
  "Head of Registration",
  "Head of Collections",
  "Collections Manager",
  "Conservator",
  "Preventive Conservator",
  "Facilities Manager",
  "Archivist",
  "Head Librarian",
  "Loans Coordinator",
];

export interface DemoPerson {
  email: string;
  firstName: string;
  lastName: string;
  company: string;
  domain: string;
  title: string;
  city: string;
  country: string;
  zone: string;
  galleries: string;
  /** Of about half of them: where they are on the network for museum people. */
  profile: string;
  phone: string;
}

const plain = (text: string) =>
  text.replaceAll("ø", "o").normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();

const COMPANIES_PER_REGION = 15;
const SHARE_WITHOUT_FIRST_NAME = 0.035;

/** About 400 people at 180 institutions; the same for the same seed. */
export function inventPeople(seed: string): DemoPerson[] {
  const people: DemoPerson[] = [];
  for (const region of REGIONS) {
    const draw = seeded(seed, region.country);
    const names = shuffle(
      region.kinds.split("|").flatMap((kind) => region.names.split("|").map((name) => `${kind} ${name}`)),
      draw,
    ).slice(0, COMPANIES_PER_REGION);
    const persons = shuffle(
      region.first
        .split(" ")
        .flatMap((first) => region.last.split(" ").map((last) => [first, last] as const)),
      draw,
    );
    for (const company of names) {
      const domain = `${plain(company).replace(/[^a-z]+/g, "-")}.example`;
      const [city, zone] = one(region.cities, draw);
      const staff = 1 + Math.floor(draw() * 3.6);
      for (let nth = 0; nth < Math.min(staff, 4); nth++) {
        const [firstName, lastName] = persons.pop() as readonly [string, string];
        people.push({
          email: `${plain(firstName)}.${plain(lastName)}@${domain}`.replace(/[^a-z.@-]/g, ""),
          firstName: draw() < SHARE_WITHOUT_FIRST_NAME ? "" : firstName,
          lastName,
          company,
          domain,
          title: one(TITLES, draw),
          city,
          country: region.country,
          zone,
          galleries: String(2 + Math.floor(draw() * 18)),
          ...networkOf(region.country, firstName, lastName),
        });
      }
    }
  }
  return people;
}

/** Numbers that are given to nobody, by country. */
const PHONES: Record<string, string> = {
  PT: "+351 21 955 01",
  ES: "+34 91 555 01 ",
  FR: "+33 1 99 00 01 ",
  BR: "+55 11 5555 01",
};

/** Drawn apart, so that the rest of a person stays what it was. */
function networkOf(country: string, firstName: string, lastName: string): { profile: string; phone: string } {
  const draw = seeded("network", country, firstName, lastName);
  const name = `${plain(firstName)}-${plain(lastName)}`.replace(/[^a-z-]/g, "");
  const last = String(Math.floor(draw() * 90) + 10);
  const phone = PHONES[country];
  return {
    profile: draw() < 0.55 ? `https://vitrine.example/people/${name}` : "",
    phone: phone === undefined ? "" : phone + last,
  };
}

/** The people as a CSV file of the kind that a directory exports. */
export function peopleAsCsv(people: readonly DemoPerson[]): string {
  return Papa.unparse(
    people.map((person) => ({
      "First name": person.firstName,
      "Last name": person.lastName,
      "Email address": person.email,
      Organisation: person.company,
      Website: `https://www.${person.domain}`,
      "Job title": person.title,
      City: person.city,
      Country: person.country,
      "Time zone": person.zone,
      Galleries: person.galleries,
      Profile: person.profile,
      Phone: person.phone,
    })),
  );
}

function one<T>(from: readonly T[], draw: Draw): T {
  return from[Math.floor(draw() * from.length)] as T;
}

function shuffle<T>(items: T[], draw: Draw): T[] {
  for (let last = items.length - 1; last > 0; last--) {
    const other = Math.floor(draw() * (last + 1));
    [items[last], items[other]] = [items[other] as T, items[last] as T];
  }
  return items;
}
