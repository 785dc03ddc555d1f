/** Whether what somebody's company does is one of the wanted industries: by word stems and number, and by what the same trade is called elsewhere. */
import { fold } from "../fold.ts";

/** Words that say nothing of the trade. */
const BESIDE = new Set(
  "and of the for in industry industries sector sectors services service company companies business businesses manufacturing manufacturer manufacturers producer producers trade group und der die das branche industrie gewerbe wesen et des de la du le les secteur y e do da dos sector setor industria settore en van van sector i branza branche och og".split(
    " ",
  ),
);

/** The same trade in other words; the first is the usual one. All folded. */
const FAMILIES: readonly string[][] = [
  "museum museums museen musee musees museo museos museu museus musei muzeum muzea muzeum museet museer музей музеи",
  "gallery galleries art-gallery galerie galerien galerias galeria",
  "archive archives archiv archivo archivos arquivo archivio archivi archief",
  "library libraries bibliothek bibliotheken bibliotheque biblioteca bibliotecas bibliotheek",
  "pharma pharmaceutical pharmaceuticals pharmazie pharmaindustrie pharmaceutique farmaceutica farma farmacia life-science biopharma",
  "construction bau bauwesen baugewerbe building builder civil-engineering batiment btp construccion construcao edilizia costruzioni bouw bygg byggeri budownictwo stavebnictvi",
  "retail retailer retailers retailing einzelhandel detailhandel commerce-detail minorista varejo vendita-dettaglio detaljhandel handel-detaliczny",
  "wholesale grosshandel distribution mayorista atacado ingrosso groothandel",
  "brewery breweries brewing brauerei brauereien brasserie cerveceria cervejaria birrificio brouwerij bryggeri browar pivovar",
  "winery wineries wine weingut weinbau viticulture vino vinho vin wijn",
  "food lebensmittel nahrungsmittel agroalimentaire alimentacion alimentos alimentare voeding livsmedel spozywcza potraviny",
  "beverage beverages drink drinks getranke boissons bebidas bevande dranken",
  "bakery bakeries baker baecker backerei backereien boulangerie panaderia padaria panificio bakkerij",
  "logistic logistics logistik logistique logistica logistiek logistyka supply-chain freight spedition transportlogistik",
  "transport transportation verkehr transporte trasporti vervoer",
  "hospital hospitals krankenhaus krankenhauser klinik kliniken hopital hopitaux ospedale ospedali ziekenhuis szpital nemocnice",
  "healthcare health gesundheit gesundheitswesen sante salud saude sanita zorg zdrowie",
  "hospitality hotel hotels hotellerie gastgewerbe hosteleria hotelaria ospitalita horeca",
  "restaurant restaurants gastronomie gastronomy catering restauration restauracion ristorazione",
  "education bildung bildungswesen enseignement educacion educacao istruzione onderwijs utbildning uddannelse",
  "school schools schule schulen ecole ecoles escuela escola scuola skola skole",
  "university universities hochschule universitat universite universidad universidade universita",
  "bank banks banking bankwesen banque banca banco bancos bankwezen",
  "insurance versicherung versicherungen assurance assurances seguros seguro assicurazioni verzekering forsakring forsikring ubezpieczenia",
  "software saas softwareentwicklung logiciel logiciels",
  "it information-technology informationstechnik edv informatique informatica tic ict",
  "telecom telecoms telecommunication telecommunications telekommunikation telecomunicaciones",
  "automotive automobile automobil automobilindustrie automocion automotivo autoindustrie",
  "energy energie energia energi utilities energieversorgung",
  "agriculture farming farm farms landwirtschaft agricole agricultura agricoltura landbouw jordbruk landbrug rolnictwo zemedelstvi",
  "forestry forstwirtschaft forst sylviculture silvicultura skogsbruk",
  "chemical chemicals chemistry chemie chimie quimica chimica kemi",
  "engineering maschinenbau mechanical-engineering ingenieurwesen ingenierie ingenieria engenharia ingegneria",
  "printing print druck druckerei imprimerie imprenta grafica tipografia drukkerij",
  "textile textiles textil mode fashion apparel clothing bekleidung habillement moda",
  "furniture mobel meubles muebles moveis mobili meubelen",
  "real-estate realestate property immobilien immobilier inmobiliaria imobiliario immobiliare vastgoed fastigheter ejendomme",
  "legal law law-firm rechtsanwalt rechtsanwalte kanzlei avocats abogados advocacia avvocati advocaten",
  "accounting accountancy steuerberatung comptabilite contabilidad contabilidade contabilita boekhouding",
  "consulting consultancy beratung unternehmensberatung conseil consultoria consulenza advies",
  "nonprofit non-profit ngo charity charities verein stiftung association fondation fundacion fundacao fondazione",
  "government public-administration verwaltung offentliche-verwaltung administration-publique administracion-publica",
  "tourism travel tourismus tourisme turismo toerisme",
  "media medien medias medios verlag publishing publisher publishers edition editorial editora editoria uitgeverij",
].map((line) => line.split(" ").map((word) => word.replaceAll("-", " ")));

const FAMILY_OF = new Map(
  FAMILIES.flatMap((words) => words.map((word) => [stemmed(word), words[0] as string] as const)),
);

/** Without an English ending of number: breweries and brewery, museums and museum. */
function stem(word: string): string {
  if (/ies$/.test(word) && word.length > 5) return `${word.slice(0, -3)}y`;
  if (/(?:ss|us|is)$/.test(word) || word.length < 4) return word;
  return word.replace(/(?<=(?:ch|sh|x|z))es$|s$/, "");
}
function stemmed(text: string): string {
  return text.split(" ").map(stem).join(" ");
}

/** The parts of an industry's name, each as its stems, in the words of its family: "Food & Beverages" are two. */
function partsOf(industry: string): string[][] {
  return fold(industry)
    .split(/\s*(?:[&,/;|+]|\band\b|\bund\b|\bet\b|\by\b|\be\b|\ben\b|\boch\b|\bog\b)\s*/)
    .map((part) => {
      const plain = stemmed(part.replace(/[^\p{L}\p{N}]+/gu, " ").trim());
      const family = FAMILY_OF.get(plain);
      if (family) return [family];
      const words = plain.split(" ").filter((word) => word !== "" && !BESIDE.has(word));
      return words.map((word) => FAMILY_OF.get(word) ?? word);
    })
    .filter((words) => words.length > 0);
}

/** Whether one of the wanted industry's parts stands, with all of its words, in a part of what the company does. */
export function isIndustry(wanted: string, has: string): boolean {
  const parts = partsOf(has);
  return partsOf(wanted).some((asked) => parts.some((part) => asked.every((word) => part.includes(word))));
}
