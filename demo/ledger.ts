/** What the sales team's CRM holds when the demo begins: people who are known here, at their companies, each with a deal. */
import { seeded } from "../core/random.ts";

export const LEDGER_TOKEN = "ledger-first-token";
export const LEDGER_DEALS = 40;

export interface LedgerPerson {
  email: string;
  first: string;
  last: string;
  title: string;
  city: string;
  country: string;
  stage: string;
  company: string;
  domain: string | null;
}

/** What their stages are called there. */
const STATUS: Record<string, string> = {
  new: "new",
  contacted: "contacted",
  in_conversation: "in talks",
  meeting_booked: "meeting",
  won: "customer",
  lost: "lost",
};
const STAGES = ["First talk", "Trial", "Offer made", "Won", "Lost"];
/** There somebody has another job title by now: Helga is asked. */
const RENAMED = [3, 17];

/** In the order in which a later one names an earlier one by "$" and its place; the saved filter first, then the stages. */
export function ledgerThings(
  people: readonly LedgerPerson[],
): { kind: string; body: Record<string, unknown> }[] {
  const draw = seeded("ledger");
  const things: { kind: string; body: Record<string, unknown> }[] = [
    { kind: "views", body: { name: "Loans pipeline", where: { segment: "loans" } } },
    ...STAGES.map((name) => ({ kind: "deal-stages", body: { name } })),
    { kind: "owners", body: { name: "Marta Quintela", email: "marta@quillwater.example" } },
    { kind: "owners", body: { name: "Helga Lund", email: "helga@quillwater.example" } },
    { kind: "views", body: { name: "Former customers", where: { segment: "former" } } },
  ];
  const companies = new Map<string, string>();
  const add = (kind: string, body: Record<string, unknown>) => `$${things.push({ kind, body }) - 1}`;
  for (const [nth, person] of people.entries()) {
    const { email, first, last, title, city, country, stage, company, domain } = person;
    const companyId = companies.get(company) ?? add("companies", { name: company, domain });
    companies.set(company, companyId);
    const personId = add("people", {
      ...{ segment: "loans", email, name: { first, last }, company_id: companyId, status: STATUS[stage] },
      job_title: RENAMED.includes(nth) ? `Senior ${title.toLowerCase()}` : title,
      address: { city, country },
      owner_id: `$${1 + STAGES.length}`,
    });
    const at = stage === "lost" ? 4 : stage === "won" ? 3 : Math.floor(draw() * 3);
    add("deals", {
      ...{ name: company, person_id: personId, company_id: companyId, stage_id: `$${1 + at}` },
      value: `${(8 + Math.floor(draw() * 40)) * 100}`,
    });
  }
  return things;
}
