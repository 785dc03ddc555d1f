/** Which column of a file is which field. */
export const FIELDS = [
  { name: "email", label: "Email address" },
  { name: "first_name", label: "First name" },
  { name: "last_name", label: "Last name" },
  { name: "full_name", label: "First and last name" },
  { name: "company", label: "Company" },
  { name: "company_domain", label: "Company's web domain" },
  { name: "title", label: "Job title" },
  { name: "city", label: "City" },
  { name: "country", label: "Country" },
  { name: "time_zone", label: "Time zone" },
  { name: "phone", label: "Phone" },
  { name: "profile", label: "Social profile" },
] as const;
export type FieldName = (typeof FIELDS)[number]["name"];

/** A column's use: one of the fields, a field of the list's own ("custom:budget"), or left out. */
export type ColumnUse = FieldName | `custom:${string}` | "skip";

const NAMES: Record<FieldName, string[]> = {
  email: [
    "email",
    "emailaddress",
    "mail",
    "workemail",
    "businessemail",
    "emailwork",
    "correo",
    "epost",
    "adressemail",
    "emailadresse",
  ],
  first_name: ["firstname", "first", "givenname", "forename", "vorname", "prenom", "nombre", "fornavn"],
  last_name: [
    "lastname",
    "last",
    "surname",
    "familyname",
    "nachname",
    "nom",
    "apellido",
    "apellidos",
    "etternavn",
  ],
  full_name: ["name", "fullname", "contact", "contactname", "person", "nomcomplet", "vollername", "navn"],
  company: [
    "company",
    "companyname",
    "organisation",
    "organization",
    "account",
    "employer",
    "institution",
    "firma",
    "entreprise",
    "empresa",
  ],
  company_domain: ["companydomain", "domain", "website", "web", "companywebsite", "url", "homepage"],
  title: ["title", "jobtitle", "position", "role", "function", "cargo", "poste"],
  city: ["city", "town", "locality", "ville", "ciudad", "stadt", "by"],
  country: ["country", "countrycode", "land", "pays", "pais"],
  time_zone: ["timezone", "tz", "zone"],
  phone: [
    "phone",
    "phonenumber",
    "telephone",
    "tel",
    "mobile",
    "directphone",
    "telefon",
    "telefone",
    "telefono",
  ],
  profile: ["profile", "profileurl", "socialprofile", "personprofile", "sociallink", "profil"],
};

const plain = (header: string) =>
  header
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/[^a-z0-9]/g, "");

/** "Annual budget (€)" becomes "annual_budget", a name that a merge field can have. */
export function customFieldName(header: string): string {
  const name = header
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "_")
    .replace(/^_+|_+$/g, "")
    .slice(0, 40);
  return /^[a-z]/.test(name) ? name : `field_${name || "x"}`;
}

/** What a header is compared and remembered by: its letters and digits. */
export const headerKey = plain;

/** What a column's values look like, for columns whose name says nothing; null if they look like nothing special. */
export type ContentGuess = (values: readonly string[]) => FieldName | null;

/**
 * Columns of our own export that tell of a state and not of the person. A file with all of them is such
 * an export, and they are left out when it comes back.
 */
export const STATE_HEADERS = ["Stage", "Address verdict", "Owner", "Lists"] as const;

/**
 * A use for each column: as it was used before, by its name, or by what its rows hold. Each field is
 * given out once; what is left becomes a field of the list's own.
 */
export function matchColumns(
  headers: readonly string[],
  rows: readonly (readonly string[])[],
  remembered: ReadonlyMap<string, ColumnUse> = new Map(),
  guess: ContentGuess = () => null,
): ColumnUse[] {
  const given = new Set<ColumnUse>();
  const give = (use: ColumnUse | null | undefined): ColumnUse | null => {
    if (!use || given.has(use)) return null;
    if (use !== "skip") given.add(use);
    return use;
  };
  const isOurs = STATE_HEADERS.every((header) => headers.includes(header));
  const uses = headers.map((header) => {
    const name = plain(header);
    return (
      give(remembered.get(name)) ??
      (isOurs && STATE_HEADERS.some((state) => state === header) ? "skip" : null) ??
      give(FIELDS.find(({ name: field }) => NAMES[field].includes(name))?.name)
    );
  });
  const values = (column: number) =>
    rows.map((row) => (row[column] ?? "").trim()).filter((value) => value !== "");
  return uses.map(
    (use, column): ColumnUse =>
      use ??
      give(guess(values(column))) ??
      (headers[column]?.trim() ? `custom:${customFieldName(headers[column])}` : "skip"),
  );
}
