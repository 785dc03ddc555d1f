/** The CRM's own page: its deals by their stage, its people, and what was noted of them. */
import type { Kind, Thing } from "./things.ts";

const escaped = (value: unknown) =>
  String(value ?? "").replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);
const nameOf = (person: Thing | undefined) => {
  const { first = "", last = "" } = (person?.name ?? {}) as { first?: string; last?: string };
  return `${first} ${last}`.trim() || String(person?.email ?? "nobody");
};
const MOST_SHOWN = 200;

export function crmPage(all: Record<Kind, Thing[]>): string {
  const here = (kind: Kind) => all[kind].filter(({ deleted }) => !deleted);
  const by = (kind: Kind) => new Map(all[kind].map((thing) => [thing.id, thing]));
  const [people, companies, stages] = [by("people"), by("companies"), here("deal-stages")];
  const choice = (name: string, value: unknown) =>
    `<select name="${name}">${stages.map(({ id, name }) => `<option value="${id}"${id === value ? " selected" : ""}>${escaped(name)}</option>`).join("")}</select>`;
  const deals = here("deals");
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Ledgerhouse</title>
<style>body{font:14px/1.45 Georgia,serif;max-width:70rem;margin:2rem auto;padding:0 1rem;color:#222}table{border-collapse:collapse;width:100%}td,th{text-align:left;padding:.2rem .6rem .2rem 0;border-bottom:1px solid #ddd;vertical-align:top}form{display:inline}</style>
<h1>Ledgerhouse</h1><p>The simulated CRM of the demo: another program, with its own people at work.</p>
<h2>${deals.length} deals</h2><table><tr><th>Deal<th>Person<th>Value<th>Stage</tr>${deals
    .slice(-MOST_SHOWN)
    .map(
      ({ id, name, person_id, value, stage_id }) =>
        `<tr><td>${escaped(name)}<td>${escaped(nameOf(people.get(String(person_id))))}<td>${escaped(value)}<td><form method="post" action="/page/deals/${id}">${choice("stage_id", stage_id)}<button>Move</button></form></tr>`,
    )
    .join("")}</table>
<h2>${here("people").length} people</h2><table><tr><th>Name<th>Address<th>Job title<th>Company<th>Status<th></tr>${here(
    "people",
  )
    .slice(-MOST_SHOWN)
    .map(
      (person) =>
        `<tr><td>${escaped(nameOf(person))}<td>${escaped(person.email)}<td><form method="post" action="/page/people/${person.id}"><input name="job_title" value="${escaped(person.job_title)}" aria-label="Job title of ${escaped(nameOf(person))}"><button>Save</button></form><td>${escaped(companies.get(String(person.company_id))?.name)}<td>${escaped(person.status)}<td><form method="post" action="/page/people/${person.id}"><button name="remove" value="1">Delete</button></form></tr>`,
    )
    .join("")}</table>
<h2>${here("activities").length} notes of what was done</h2><ul>${here("activities")
    .toReversed()
    .slice(0, MOST_SHOWN)
    .map(
      ({ at, kind, subject, person_id }) =>
        `<li>${escaped(at)} · ${escaped(kind)} · ${escaped(nameOf(people.get(String(person_id))))} · ${escaped(subject)}</li>`,
    )
    .join("")}</ul>`;
}
