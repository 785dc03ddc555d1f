/**
 * How names are spelled with the letters a to z, as addresses have them. Most letters have one usual
 * spelling, some have several, and a company keeps to one.
 */

/** The usual spelling first. Letters that are a base letter with an accent are not listed: they lose it. */
const SPELLINGS: Record<string, readonly string[]> = {
  ä: ["ae", "a"],
  ö: ["oe", "o"],
  ü: ["ue", "u"],
  ß: ["ss", "s"],
  ø: ["o", "oe"],
  å: ["a", "aa"],
  æ: ["ae", "a"],
  œ: ["oe", "o"],
  ł: ["l"],
  đ: ["d", "dj"],
  ð: ["d"],
  þ: ["th"],
  ı: ["i"],
  ħ: ["h"],
  ŋ: ["n", "ng"],
  ŧ: ["t"],
  ə: ["a", "e"],
  č: ["c", "ch"],
  ć: ["c", "ch"],
  š: ["s", "sh"],
  ş: ["s", "sh"],
  ș: ["s", "sh"],
  ž: ["z", "zh"],
  ç: ["c", "ch"],
  ñ: ["n", "ny"],
  ğ: ["g", "gh"],
  // Cyrillic, by ISO 9 and the ways of passports and habit.
  а: ["a"],
  б: ["b"],
  в: ["v", "w"],
  г: ["g", "h"],
  ґ: ["g"],
  д: ["d"],
  е: ["e", "ye"],
  ё: ["e", "yo", "io"],
  є: ["ye", "ie", "e"],
  ж: ["zh", "j", "z"],
  з: ["z"],
  и: ["i", "y"],
  і: ["i"],
  ї: ["i", "yi"],
  й: ["y", "i", "j", ""],
  к: ["k"],
  л: ["l"],
  м: ["m"],
  н: ["n"],
  о: ["o"],
  п: ["p"],
  р: ["r"],
  с: ["s"],
  т: ["t"],
  у: ["u"],
  ф: ["f"],
  х: ["kh", "h", "x"],
  ц: ["ts", "c", "tz"],
  ч: ["ch", "c"],
  ш: ["sh", "s"],
  щ: ["shch", "sch", "sh"],
  ъ: ["", "a"],
  ы: ["y", "i"],
  ь: [""],
  э: ["e"],
  ю: ["yu", "iu", "ju", "u"],
  я: ["ya", "ia", "ja", "a"],
  ј: ["j"],
  љ: ["lj"],
  њ: ["nj"],
  ћ: ["c"],
  ђ: ["dj", "d"],
  џ: ["dz"],
  ў: ["u", "w"],
  // Greek, by ELOT 743 and habit.
  α: ["a"],
  β: ["v", "b"],
  γ: ["g"],
  δ: ["d"],
  ε: ["e"],
  ζ: ["z"],
  η: ["i", "e", "h"],
  θ: ["th"],
  ι: ["i"],
  κ: ["k", "c"],
  λ: ["l"],
  μ: ["m"],
  ν: ["n"],
  ξ: ["x", "ks"],
  ο: ["o"],
  π: ["p"],
  ρ: ["r"],
  σ: ["s"],
  ς: ["s"],
  τ: ["t"],
  υ: ["y", "i", "u", "v", "f"],
  φ: ["f", "ph"],
  χ: ["ch", "h", "x"],
  ψ: ["ps"],
  ω: ["o"],
};

/** Where ä, ö and ü are letters of their own and lose their dots, and where ø and å are written out. */
const BARE = new Set("SE FI EE TR HU AZ SK TM KZ".split(" "));

/** Some programs leave out every letter that is not of a to z; nobody is guessed so unless the domain has shown it. */
const LEFT_OUT = "";

/** How letters are spelled, as far as it is known; a letter to its spelling. */
export type Letters = Readonly<Record<string, string>>;

export interface Spelling {
  text: string;
  /** The choices made where a letter had several. */
  letters: Letters;
}

/** More spellings of one name than this are not tried: names of many such letters would have thousands. */
const MOST = 48;

/**
 * The ways to spell a name in a to z and hyphens, the usual one first; none if it has a letter without a
 * usual spelling, such as Chinese ones. `known` are choices that a company is known to make; letters
 * that it has not shown follow those that it has.
 */
export function spellingsOf(name: string, known: Letters = {}, country = ""): Spelling[] {
  let spellings: Spelling[] = [{ text: "", letters: {} }];
  for (const letter of lettersOf(name)) {
    if (/[a-z-]/.test(letter)) {
      for (const spelling of spellings) spelling.text += letter;
      continue;
    }
    const usual = SPELLINGS[letter];
    if (!usual) return [];
    const ways = usual.includes(LEFT_OUT) ? usual : [...usual, LEFT_OUT];
    spellings = spellings
      .flatMap(({ text, letters }) => {
        const chosen = letters[letter];
        const order = chosen !== undefined ? [chosen] : ordered(letter, ways, known, country);
        return order.map((way) => ({
          text: text + way,
          letters: ways.length > 1 ? { ...letters, [letter]: way } : letters,
        }));
      })
      .slice(0, MOST);
  }
  return spellings.filter(({ text }) => /[a-z]/.test(text));
}

/** Small letters without the accents that are only accents; apostrophes and dots are left out, spaces are hyphens. */
function lettersOf(name: string): string[] {
  return Array.from(
    name
      .toLowerCase()
      .normalize("NFC")
      .replace(/[’'`´ʼ‘.]/g, ""),
    (letter) => {
      if (letter in SPELLINGS) return letter;
      if (/[\s‐–-]/.test(letter)) return "-";
      const bare = letter.normalize("NFD").replace(/\p{M}/gu, "");
      return bare;
    },
  ).flatMap((letter) => Array.from(letter));
}

function ordered(
  letter: string,
  ways: readonly string[],
  known: Letters,
  country: string,
): readonly string[] {
  const learned = known[letter];
  if (learned !== undefined) return [learned, ...ways.filter((way) => way !== learned)];
  const shown = [..."äöüøå"].flatMap((each) => known[each] ?? []);
  const short = shown.filter((way) => way.length === 1).length;
  const prefers = (length: "short" | "long") =>
    ways.toSorted((a, b) => {
      if (a === LEFT_OUT || b === LEFT_OUT) return a === b ? 0 : a === LEFT_OUT ? 1 : -1;
      return length === "short" ? a.length - b.length : b.length - a.length;
    });
  if ("äöüøå".includes(letter)) {
    if (shown.length > 0 && short * 2 !== shown.length)
      return prefers(short * 2 > shown.length ? "short" : "long");
    if (BARE.has(country) && "äöü".includes(letter)) return prefers("short");
    if (country === "DK") return prefers("long");
  }
  return ways;
}
