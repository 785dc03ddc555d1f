/** A list of 300 rows as it comes out of other programs: made from a seed, so that it is the same each time. */
import { seeded } from "../core/random.ts";

const FIRST =
  "Anna Bruno Carla Dário Elin Frida Goran Hélène Ilse Jörg Katja Lars Mónica Nils Olga Pavel".split(" ");
const LAST =
  "Berg Castro Duval Ekholm Fischer Grønn Horvat Ibarra Jansen Kovač Lindner Moreau Novák Öberg".split(" ");
const HOUSES = "Nordkai Ribeira Telar Vallon Glasbläserei Sjöhuset Olivar Papelaria Marschland Kuppel".split(
  " ",
);
const FORMS = ["GmbH", "Ltd", "S.A.", "AB", "SARL", "Lda", "s.r.o.", ""];
const TITLES = ["REGISTRAR", "Head of Collections", "Mgr. Facilities", "Conservator | Speaker", "archivist"];

export const ROWS = 300;
/** Of these lines a quotation mark is never closed, and no address is to be found. */
export const BROKEN = 4;

/** The file as text; each kind of mess comes again every so many rows. */
export function messyList(): string {
  const random = seeded("messy list");
  const pick = <T>(all: readonly T[]): T => all[Math.floor(random() * all.length)] as T;
  const lines = ["Vorname;Surname;Work e-mail;Organisation;Function;City;Country"];
  for (let row = 0; row < ROWS; row++) {
    const [first, last, house] = [pick(FIRST), pick(LAST), pick(HOUSES)];
    const plain = (text: string) =>
      text.normalize("NFD").replace(/\p{M}/gu, "").replace(/ø/g, "o").toLowerCase();
    const address = `${plain(first)}.${plain(last)}${row}@${plain(house)}.example`;
    const mess = row % 25;
    const cells = [
      mess === 1 ? `Dr. ${first.toUpperCase()} 🚀` : first,
      mess === 2 ? `${last}, MBA` : last,
      {
        3: address.replace("@", " at "),
        4: `${address}, info@${plain(house)}.example`,
        5: "n/a",
        6: `<${address}>.`,
      }[mess] ?? address,
      `${mess === 7 ? house.toUpperCase() : house} ${pick(FORMS)}`.trim(),
      pick(TITLES),
      mess === 8 ? "PORTO" : "Porto",
      mess === 9 ? "Atlantis" : "Portugal",
    ];
    if (row < BROKEN * 25 && mess === 10) cells[3] = `"${house}`;
    if (mess === 11) cells.push("one cell too many");
    if (mess === 12) cells.length = 4;
    lines.push(cells.join(";"));
  }
  return `${lines.join("\r\n")}\r\n`;
}
