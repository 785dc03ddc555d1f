/** Which column of a file is which field. */
export const FIELDS = [
  { name: "email", label: "Email address" },
  { name: "first_name", label: "First name" },
  { name: "last_name", label: "Last name" },
  { name: "company", label: "Company" },
  { name: "company_domain", label: "Company's web domain" },
  { name: "title", label: "Job title" },
  { name: "city", label: "City" },
  { name: "country", label: "Country" },
  { name: "time_zone", label: "Time zone" },
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

/**
 * A use for each column: by its name, or, where no name says which holds the addresses, by what the
 * rows hold. Each field is given out once; what is left becomes a field of the list's own.
 */
export function matchColumns(headers: readonly string[], rows: readonly (readonly string[])[]): ColumnUse[] {
  const given = new Set<FieldName>();
  const uses = headers.map((header): ColumnUse | null => {
    const name = plain(header);
    const field = FIELDS.find(({ name: field }) => NAMES[field].includes(name) && !given.has(field));
    if (!field) return null;
    given.add(field.name);
    return field.name;
  });
  if (!given.has("email")) {
    const counts = headers.map(
      (_, column) => rows.filter((row) => /\S@\S+\.\S/.test(row[column] ?? "")).length,
    );
    const most = Math.max(...counts);
    const column = counts.indexOf(most);
    if (most > 0 && most >= rows.length / 2 && uses[column] === null) uses[column] = "email";
  }
  return uses.map(
    (use, column): ColumnUse =>
      use ?? (headers[column]?.trim() ? `custom:${customFieldName(headers[column])}` : "skip"),
  );
}
