/** What is known of a person: every field by its name in the program, and the one that it has in texts, files and columns. All are text, "" where nothing is known. */

export const FIELD_CODES = {
  firstName: "first_name",
  lastName: "last_name",
  email: "email",
  company: "company",
  companyDomain: "company_domain",
  title: "title",
  city: "city",
  country: "country",
  timeZone: "time_zone",
  language: "language",
  phone: "phone",
  profile: "profile",
} as const;
export type PersonField = keyof typeof FIELD_CODES;
export type FieldCode = (typeof FIELD_CODES)[PersonField];

/** What people call them. */
export const FIELD_WORDS: Record<PersonField, string> = {
  firstName: "First name",
  lastName: "Last name",
  email: "Email address",
  company: "Company",
  companyDomain: "Web domain",
  title: "Job title",
  city: "City",
  country: "Country",
  timeZone: "Time zone",
  language: "Language",
  phone: "Phone",
  profile: "Social profile",
};

export const PERSON_FIELDS = Object.keys(FIELD_CODES) as PersonField[];

const { company: _company, companyDomain: _domain, ...ownCodes } = FIELD_CODES;
/** Those that are the person's own; a company is set by who works there. */
export const OWN_CODES = ownCodes;
export type OwnField = keyof typeof OWN_CODES;

/** The field of a name in texts and files. */
export const fieldOfCode = (code: string): PersonField | undefined =>
  PERSON_FIELDS.find((field) => FIELD_CODES[field] === code);
