/** Invented people in numbers, as untidy as exports are. */
import { seeded } from "../core/random.ts";

export interface BenchPerson {
  first: string;
  last: string;
  email: string;
  company: string;
  website: string;
  title: string;
  city: string;
  country: string;
  phone: string;
  rooms: string;
}

const FIRST =
  "Ilse Jonas Anke Henrik Frieda Lorenz Tomke Falk Greta Ruprecht Marit Eivind Solveig Torstein".split(" ");
const LAST =
  "Brandt Reuter Tietz Ohlsen Kestner Wiebe Dornbusch Harms Lindau Petersen Solheim Nesse Brekke".split(" ");
const PLACES = [
  ["Hamburg", "Germany"],
  ["Oslo", "Norway"],
  ["Lisbon", "Portugal"],
  ["Leeds", "United Kingdom"],
] as const;
const TITLES = ["Registrar", "HEAD OF COLLECTIONS", "Conservator", "collections mgr", "Archivist"];
const SYLLABLES = "ba de fi go ku la me ni po ru sa te vi wo xa yo ze".split(" ");

/** A word that stands for a number, so that no two houses are called alike. */
function word(nth: number): string {
  let text = "";
  for (let left = nth + 17; left > 0; left = Math.floor(left / 17)) text += SYLLABLES[left % 17];
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** `count` different people at a third as many companies; the same for the same count. */
export function inventRows(count: number): BenchPerson[] {
  const draw = seeded("bench", String(count));
  const companies = Math.ceil(count / 3);
  return Array.from({ length: count }, (_, nth) => {
    const house = word(nth % companies);
    const first = FIRST[nth % FIRST.length] as string;
    const last = `${LAST[Math.floor(nth / 7) % LAST.length]}${word(nth).toLowerCase()}`;
    const [city, country] = PLACES[nth % PLACES.length] as (typeof PLACES)[number];
    const luck = draw();
    return {
      first:
        luck < 0.1 ? first.toUpperCase() : luck < 0.14 ? `${first} 🚀` : luck < 0.17 ? `Dr. ${first}` : first,
      last: luck < 0.1 ? last.toUpperCase() : last,
      email: `${first}.${last}.${nth}@${house}-museum.example`.toLowerCase(),
      company: draw() < 0.3 ? `${house} Museum GmbH` : `${house} Museum`,
      website: `https://www.${house.toLowerCase()}-museum.example/visit`,
      title: TITLES[nth % TITLES.length] as string,
      city,
      country,
      phone: draw() < 0.3 ? `+49 40 ${1_000_000 + nth}` : "",
      rooms: String(nth % 40),
    };
  });
}
