/** The people of the demo's two finished seasons: cellars, dairies and printing houses, which need to know how humid it is, too. */
import { type Draw, seeded } from "../core/random.ts";
import type { DemoPerson } from "./people.ts";

interface Country {
  code: string;
  zone: string;
  cities: string;
  first: string;
  last: string;
  kinds: string;
  names: string;
}

const COUNTRIES: Country[] = [
  {
    code: "PT",
    zone: "Europe/Lisbon",
    cities: "Viseu|Setúbal|Braga",
    first: "Amélia Tomás Filipa Gaspar Rosário Nuno Teresa Bernardo Alda Martim",
    last: "Abreu Bragança Caldeira Dantas Esteves Falcão Gouveia Horta Infante Jardim Lacerda Macedo Negrão Osório Paiva Queirós Rebelo Salema Távora Urbano Valente Xavier Zarco Arroja Benavente",
    kinds: "Adega|Queijaria|Tipografia|Fumeiro|Herdade",
    names:
      "do Cabeço|da Laje|do Sobral|da Ribeira|do Moinho|da Encosta|do Carvalhal|da Fonte|do Vale|da Serra",
  },
  {
    code: "ES",
    zone: "Europe/Madrid",
    cities: "Logroño|Murcia|Vigo",
    first: "Amparo Benito Casilda Desiderio Elvira Fabián Gloria Hilario Irene Julián",
    last: "Alarcón Barrientos Calatayud Delgadillo Echeverri Frutos Galindo Herreros Izquierdo Jarama Ledesma Manrique Navascués Olmedo Palomares Quiñones Recalde Salcedo Tordesillas Urquijo Valverde Yebra Zaldívar Alcoba Bustillo",
    kinds: "Bodega|Quesería|Imprenta|Secadero|Almazara",
    names:
      "del Cerro|de la Loma|del Encinar|de la Vega|del Molino|de la Umbría|del Robledal|de la Peña|del Soto|de la Cañada",
  },
  {
    code: "FR",
    zone: "Europe/Paris",
    cities: "Dijon|Angers|Aurillac",
    first: "Adèle Blaise Cyprien Domitille Étienne Flavie Gauthier Hortense Isaure Jérémie",
    last: "Allard Bonnefoy Chastel Durieux Esnault Fontanel Grandin Hardouin Imbert Jolivet Langlade Mercadier Nivelle Ormesson Pasquier Quesnel Ravenel Sauvage Tessier Urvoy Valadier Vernet Wattel Arnoux Bellanger",
    kinds: "Cave|Fromagerie|Imprimerie|Chai|Distillerie",
    names:
      "du Coteau|de la Combe|du Chêne|de la Roche|du Moulin|de la Source|du Plateau|de la Lande|du Verger|de la Grange",
  },
  {
    code: "DE",
    zone: "Europe/Berlin",
    cities: "Trier|Kempten|Zwickau",
    first: "Alma Bernd Clemens Dörte Egon Friederike Gunnar Hedda Immo Jette",
    last: "Achterberg Bollmann Cordes Dierks Ehlers Fehrmann Gottwald Hasselbring Isenburg Jessen Kaltwasser Lohmann Meinecke Niemann Oelschläger Pohlmann Quandt Rademacher Seiffert Tiedemann Uhlig Vollbrecht Wackernagel Zacharias Ahrendt",
    kinds: "Weinkellerei|Käserei|Druckhaus|Räucherei|Brennerei",
    names:
      "am Hang|Birkenhof|Untermühle|am Steg|Sonnenrain|Alte Kelter|Wiesengrund|am Anger|Tannenhöhe|Rosenegg",
  },
  {
    code: "GB",
    zone: "Europe/London",
    cities: "Hereford|Stroud|Kendal",
    first: "Ailsa Barnaby Clemency Dunstan Elspeth Fergus Gwendolen Hamish Imogen Jasper",
    last: "Ackroyd Bellamy Cotterill Dunmore Elphick Fothergill Grimshaw Hathersage Inskip Jellicoe Kirkbride Lumley Merriweather Norcross Oakshott Pettigrew Quarmby Rushworth Satterthwaite Thistlewood Underhill Varley Wetherby Yarrow Ashdown",
    kinds: "Copper Kettle|Long Barn|Three Elms|Millrace|Chalk Down",
    names: "Cellars|Dairy|Press|Smokehouse|Distillery|Cider House|Creamery|Print Works|Maltings|Orchard",
  },
  {
    code: "NL",
    zone: "Europe/Amsterdam",
    cities: "Zutphen|Goes|Hoorn",
    first: "Aafke Berend Cato Douwe Elske Folkert Geertje Hidde Ilonka Jelmer",
    last: "Aalders Boonstra Cramer Dijkema Elzinga Feenstra Gerritsma Haverkamp Idema Jorritsma Kloosterman Lammers Meppelink Nijboer Oosterhuis Pannekoek Roelofs Scheltema Tichelaar Uitterdijk Verbruggen Westerhof Ypma Zandstra Annema",
    kinds: "Wijnkelder|Kaasmakerij|Drukkerij|Rokerij|Stokerij",
    names: "De Oever|Het Hof|De Linde|De Kade|Het Zand|De Heuvel|De Brug|Het Bos|De Es|De Wal",
  },
];

/** One in five is the kind that needs it most. */
export const KEEN_TITLE = "Quality Manager";
const TITLES = [
  KEEN_TITLE,
  "Production Manager",
  "Owner",
  "Head of Operations",
  "Facilities Manager",
] as const;

const plain = (text: string) =>
  text.replaceAll("ø", "o").normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();

/** 1,500 people at 300 houses, no two of one name; the same for the same seed. */
export function inventSeasonPeople(seed: string): DemoPerson[] {
  return COUNTRIES.flatMap((country) => {
    const draw = seeded(seed, "season", country.code);
    const persons = shuffled(
      country.first
        .split(" ")
        .flatMap((first) => country.last.split(" ").map((last) => [first, last] as const)),
      draw,
    );
    const houses = country.kinds
      .split("|")
      .flatMap((kind) => country.names.split("|").map((name) => `${kind} ${name}`));
    const cities = country.cities.split("|");
    return persons.map(([firstName, lastName], nth): DemoPerson => {
      const company = houses[nth % houses.length] as string;
      const domain = `${plain(company).replace(/[^a-z]+/g, "-")}-${country.code.toLowerCase()}.example`;
      return {
        email: `${plain(firstName)}.${plain(lastName)}@${domain}`.replace(/[^a-z.@-]/g, ""),
        ...{ firstName, lastName, company, domain },
        title: TITLES[Math.floor(draw() * TITLES.length)] as string,
        city: cities[nth % cities.length] as string,
        country: country.code,
        zone: country.zone,
        ...{ galleries: "", profile: "", phone: "" },
      };
    });
  });
}

function shuffled<T>(items: T[], draw: Draw): T[] {
  return items
    .map((item) => [draw(), item] as const)
    .sort(([a], [b]) => a - b)
    .map(([, item]) => item);
}
